/**
 * Slopes for keys that are found: of all with which every segment holds, those nearest to the points by least squares.
 *
 * One slope after the other goes to where the squares of its two segments are least, as far as their regions let it with its neighbours as they
 * are (coordinate descent in a convex set): none ever leaves what holds.
 */
import { fitSlopes } from './fit-segment.ts';
import type { Points } from './fit-segment.ts';
import { lookForRegion, region, slice } from './slope-region.ts';
import type { Asked, SlopeRegion } from './slope-region.ts';

const SWEEPS = 6;

/** The sums of a segment's normal equations: what the slopes of its two ends get from the points between. */
interface Sums {
  readonly a00: number;
  readonly a01: number;
  readonly a11: number;
  readonly r0: number;
  readonly r1: number;
}

/**
 * @param slopes one for each key, with which all segments hold; changed in place
 * @param flat keys that lie flat where their neighbourhood holds with it
 */
export function settleSlopes(
  points: Points,
  keys: readonly number[],
  slopes: Float64Array,
  flat: ReadonlySet<number>,
  asked: Asked,
): void {
  const spans = keys.slice(1).map((to, k) => [keys[k]!, to] as const);
  const regions = spans.map(([from, to]) =>
    lookForRegion(points, from, to, -Infinity, Infinity, asked) ? region() : null,
  );
  const sums = spans.map(([from, to]) => sumsOf(points, from, to));
  const held = new Uint8Array(keys.length);
  for (let sweep = 0; sweep < SWEEPS; sweep += 1) {
    for (let k = 0; k < keys.length; k += 1)
      if (held[k] === 0) slopes[k] = within(rangeOf(regions, slopes, k), bestOf(sums, slopes, k));
    // Each sweep makes room for some more.
    for (let k = 1; k + 1 < keys.length; k += 1) {
      const range = held[k] === 0 && flat.has(keys[k]!) ? rangeOf(regions, slopes, k) : null;
      if (range === null || range[0] > 0 || range[1] < 0) continue;
      slopes[k] = 0;
      held[k] = 1;
    }
  }
}

const within = ([least, most]: readonly [number, number], value: number) =>
  Math.min(most, Math.max(least, value));

const cuts = new Float64Array(2);

/** The slopes that a key may have with its neighbours as they are. */
function rangeOf(
  regions: readonly (SlopeRegion | null)[],
  slopes: Float64Array,
  k: number,
): readonly [number, number] {
  let [least, most] = [-Infinity, Infinity];
  const [before, after] = [regions[k - 1], regions[k]];
  if (before) {
    slice(before.out, before.into, slopes[k - 1]!, cuts);
    [least, most] = [cuts[0]!, cuts[1]!];
  }
  if (after) {
    slice(after.into, after.out, slopes[k + 1]!, cuts);
    least = Math.max(least, cuts[0]!);
    most = Math.min(most, cuts[1]!);
  }
  // They differ by rounding where only one slope is left.
  return least <= most ? [least, most] : [slopes[k]!, slopes[k]!];
}

/** Where the squares of both segments of a key are least with its neighbours as they are. */
function bestOf(sums: readonly Sums[], slopes: Float64Array, k: number): number {
  let [weight, right] = [0, 0];
  const [before, after] = [sums[k - 1], sums[k]];
  if (before) {
    weight += before.a11;
    right += before.r1 - before.a01 * slopes[k - 1]!;
  }
  if (after) {
    weight += after.a00;
    right += after.r0 - after.a01 * slopes[k + 1]!;
  }
  return weight > 0 ? right / weight : slopes[k]!;
}

const pair = new Float64Array(2);

/** The two slopes of a segment that stands alone: those of least squares where they hold, else from the middle of its region. */
export function ownSlopes(points: Points, from: number, to: number, asked: Asked): readonly [number, number] {
  fitSlopes(points, from, to, pair);
  const [out, into] = pair as unknown as [number, number];
  if (!lookForRegion(points, from, to, -Infinity, Infinity, asked)) return [out, into];
  const corners = region();
  if (Math.min(...corners.out) <= out && out <= Math.max(...corners.out)) {
    slice(corners.out, corners.into, out, cuts);
    if (cuts[0]! <= into && into <= cuts[1]!) return [out, into];
  }
  const middle = (of: Float64Array) => of.reduce((sum, value) => sum + value, 0) / of.length;
  return [middle(corners.out), middle(corners.into)];
}

function sumsOf({ times, values }: Points, from: number, to: number): Sums {
  const t0 = times[from]!;
  const gap = times[to]! - t0;
  const v0 = values[from]!;
  const rise = values[to]! - v0;
  // A trace of the natural spline's energy settles keys with no points between them.
  const ridge = 1e-6 * gap * gap;
  let [a00, a01, a11, r0, r1] = [
    2 * ridge,
    ridge,
    2 * ridge,
    (3 * ridge * rise) / gap,
    (3 * ridge * rise) / gap,
  ];
  for (let i = from + 1; i < to; i += 1) {
    const u = (times[i]! - t0) / gap;
    const w = 1 - u;
    const b0 = u * w * w * gap;
    const b1 = -u * u * w * gap;
    const left = values[i]! - v0 - rise * u * u * (3 - 2 * u);
    a00 += b0 * b0;
    a01 += b0 * b1;
    a11 += b1 * b1;
    r0 += b0 * left;
    r1 += b1 * left;
  }
  return { a00, a01, a11, r0, r1 };
}
