/** How high what moves a figure stands over the ground on another. */
import type { Triple } from '../math/euler.ts';
import { conjugate, rotate } from '../math/quaternion.ts';
import type { Measured } from '../rig/skeleton.ts';
import type { PairedLeg } from './proportion.ts';

export const NO_LIFT: Triple = [0, 0, 0];

/**
 * What a joint that moves the figure is raised by, in the axes of its parent: a height is kept above the ground and not above where the joint is at rest,
 * since one figure's rest holds the height of its hips and the other's channel does. The feet come as high as they were: where the one's hip joints lie deeper under its hips, these
 * stand higher.
 * @param i, j rows of the joint in the two @param over, under rows of the nearest pair above both, or −1
 */
export function liftOf(
  a: Measured,
  b: Measured,
  i: number,
  j: number,
  over: number,
  under: number,
  size: number,
  legs: readonly PairedLeg[],
): Triple {
  const most = ({ sizes, bones }: Measured, row: number) =>
    2 * sizes[row]! >= bones.length && bones.length > 2;
  if (!most(a, i) || !most(b, j)) return NO_LIFT;
  const heightOf = ({ at }: Measured, row: number, from: number) =>
    at[row]![1] - (from < 0 ? 0 : at[from]![1]);
  const standing = legs.map(
    ({ source, target }) => b.at[j]![1] - b.at[target]![1] - size * (a.at[i]![1] - a.at[source]![1]),
  );
  // The first above the legs is raised, and not what carries it on the ground.
  const isAboveLegs = (row: number) =>
    row >= 0 && legs.some(({ source, was }) => 2 * (a.at[row]![1] - a.at[source]![1]) > was);
  const higher =
    isAboveLegs(i) && !isAboveLegs(over)
      ? standing.reduce((sum, value) => sum + value, 0) / standing.length
      : 0;
  const up = size * heightOf(a, i, over) - heightOf(b, j, under) + higher;
  const parent = b.rig.parents[j]!;
  return parent < 0 ? [0, up, 0] : rotate(conjugate(b.rig.restTurns[parent]!), 0, up, 0);
}
