/** The ground that carries a body: the hull of what stands, and how far the centre of mass leans out of it. */
import { polygonContains, polygonHull } from 'd3-polygon';
import type { Triple } from '../math/euler.ts';

/** A place on the ground: x and z. */
export type GroundPoint = [number, number];

/** The hull of points on the ground, in turn about it; of fewer than three, or of such as lie in a line, the points themselves. */
export const hullOf = (points: readonly Readonly<Triple>[]): readonly GroundPoint[] => {
  const ground = points.map(([x, , z]): GroundPoint => [x, z]);
  return polygonHull(ground) ?? ground;
};

/** The place of a hull that is nearest to a point on the ground: the point itself where it lies inside; null where nothing stands. */
export function nearestOnHull(
  [x, z]: Readonly<GroundPoint>,
  hull: readonly GroundPoint[],
): GroundPoint | null {
  if (hull.length === 0) return null;
  if (hull.length > 2 && polygonContains([...hull], [x, z])) return [x, z];
  let [best, least]: [GroundPoint | null, number] = [null, Infinity];
  hull.forEach((from, k) => {
    const to = hull[(k + 1) % hull.length]!;
    const [dx, dz] = [to[0] - from[0], to[1] - from[1]];
    const length = dx * dx + dz * dz;
    const part = length > 0 ? ((x - from[0]) * dx + (z - from[1]) * dz) / length : 0;
    const at = Math.min(Math.max(part, 0), 1);
    const near: GroundPoint = [from[0] + at * dx, from[1] + at * dz];
    const off = Math.hypot(x - near[0], z - near[1]);
    if (off < least) [best, least] = [near, off];
  });
  return best;
}

/** How far a place lies outside of a hull on the ground, in the units of both; 0 inside; null where nothing stands. */
export function leanOut([x, , z]: Readonly<Triple>, hull: readonly GroundPoint[]): number | null {
  const near = nearestOnHull([x, z], hull);
  return near && Math.hypot(x - near[0], z - near[1]);
}
