/**
 * Nodes: anything with a transform. A node's local transform is its rest transform followed by its channels:
 *
 *   translation = rest.translation + (tx, ty, tz)      cm, in the parent's axes
 *   rotation    = rest.rotation · euler(rx, ry, rz)    degrees, in the node's order
 *   scale       = rest.scale × (sx, sy, sz)
 *
 * Channels that a node lacks are at rest. What a channel is called says of what kind it is.
 */
import type { EulerOrder } from '../math/euler.ts';

export type Vector = readonly [number, number, number];
export type Turn = readonly [number, number, number, number];

export const NODE_KINDS = ['joint', 'control', 'goal', 'prop', 'camera'] as const;
export type NodeKind = (typeof NODE_KINDS)[number];

export const SIDES = ['left', 'right', 'centre'] as const;
export type Side = (typeof SIDES)[number];

export const PARTS = ['head', 'torso', 'arm', 'hand', 'leg', 'extra', 'prop', 'root'] as const;
export type BodyPart = (typeof PARTS)[number];

export interface Rest {
  readonly translation: Vector;
  readonly rotation: Turn;
  readonly scale: Vector;
}

/** One of the simple rounded solids that a figure is drawn from, in the node's own axes, cm. */
export type Solid =
  | {
      readonly kind: 'capsule';
      readonly from: Vector;
      readonly to: Vector;
      readonly radiusFrom: number;
      readonly radiusTo: number;
      readonly colour: string;
    }
  | {
      readonly kind: 'ellipsoid';
      readonly centre: Vector;
      readonly radii: Vector;
      readonly colour: string;
    }
  | { readonly kind: 'box'; readonly centre: Vector; readonly size: Vector; readonly colour: string };

export interface Node {
  /** Unique in the shot; the first half of a channel's address. */
  readonly id: string;
  readonly parent: string | null;
  readonly kind: NodeKind;
  readonly rest: Rest;
  readonly order: EulerOrder;
  /** Names of its channels, in the order in which they are listed and written. */
  readonly channels: readonly string[];
  readonly side: Side;
  /** The node that mirrors it, or null; centre nodes mirror themselves. */
  readonly pair: string | null;
  /** Set by hand: the pair takes each channel with this sign. Left out, a flip reflects the rest pose. */
  readonly flipSigns?: Readonly<Record<string, 1 | -1>>;
  /** Names of channels that choose and are no quantities, set by hand beside those that relations name. */
  readonly choices?: readonly string[];
  readonly part: BodyPart;
  readonly character: string | null;
  readonly solids: readonly Solid[];
}

export const NO_TURN: Turn = [0, 0, 0, 1];
export const AT_REST: Rest = { translation: [0, 0, 0], rotation: NO_TURN, scale: [1, 1, 1] };

/** The channels that place a node, in the order of a rig's slots. */
export const TRANSFORM: readonly string[] = ['tx', 'ty', 'tz', 'rx', 'ry', 'rz', 'sx', 'sy', 'sz'];

export const CHANNEL_KINDS = ['position', 'rotation', 'scale', 'other'] as const;
export type ChannelKind = (typeof CHANNEL_KINDS)[number];

const KIND_BY_LETTER: Record<string, ChannelKind> = { t: 'position', r: 'rotation', s: 'scale' };

/** The kind of a channel by its name: `tx` position, `rx` rotation, `sx` scale, all others `other`. */
export function channelKind(name: string): ChannelKind {
  return /^[trs][xyz]$/.test(name) ? KIND_BY_LETTER[name[0]!]! : 'other';
}

/** The value of a channel that has no curve: all of a relation holds until it is keyed otherwise. */
export function restValue(name: string): number {
  return channelKind(name) === 'scale' || FOLLOWS.test(name) ? 1 : 0;
}

/** How much of a relation holds is said by a channel of this name, and a number where there are more. */
export const FOLLOW = 'follow';
const FOLLOWS = /^follow[0-9]*$/;

/** The unit that people read behind a value of the channel. */
export function unitOf(name: string): string {
  return { position: 'cm', rotation: '°', scale: '×', other: '' }[channelKind(name)];
}
