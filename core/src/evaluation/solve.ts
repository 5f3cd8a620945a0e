/**
 * From a wish to what must be keyed: the one solver behind stage handle, arc beads, value fields and the edits that lay poses.
 *
 * First the wish becomes channel values that would show it (`shownValues`): a control that has positions is moved; the end of a limb
 * under IK moves its goal; anything else is turned at its parent, as far as its distance from that allows. Then the layers are
 * gone through from the top down to what the layer must hold (`solve`).
 */
import { eulerFromQuat, quatFromEuler } from '../math/euler.ts';
import type { Quaternion, Triple } from '../math/euler.ts';
import { conjugate, multiply, rotationBetween, unit } from '../math/quaternion.ts';
import type { Rig } from '../rig/rig.ts';
import { placeOnSeat, seatOf } from '../rig/pose.ts';
import type { WorldPose } from '../rig/pose.ts';
import { kindOf } from '../layers/kinds.ts';
import type { Answers, Blocked, Want } from '../layers/layer.ts';
import type { Signals } from '../layers/signal.ts';
import { contextOf } from './context.ts';
import { placeIn, stackOf, valuesAt, worldAt } from './evaluation.ts';
import type { Level } from './evaluation.ts';
import { rigOf } from '../document/shot.ts';
import type { ChannelId, Shot } from '../document/shot.ts';

/** Where IK counts for more than FK. */
const IK_FROM = 0.5;

/** What shall be seen at a frame. */
export type Wish =
  /** Channels show these values. */
  | { readonly kind: 'values'; readonly values: Readonly<Record<ChannelId, number>> }
  /** The node's origin lies there, cm in the world. */
  | { readonly kind: 'place'; readonly node: string; readonly place: Triple }
  /** The node has this orientation in the world. */
  | { readonly kind: 'turn'; readonly node: string; readonly turn: Quaternion };

export interface Solution {
  /** What the layer must hold, by channel: a value and the frame at which it is keyed; more channels than were asked for where rotations are composed. */
  readonly keys: ReadonlyMap<ChannelId, Want>;
  /** Channels that show nothing of the layer, since something above covers it or its weight is 0. */
  readonly hidden: readonly ChannelId[];
  /** Channels whose layer would have to turn farther than half a turn at its weight. */
  readonly beyond: readonly ChannelId[];
  /** Channels under a layer that makes of them what depends on other frames too, by the name of that layer. */
  readonly blocked: ReadonlyMap<string, readonly ChannelId[]>;
  readonly locked: readonly ChannelId[];
  readonly unknown: readonly ChannelId[];
}

/** What must be keyed on the base (`layer` null) or on a layer so that the wish shows at a frame on top of all layers. */
export function solve(shot: Shot, layer: string | null, frame: number, wish: Wish): Solution {
  const rig = rigOf(shot);
  const locks = new Set(shot.locked);
  const wishes = shownValues(shot, frame, wish);
  const ids = Object.keys(wishes);
  const wanted = new Map<number, Want>();
  for (const id of ids) {
    const index = rig.channelIndex(id);
    if (index >= 0 && !locks.has(id)) wanted.set(index, { frame, value: wishes[id]! });
  }
  const keys = new Map<ChannelId, Want>();
  const left: Record<'hidden' | 'beyond', ChannelId[]> = { hidden: [], beyond: [] };
  const blocked = new Map<string, ChannelId[]>();
  const { solved, refused } = descend(shot, layer, wanted);
  for (const [c, want] of solved) if (!locks.has(rig.channels[c]!.id)) keys.set(rig.channels[c]!.id, want);
  for (const [c, { why, by }] of refused) {
    const { id } = rig.channels[c]!;
    if (locks.has(id)) continue;
    if (why !== 'blocked') left[why].push(id);
    else blocked.set(by, [...(blocked.get(by) ?? []), id]);
  }
  return {
    keys,
    ...left,
    blocked,
    locked: ids.filter((id) => locks.has(id)),
    unknown: ids.filter((id) => rig.channelIndex(id) < 0),
  };
}

export interface Descent {
  readonly solved: ReadonlyMap<number, Want>;
  /** Why a channel cannot be had, and the name of the layer that says so. */
  readonly refused: ReadonlyMap<number, { readonly why: Blocked; readonly by: string }>;
}

/** Goes from what shall show on top, by channel index, down to what the layer (null is the base) must hold. */
export function descend(shot: Shot, id: string | null, asked: ReadonlyMap<number, Want>): Descent {
  const { levels, top } = stackOf(shot);
  const context = contextOf(shot);
  const at = levels.findIndex(({ layer }) => layer.id === id);
  const refused = new Map<number, { why: Blocked; by: string }>();
  if (id !== null && (at < 0 || !kindOf(levels[at]!.layer)!.hold)) {
    for (const c of asked.keys()) refused.set(c, { why: 'hidden', by: '' });
    return { solved: new Map(), refused };
  }
  let wants = withTogether(shot, levels.slice(Math.max(at, 0)), id, asked, top);
  const take = (answers: Answers, by: string) => {
    const next = new Map<number, Want>();
    for (const [c, answer] of answers) {
      if (typeof answer === 'string') refused.set(c, { why: answer, by });
      else next.set(c, answer);
    }
    wants = next;
  };
  for (const { layer, below } of levels.slice(at + 1).reverse()) {
    const { under } = kindOf(layer)!;
    take(under ? under(layer, wants, below, context) : allBlocked(wants), layer.name);
  }
  const target = levels[at];
  if (target)
    take(kindOf(target.layer)!.hold!(target.layer, wants, target.below, context), target.layer.name);
  return { solved: wants, refused };
}

const allBlocked = (wants: ReadonlyMap<number, Want>): Answers =>
  new Map([...wants.keys()].map((c) => [c, 'blocked']));

/** What is wanted, and beside it the present values of those channels that some layer works out together with it. */
function withTogether(
  shot: Shot,
  levels: readonly Level[],
  held: string | null,
  asked: ReadonlyMap<number, Want>,
  top: Signals,
): ReadonlyMap<number, Want> {
  const rig = rigOf(shot);
  const wants = new Map(asked);
  for (const { layer } of levels) {
    const { together } = kindOf(layer)!;
    if (!together) continue;
    for (const [c, { frame }] of asked) {
      const slots = together(layer, rig, rig.channels[c]!.node, layer.id === held);
      if (!slots.includes(c)) continue;
      for (const slot of slots) if (!wants.has(slot)) wants.set(slot, { frame, value: top[slot]!.at(frame) });
    }
  }
  return wants;
}

/** The values by channel that show the wish; empty where nothing of the rig can bring it about. */
export function shownValues(shot: Shot, frame: number, wish: Wish): Readonly<Record<ChannelId, number>> {
  switch (wish.kind) {
    case 'values':
      return wish.values;
    case 'place':
      return placed(shot, frame, wish.node, wish.place);
    case 'turn':
      return turnedItself(shot, frame, wish.node, wish.turn);
  }
}

function placed(shot: Shot, frame: number, node: string, place: Triple): Record<ChannelId, number> {
  const rig = rigOf(shot);
  const i = rig.indexOf(node);
  const pose = worldAt(shot, frame);
  const values = valuesAt(shot, frame);
  const chain = rig.chains.find(({ end, blend }) => end === i && (blend < 0 || values[blend]! >= IK_FROM));
  const driver = chain ? moverOf(rig, chain.target) : i;
  if (driver >= 0 && canMove(rig, driver)) {
    const [x, y, z] = placeIn(pose, i);
    const at = placeIn(pose, driver);
    return moved(rig, pose, driver, [at[0] + place[0] - x, at[1] + place[1] - y, at[2] + place[2] - z]);
  }
  return turned(rig, pose, values, i, place);
}

const canMove = (rig: Rig, i: number) =>
  ['tx', 'ty', 'tz'].every((name) => rig.nodes[i]!.channels.includes(name));

/** The node itself, or the nearest one above it that can be moved; −1 where there is none. */
function moverOf(rig: Rig, from: number): number {
  let i = from;
  while (i >= 0 && !canMove(rig, i)) i = rig.parents[i]!;
  return i;
}

/** Positions against the rest pose that put a node at a place in the world. */
function moved(rig: Rig, pose: WorldPose, i: number, place: Triple): Record<ChannelId, number> {
  const { id, rest } = rig.nodes[i]!;
  const local = placeOnSeat(seatOf(rig, pose, i), place);
  return Object.fromEntries(
    ['tx', 'ty', 'tz'].map((name, axis) => [`${id}.${name}`, local[axis]! - rest.translation[axis]!]),
  );
}

/** The angles of the node's own rotation channels that give it an orientation in the world. */
function turnedItself(shot: Shot, frame: number, id: string, turn: Quaternion): Record<ChannelId, number> {
  const rig = rigOf(shot);
  const i = rig.indexOf(id);
  const values = valuesAt(shot, frame);
  const { rest, order, channels } = rig.nodes[i]!;
  const local = multiply(conjugate(seatOf(rig, worldAt(shot, frame), i).turn), turn);
  const near = ROTATIONS.map((name) => values[rig.channelIndex(`${id}.${name}`)] ?? 0);
  const angles = eulerFromQuat(unit(multiply(conjugate(rest.rotation), local)), order, near);
  return Object.fromEntries(
    ROTATIONS.flatMap((name, axis) =>
      channels.includes(name) ? [[`${id}.${name}`, angles[axis]!] as const] : [],
    ),
  );
}

const ROTATIONS = ['rx', 'ry', 'rz'];

/** The nearest joint above a node that turns about all its axes; −1 where there is none. */
export function turningJointAbove(rig: Rig, i: number): number {
  let joint = rig.parents[i]!;
  while (joint >= 0 && !ROTATIONS.every((name) => rig.nodes[joint]!.channels.includes(name)))
    joint = rig.parents[joint]!;
  return joint;
}

/** The nearest turning joint above, turned so that the node lies in the direction of the place. */
function turned(
  rig: Rig,
  pose: WorldPose,
  values: Float64Array,
  i: number,
  place: Triple,
): Record<ChannelId, number> {
  const joint = turningJointAbove(rig, i);
  if (joint < 0) return {};
  // Seen from what carries the joint, so that scales above it do not bend the way there.
  const seat = seatOf(rig, pose, joint);
  const seen = (at: Triple) => placeOnSeat(seat, at);
  const from = seen(placeIn(pose, joint));
  const direction = (to: Triple): Triple | null => {
    const way = [0, 1, 2].map((axis) => seen(to)[axis]! - from[axis]!) as Triple;
    const length = Math.hypot(...way);
    return length < 1e-9 ? null : (way.map((part) => part / length) as Triple);
  };
  const [a, b] = [direction(placeIn(pose, i)), direction(place)];
  if (!a || !b) return {};
  const { id, rest, order } = rig.nodes[joint]!;
  const near = ROTATIONS.map((name) => values[rig.channelIndex(`${id}.${name}`)]!) as Triple;
  const present: Quaternion = [0, 0, 0, 1];
  quatFromEuler(present, 0, ...near, order);
  const turn = multiply(rotationBetween(a, b), multiply(rest.rotation, present));
  const angles = eulerFromQuat(unit(multiply(conjugate(rest.rotation), turn)), order, near);
  return Object.fromEntries(ROTATIONS.map((name, axis) => [`${id}.${name}`, angles[axis]!]));
}
