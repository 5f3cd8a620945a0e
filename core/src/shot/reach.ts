/**
 * Bringing a point of a figure to a place at a frame: which channels take which values. A control that has positions is moved; the
 * end of a limb under IK moves its goal; anything else is turned at its parent, as far as its distance from that allows.
 */
import { eulerFromQuat } from '../math/euler.ts';
import type { Quaternion, Triple } from '../math/euler.ts';
import { conjugate, multiply, rotationBetween, unit } from '../math/quaternion.ts';
import type { Rig } from '../rig/rig.ts';
import type { WorldPose } from '../rig/pose.ts';
import { placeIn, valuesAt, worldAt } from './evaluation.ts';
import { rigOf } from './shot.ts';
import type { ChannelId, Shot } from './shot.ts';

/** Where IK counts for more than FK. */
const IK_FROM = 0.5;

/** The values by channel; empty where nothing of the rig can bring the node there. */
export function reach(shot: Shot, frame: number, node: string, place: Triple): Record<ChannelId, number> {
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
  const parent = rig.parents[i]!;
  const local = parent < 0 ? place : inParent(pose, parent, place);
  return Object.fromEntries(
    ['tx', 'ty', 'tz'].map((name, axis) => [`${id}.${name}`, local[axis]! - rest.translation[axis]!]),
  );
}

/** A place in the axes of a node, its scale taken out. */
function inParent(pose: WorldPose, i: number, place: Triple): Triple {
  const m = pose.matrices;
  const at = i * 16;
  const away = [0, 1, 2].map((axis) => place[axis]! - m[at + 12 + axis]!);
  // Columns of a turn and a scale are at right angles: each gives its own coordinate.
  return [0, 1, 2].map((column) => {
    const c = [0, 1, 2].map((row) => m[at + 4 * column + row]!);
    const square = c[0]! ** 2 + c[1]! ** 2 + c[2]! ** 2;
    return (away[0]! * c[0]! + away[1]! * c[1]! + away[2]! * c[2]!) / (square || 1);
  }) as Triple;
}

/** The nearest turning joint above, turned so that the node lies in the direction of the place. */
function turned(
  rig: Rig,
  pose: WorldPose,
  values: Float64Array,
  i: number,
  place: Triple,
): Record<ChannelId, number> {
  let joint = rig.parents[i]!;
  while (joint >= 0 && !['rx', 'ry', 'rz'].every((name) => rig.nodes[joint]!.channels.includes(name)))
    joint = rig.parents[joint]!;
  if (joint < 0) return {};
  const from = placeIn(pose, joint);
  const direction = (to: readonly number[]): Triple | null => {
    const way = [0, 1, 2].map((axis) => to[axis]! - from[axis]!) as Triple;
    const length = Math.hypot(...way);
    return length < 1e-9 ? null : (way.map((part) => part / length) as Triple);
  };
  const [a, b] = [direction(placeIn(pose, i)), direction(place)];
  if (!a || !b) return {};
  const world = multiply(rotationBetween(a, b), turnOf(pose, joint));
  const above = rig.parents[joint]! < 0 ? ([0, 0, 0, 1] as Quaternion) : turnOf(pose, rig.parents[joint]!);
  const { id, rest, order } = rig.nodes[joint]!;
  const own = unit(multiply(conjugate(multiply(above, rest.rotation)), world));
  const near = ['rx', 'ry', 'rz'].map((name) => values[rig.channelIndex(`${id}.${name}`)]!);
  const angles = eulerFromQuat(own, order, near);
  return Object.fromEntries(['rx', 'ry', 'rz'].map((name, axis) => [`${id}.${name}`, angles[axis]!]));
}

const turnOf = (pose: WorldPose, i: number): Quaternion =>
  [...pose.turns.subarray(i * 4, i * 4 + 4)] as Quaternion;
