/** Where a figure faces whose names say nothing of sides: as its toes point, else as its knees bend. */
import type { Triple } from '../math/euler.ts';
import type { Rig } from '../rig/rig.ts';

/** What ends within this part of the height above the lowest joint is a foot. */
const LOW = 0.12;
/** What points ahead by less than this part of the height says nothing. */
const CLEAR = 0.004;

/**
 * @param isMeant by row, whether a joint is of the figure
 * @returns about the upright, from +z toward +x, degrees; null where feet and knees say nothing
 */
export function facingByFeet({ parents, restPlaces }: Rig, isMeant: readonly boolean[]): number | null {
  const rows = [...isMeant.keys()].filter((row) => isMeant[row]);
  const heights = rows.map((row) => restPlaces[row]![1]);
  const [low, high] = [Math.min(...heights), Math.max(...heights)];
  const height = high - low;
  if (!(height > 0)) return null;
  const children = isMeant.map(() => 0);
  for (const row of rows) if (parents[row]! >= 0) children[parents[row]!]! += 1;
  const toes: [number, number] = [0, 0];
  const knees: [number, number] = [0, 0];
  for (const end of rows) {
    if (children[end]! > 0 || restPlaces[end]![1] > low + LOW * height) continue;
    // From the end up to below where the body branches.
    const leg = [end];
    for (let up = parents[end]!; up >= 0 && children[up]! <= 1; up = parents[up]!) leg.push(up);
    if (leg.length < 3) continue;
    const places = leg.map((row) => restPlaces[row]!);
    const [x, , z] = aheadOf(places[1]!, places[0]!);
    // A shin goes down, and toes ahead.
    const ankle = Math.hypot(x, z) > 0.5 * Math.abs(places[0]![1] - places[1]![1]) ? 1 : 0;
    toes[0] += ankle * x;
    toes[1] += ankle * z;
    for (const place of places.slice(ankle + 1, -1)) {
      const [off, side] = offLine(places[ankle]!, places[places.length - 1]!, place);
      knees[0] += off;
      knees[1] += side;
    }
  }
  for (const [x, z] of [toes, knees] as const)
    if (Math.hypot(x, z) > CLEAR * height) return (Math.atan2(x, z) * 180) / Math.PI;
  return null;
}

const aheadOf = (from: Readonly<Triple>, to: Readonly<Triple>): Triple => [
  to[0] - from[0],
  0,
  to[2] - from[2],
];

/** By how much a place lies beside the line between two, over the ground. */
function offLine(from: Readonly<Triple>, to: Readonly<Triple>, place: Readonly<Triple>): [number, number] {
  const rise = to[1] - from[1];
  const part = rise === 0 ? 0 : (place[1] - from[1]) / rise;
  return [place[0] - from[0] - part * (to[0] - from[0]), place[2] - from[2] - part * (to[2] - from[2])];
}
