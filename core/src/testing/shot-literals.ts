/** Small shots for tests, written so that their keys can be read at a glance. */
import { SEGMENT, TANGENT } from '../curve/curve.ts';
import type { Curve, TangentKind } from '../curve/curve.ts';
import { buildCurve } from '../curve/rebuild.ts';
import { AT_REST } from '../rig/node.ts';
import type { Node } from '../rig/node.ts';
import { pairNames } from '../rig/sides.ts';
import { NOTHING } from '../document/selection.ts';
import type { Selection } from '../document/selection.ts';
import { constantCurve, newShot, withCurves } from '../document/shot.ts';
import type { FrameRange } from '../base/frame-range.ts';
import { kindOf } from '../layers/kinds.ts';
import type { Layer, LayerRange } from '../layers/layer.ts';
import type { ChannelId, Shot } from '../document/shot.ts';

/** `[frame, value, frame, value, …]` as a curve. */
export function curve(keys: readonly number[], kind: TangentKind = 'smooth'): Curve {
  return buildCurve(keys.length / 2, (columns) => {
    for (let i = 0; i < keys.length / 2; i += 1) {
      columns.times[i] = keys[2 * i]!;
      columns.values[i] = keys[2 * i + 1]!;
    }
    columns.tangentsIn.fill(TANGENT[kind]);
    columns.tangentsOut.fill(TANGENT[kind]);
  });
}

/** A straight-line curve with a key on each frame, or every `step` frames: what a capture is. */
export const denseCurve = (values: readonly number[], step = 1): Curve =>
  buildCurve(values.length, (columns) => {
    values.forEach((value, i) => {
      columns.times[i] = i * step;
      columns.values[i] = value;
    });
    columns.segments.fill(SEGMENT.linear);
    columns.tangentsIn.fill(TANGENT.linear);
    columns.tangentsOut.fill(TANGENT.linear);
  });

/** `time:value` of every key, for comparing at a glance. */
export function keysOf(of: Curve): string {
  return Array.from(of.times, (time, row) => `${time}:${Math.round(of.values[row]! * 1e6) / 1e6}`).join(' ');
}

const CHANNELS = ['tx', 'ty', 'tz', 'rx', 'ry', 'rz'];

/** hips with a left and a right arm of two joints; no solids. */
export function puppetNodes(): Node[] {
  const plans: [string, string | null, [number, number, number]][] = [
    ['hips', null, [0, 90, 0]],
    ['arm_l', 'hips', [20, 50, 0]],
    ['hand_l', 'arm_l', [30, 0, 0]],
    ['arm_r', 'hips', [-20, 50, 0]],
    ['hand_r', 'arm_r', [-30, 0, 0]],
  ];
  const pairs = pairNames(plans.map(([id]) => id));
  return plans.map(([id, parent, translation]) => ({
    id,
    parent,
    kind: 'joint',
    rest: { ...AT_REST, translation },
    order: id.startsWith('arm') ? 'zyx' : 'xyz',
    channels: CHANNELS,
    ...pairs.get(id)!,
    part: 'arm',
    character: 'puppet',
    solids: [],
  }));
}

/** The puppet with these curves over frames 0 to 24. */
export function puppet(curves: Readonly<Record<ChannelId, Curve>> = {}): Shot {
  const bare = newShot('Puppet', puppetNodes(), [], { numerator: 24, denominator: 1 }, { start: 0, end: 24 });
  const shot = { ...bare, characters: [{ id: 'puppet', name: 'Puppet' }] };
  return withCurves(shot, null, new Map(Object.entries(curves)));
}

/** An offset pass, unless it says otherwise. */
export function pass(
  id: string,
  {
    rotations = 'channels',
    range = null,
    ...more
  }: Partial<Omit<Layer, 'range'>> & {
    readonly rotations?: 'channels' | 'orientations';
    readonly range?: FrameRange | LayerRange | null;
  } = {},
): Layer {
  const kind = more.kind ?? 'offset';
  return {
    id,
    name: id,
    kind: 'offset',
    colour: 0,
    members: [],
    muted: false,
    solo: false,
    locked: false,
    weight: constantCurve(1),
    channels: null,
    range: range && withRamps(range),
    settings: kind === 'offset' || kind === 'replace' ? { rotations } : {},
    curves: [],
    ...more,
  };
}

const withRamps = (range: FrameRange | LayerRange): LayerRange => {
  const { rampIn, rampOut } = { rampIn: 0, rampOut: 0, ...range };
  return { start: range.start, end: range.end, rampIn, rampOut };
};

/** A live filter with its usual settings but for those given. */
export function filter(
  kind: string,
  members: readonly string[],
  settings: object = {},
  more: Partial<Omit<Layer, 'range' | 'settings'>> & { readonly range?: FrameRange | LayerRange | null } = {},
): Layer {
  const given = kindOf({ kind })?.settings.parse(settings) ?? { ...settings };
  return { ...pass(more.id ?? kind, { ...more, kind, members }), settings: given };
}

export const choose = (more: Partial<Selection>): Selection => ({ ...NOTHING, ...more });

/** 24 a second. */
export const RATE = { numerator: 24, denominator: 1 };

/** A joint that nothing is drawn of. */
export const bareNode = (id: string, parent: string | null, more: Partial<Node> = {}): Node => ({
  ...{ id, parent, kind: 'joint', order: 'xyz', side: 'centre', pair: null, part: 'arm', character: null },
  ...{ rest: AT_REST, channels: ['tx', 'ty', 'tz', 'rx', 'ry', 'rz'], solids: [] },
  ...more,
});
