/**
 * Bringing a point of a figure to a place at a frame: which channels take which values. A control that has positions is moved; the
 * end of a limb under IK moves its goal; anything else is turned at its parent, as far as its distance from that allows.
 */
import { eulerFromQuat, quatFromEuler } from '../math/euler.ts';
import type { Quaternion, Triple } from '../math/euler.ts';
import { conjugate, multiply, rotationBetween, unit } from '../math/quaternion.ts';
import type { Rig } from '../rig/rig.ts';
import { placeInSpace } from '../rig/pose.ts';
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
  const local = parent < 0 ? place : placeInSpace(pose, parent, place);
  return Object.fromEntries(
    ['tx', 'ty', 'tz'].map((name, axis) => [`${id}.${name}`, local[axis]! - rest.translation[axis]!]),
  );
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
  // Seen from what carries the joint, so that scales above it do not bend the way there.
  const parent = rig.parents[joint]!;
  const seen = (at: Triple) => (parent < 0 ? at : placeInSpace(pose, parent, at));
  const from = seen(placeIn(pose, joint));
  const direction = (to: Triple): Triple | null => {
    const way = [0, 1, 2].map((axis) => seen(to)[axis]! - from[axis]!) as Triple;
    const length = Math.hypot(...way);
    return length < 1e-9 ? null : (way.map((part) => part / length) as Triple);
  };
  const [a, b] = [direction(placeIn(pose, i)), direction(place)];
  if (!a || !b) return {};
  const { id, rest, order } = rig.nodes[joint]!;
  const near = ['rx', 'ry', 'rz'].map((name) => values[rig.channelIndex(`${id}.${name}`)]!) as Triple;
  const present: Quaternion = [0, 0, 0, 1];
  quatFromEuler(present, 0, ...near, order);
  const turn = multiply(rotationBetween(a, b), multiply(rest.rotation, present));
  const angles = eulerFromQuat(unit(multiply(conjugate(rest.rotation), turn)), order, near);
  return Object.fromEntries(['rx', 'ry', 'rz'].map((name, axis) => [`${id}.${name}`, angles[axis]!]));
}
