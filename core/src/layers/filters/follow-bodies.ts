/**
 * What of a character is in the way of a chain that follows through: its solids, as spheres and capsules. What the chain lies in already while all is at rest may be as deep in it as it
 * is then: a string hangs from a hip, not beside it.
 */
import type { Triple } from '../../math/euler.ts';
import type { Obstacles } from '../../motion/obstacles.ts';
import { pointIn } from '../../rig/body-point.ts';
import { movedBy, partFor } from '../../rig/influence.ts';
import { restValue } from '../../rig/node.ts';
import type { Node, Solid } from '../../rig/node.ts';
import { computeWorld, newWorldPose } from '../../rig/pose.ts';
import type { WorldPose } from '../../rig/relations/relation.ts';
import type { Rig } from '../../rig/rig.ts';
import { shared } from '../signal.ts';
import type { Signals } from '../signal.ts';
import { linkOf } from './follow-drive.ts';
import type { Chain, Grid } from './follow-drive.ts';

/** A capsule of a node, in its axes, cm; a sphere has two ends that are one. */
interface Capsule {
  readonly node: number;
  readonly from: Triple;
  readonly to: Triple;
  readonly radius: number;
}

/** @returns null where nothing is in the way */
export function bodiesOver(rig: Rig, below: Signals, chain: Chain, grid: Grid): Obstacles | null {
  const [first] = chain as [number];
  const along = movedBy(rig, [first]);
  const { character } = rig.nodes[first]!;
  const capsules = rig.nodes.flatMap((node, row) =>
    node.character === character && along[row] === 0 && node.part !== 'prop'
      ? node.solids.map((solid) => capsuleOf(row, solid))
      : [],
  );
  if (capsules.length === 0) return null;
  const rows = [...new Set(capsules.map(({ node }) => node))];
  const part = partFor(rig, rows);
  const signals = part.channels.map((c) => below[c]!);
  const { over, pace, steps, frameOf } = grid;
  const ends = shared(chain, ['follow bodies', rig, over.start, steps, pace, ...signals], () => {
    const result = new Float64Array(6 * capsules.length * (steps + 3));
    const values = new Float64Array(rig.channels.length);
    const pose = newWorldPose(rig);
    for (let row = 0; row < steps + 3; row += 1) {
      for (const c of part.channels) values[c] = below[c]!.at(frameOf(row));
      computeWorld(rig, values, pose, null, part.order);
      capsules.forEach(({ node, from, to }, k) => {
        const at = 6 * (row * capsules.length + k);
        result.set(pointIn(pose, { node, at: from }), at);
        result.set(pointIn(pose, { node, at: to }), at + 3);
      });
    }
    return result;
  });
  return { count: capsules.length, ends, radii: nearest(rig, chain, capsules) };
}

/** How near the end of each link may come to each axis: as far as its own skin and the other's reach, or as near as it is at rest. */
function nearest(rig: Rig, chain: Chain, capsules: readonly Capsule[]): Float64Array {
  const rest = newWorldPose(rig);
  computeWorld(
    rig,
    rig.channels.map(({ name }) => restValue(name)),
    rest,
  );
  const radii = new Float64Array(chain.length * capsules.length);
  chain.forEach((row, i) => {
    const { bone, length, scale } = linkOf(rig, row, chain);
    const origin = pointIn(rest, { node: row, at: [0, 0, 0] });
    const along = pointIn(rest, { node: row, at: bone.map((value, axis) => value / scale[axis]!) as Triple });
    const way = along.map((value, axis) => value - origin[axis]!);
    const size = Math.hypot(...way) || 1;
    const tip = way.map((value, axis) => origin[axis]! + (value / size) * length) as Triple;
    const thick = thickness(rig.nodes[row]!);
    capsules.forEach(({ node, from, to, radius }, k) => {
      const away = distance(tip, pointIn(rest, { node, at: from }), pointIn(rest, { node, at: to }));
      radii[i * capsules.length + k] = Math.min(radius * sizeOf(rest, node) + thick, away);
    });
  });
  return radii;
}

/** How much larger a node's axes are than the world's, of three that differ their mean. */
function sizeOf({ matrices }: Pick<WorldPose, 'matrices'>, node: number): number {
  const lengths = [0, 4, 8].map((column) =>
    Math.hypot(...matrices.subarray(node * 16 + column, node * 16 + column + 3)),
  );
  return Math.cbrt(lengths[0]! * lengths[1]! * lengths[2]!);
}

function distance(p: Triple, from: Triple, to: Triple): number {
  const axis = to.map((value, a) => value - from[a]!);
  const length = axis.reduce((sum, value) => sum + value * value, 0);
  const along = axis.reduce((sum, value, a) => sum + value * (p[a]! - from[a]!), 0);
  const part = length < 1e-12 ? 0 : Math.min(Math.max(along / length, 0), 1);
  return Math.hypot(...p.map((value, a) => value - from[a]! - part * axis[a]!));
}

/** How thick a link is at its end, cm. */
const thickness = ({ solids }: Node): number =>
  Math.max(
    0,
    ...solids.map((solid) => (solid.kind === 'capsule' ? solid.radiusTo : capsuleOf(0, solid).radius)),
  );

/** A solid as a capsule: along the longest of its axes, as thick as the mean of the others. */
function capsuleOf(node: number, solid: Solid): Capsule {
  if (solid.kind === 'capsule') {
    const radius = (solid.radiusFrom + solid.radiusTo) / 2;
    return { node, from: [...solid.from], to: [...solid.to], radius };
  }
  const reach = solid.kind === 'ellipsoid' ? [...solid.radii] : solid.size.map((size) => size / 2);
  const longest = reach.indexOf(Math.max(...reach));
  const radius = reach.reduce((sum, value, axis) => sum + (axis === longest ? 0 : value / 2), 0);
  const half = Math.max(0, reach[longest]! - radius);
  const end = (side: number) =>
    solid.centre.map((value, axis) => value + (axis === longest ? side * half : 0)) as Triple;
  return { node, from: end(-1), to: end(1), radius };
}
