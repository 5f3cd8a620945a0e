/**
 * Fitting a row of points with as few cubic segments as hold it within a tolerance.
 *
 * 1. *Reach.* From each key the longest segment that fits is found by doubling and halving; its two slopes are free, so
 *    that points that came from k cubic segments need no more than k.
 * 2. *Settle.* The same from the far end gives each key the earliest place that it could have; between the two it
 *    goes where both of its segments fit best, which is where a real joint was.
 * 3. *Join.* One banded least-squares system over all keys gives each a single slope for both sides; points of segments
 *    that miss the tolerance gain weight and the system is solved again. A segment that still misses gets a key in its
 *    middle when tangents shall be joined; otherwise it keeps slopes of its own and its keys become corners.
 */
import { bisectRight } from '../base/bisect.ts';
import { farthest } from '../base/farthest.ts';
import { solveTridiagonal } from '../math/tridiagonal.ts';
import { fitSlopes, fitWeighted, segmentError } from './fit-segment.ts';
import type { FittedSegment, Points } from './fit-segment.ts';

export interface Fit {
  /** Rows of the points that are keys, rising; the first and the last are always among them. */
  readonly keys: readonly number[];
  /** One for each pair of neighbouring keys. */
  readonly segments: readonly FittedSegment[];
  /** Whether the points were samples of just these segments. */
  readonly exact: boolean;
}

export interface FitOptions {
  /** Greatest distance from the points, in their unit; > 0. */
  readonly tolerance: number;
  /** Whether a point may be a key; the first and the last always may. */
  readonly candidate: (row: number) => boolean;
  /** Rows that must be keys, rising, strictly between the ends. */
  readonly kept: readonly number[];
  /** Whether keys shall have one direction on both sides, at the cost of more keys. */
  readonly joined: boolean;
  /** Whether handles may have any length. */
  readonly weighted: boolean;
  /**
   * Whether the points lie on a smooth curve. Then they may be samples of cubic segments, whose joints a reach of almost
   * no tolerance finds exactly; that fit is taken where it needs no more keys.
   */
  readonly smooth: boolean;
  /** Keys of stretches that an earlier fit of the same points found: first row, last row and reach to rows. */
  readonly known: Map<string, readonly number[]>;
}

/** The part of the tolerance with which joints of sampled cubic segments are looked for. */
const EXACT = 1e-3;

/** Fits the points; see above. Needs two points or more. */
export function fitPoints(points: Points, options: FitOptions): Fit {
  const fit = fitWithin(points, options, options.tolerance);
  if (!options.smooth) return fit;
  const exact = fitWithin(points, options, options.tolerance * EXACT);
  return exact.keys.length <= fit.keys.length ? { ...exact, exact: true } : fit;
}

/** @param reach the tolerance with which the keys are placed */
function fitWithin(points: Points, options: FitOptions, reach: number): Fit {
  const last = points.times.length - 1;
  const places: number[] = [];
  for (let row = 0; row <= last; row += 1)
    if (row === 0 || row === last || options.candidate(row)) places.push(row);
  const bounds = [0, ...options.kept, last];
  const keys = [0];
  for (let i = 0; i + 1 < bounds.length; i += 1) {
    const name = `${bounds[i]!} ${bounds[i + 1]!} ${reach}`;
    let found = options.known.get(name);
    if (!found) {
      const stretch = places.slice(bisectRight(places, bounds[i]!) - 1, bisectRight(places, bounds[i + 1]!));
      const forward = reachKeys(points, stretch, reach);
      found = settle(points, stretch, forward, reach).slice(1);
      options.known.set(name, found);
    }
    keys.push(...found);
  }
  const joined = join(points, keys, places, options);
  return options.weighted ? mergeWeighted(points, joined.keys, joined.segments, options) : joined;
}

/** Keys of the longest segments from the first place to the last; indices into `places` are kept within. */
function reachKeys(points: Points, places: readonly number[], tolerance: number): number[] {
  const keys = [0];
  while (keys[keys.length - 1]! < places.length - 1) {
    keys.push(longestReach(points, places, keys[keys.length - 1]!, tolerance, 1));
  }
  return keys;
}

/** The keys moved to where both neighbours fit best; returns rows of points. */
function settle(
  points: Points,
  places: readonly number[],
  forward: readonly number[],
  tolerance: number,
): number[] {
  const settled = [...forward];
  const count = forward.length - 1;
  const backward = [...forward];
  for (let k = count; k > 1; k -= 1) {
    backward[k - 1] = Math.max(
      longestReach(points, places, backward[k]!, tolerance, -1),
      forward[k - 2]! + 1,
    );
  }
  for (let k = 1; k < count; k += 1) {
    const from = settled[k - 1]!;
    const to = forward[k + 1]!;
    const low = Math.max(backward[k]!, from + 1);
    const high = forward[k]!;
    let best = high;
    let least = Infinity;
    const step = Math.max(1, (high - low) / SETTLE_TRIALS);
    for (let trial = low; trial <= high; trial += step) {
      const at = Math.round(trial);
      let misfit = misfitOf(points, places[from]!, places[at]!, least);
      if (misfit < least) misfit += misfitOf(points, places[at]!, places[to]!, least - misfit);
      if (misfit < least) {
        least = misfit;
        best = at;
      }
    }
    settled[k] = best;
  }
  return settled.map((place) => places[place]!);
}

/** Places that are tried for a key between its earliest and its latest. */
const SETTLE_TRIALS = 12;

/** The greatest error of the best segment; anything above `enough` when it is more than that. */
function misfitOf(points: Points, from: number, to: number, enough = Infinity): number {
  fitSlopes(points, from, to, slopes);
  return segmentError(points, from, to, slopes[0]!, slopes[1]!, enough);
}

const slopes = new Float64Array(2);

function fits(points: Points, from: number, to: number, tolerance: number): boolean {
  fitSlopes(points, from, to, slopes);
  return segmentError(points, from, to, slopes[0]!, slopes[1]!, tolerance) <= tolerance;
}

/** The farthest place that one segment reaches from places[start], forward (`way` 1) or backward (−1). */
function longestReach(
  points: Points,
  places: readonly number[],
  start: number,
  tolerance: number,
  way: 1 | -1,
): number {
  const own = places[start]!;
  const distance = farthest(way > 0 ? places.length - 1 - start : start, (trial) => {
    const other = places[start + way * trial]!;
    return way > 0 ? fits(points, own, other, tolerance) : fits(points, other, own, tolerance);
  });
  return start + way * distance;
}

/** How often the points of failing segments gain weight before something else is done. */
const ROUNDS = 3;
/** How often failing segments are divided before they keep slopes of their own. */
const DIVISIONS = 16;

function join(points: Points, start: readonly number[], places: readonly number[], options: FitOptions): Fit {
  let keys = [...start];
  const known = new Map<number, Sums>();
  for (let division = 0; ; division += 1) {
    const { shared, failing } = sharedWithin(
      points,
      keys,
      options.tolerance,
      division === 0 || division === DIVISIONS ? ROUNDS : 1,
      known,
    );
    const middles = options.joined && division < DIVISIONS ? middlesOf(keys, failing, places) : [];
    if (middles.length > 0) {
      keys = [...keys, ...middles].sort((a, b) => a - b);
      continue;
    }
    return {
      keys,
      segments: keys.slice(1).map((_, k) => segmentOf(points, keys, shared, k, failing[k] === 1)),
      exact: false,
    };
  }
}

/** The place in the middle of failing segments, never of two neighbours at once: one key often mends both. */
function middlesOf(keys: readonly number[], failing: Uint8Array, places: readonly number[]): number[] {
  const middles: number[] = [];
  let divided = -2;
  failing.forEach((fails, k) => {
    if (!fails || divided === k - 1) return;
    const low = bisectRight(places, keys[k]!);
    const high = bisectRight(places, keys[k + 1]!) - 2;
    if (high < low) return;
    middles.push(places[(low + high) >>> 1]!);
    divided = k;
  });
  return middles;
}

/** One slope for each key, and which segments miss the tolerance with them. */
function sharedWithin(
  points: Points,
  keys: readonly number[],
  tolerance: number,
  rounds: number,
  known: Map<number, Sums>,
) {
  const count = keys.length - 1;
  const weights = new Float64Array(count).fill(1);
  const failing = new Uint8Array(count);
  let shared: Float64Array = new Float64Array(0);
  const sums = keys.slice(1).map((to, k) => {
    // Most segments are those of the division before.
    const name = keys[k]! * points.times.length + to;
    let own = known.get(name);
    if (!own) known.set(name, (own = sumsOf(points, keys[k]!, to)));
    return own;
  });
  for (let round = 0; round < rounds; round += 1) {
    shared = sharedSlopes(points, keys, weights, sums);
    let failures = 0;
    for (let k = 0; k < count; k += 1) {
      const error = segmentError(points, keys[k]!, keys[k + 1]!, shared[k]!, shared[k + 1]!, tolerance);
      failing[k] = error > tolerance ? 1 : 0;
      failures += failing[k]!;
      if (failing[k]) weights[k]! *= 4;
    }
    if (failures === 0) break;
  }
  return { shared, failing };
}

function segmentOf(
  points: Points,
  keys: readonly number[],
  shared: Float64Array,
  k: number,
  alone: boolean,
): FittedSegment {
  const third = (points.times[keys[k + 1]!]! - points.times[keys[k]!]!) / 3;
  if (alone) fitSlopes(points, keys[k]!, keys[k + 1]!, slopes);
  const slopeOut = alone ? slopes[0]! : shared[k]!;
  const slopeIn = alone ? slopes[1]! : shared[k + 1]!;
  return { slopeOut, slopeIn, lengthOut: third, lengthIn: third, weighted: false };
}

/** The sums of one segment's normal equations: what the slopes of its two ends get from the points between. */
type Sums = readonly [a00: number, a01: number, a11: number, r0: number, r1: number];

function sumsOf({ times, values }: Points, from: number, to: number): Sums {
  const t0 = times[from]!;
  const gap = times[to]! - t0;
  const scale = 1 / gap;
  const v0 = values[from]!;
  const rise = values[to]! - v0;
  let a00 = 0;
  let a01 = 0;
  let a11 = 0;
  let r0 = 0;
  let r1 = 0;
  for (let i = from + 1; i < to; i += 1) {
    const u = (times[i]! - t0) * scale;
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
  return [a00, a01, a11, r0, r1];
}

/** One slope for each key: least squares over all points, a weight for each segment. */
function sharedSlopes(
  points: Points,
  keys: readonly number[],
  weights: Float64Array,
  sums: readonly Sums[],
): Float64Array {
  const { times, values } = points;
  const n = keys.length;
  const below = new Float64Array(n);
  const diagonal = new Float64Array(n);
  const above = new Float64Array(n);
  const right = new Float64Array(n);
  for (let k = 0; k + 1 < n; k += 1) {
    const from = keys[k]!;
    const to = keys[k + 1]!;
    const gap = times[to]! - times[from]!;
    const chord = (values[to]! - values[from]!) / gap;
    const weight = weights[k]!;
    const [a00, a01, a11, r0, r1] = sums[k]!;
    // A trace of the natural spline's energy settles keys with no points between them.
    const ridge = 1e-6 * gap * gap;
    diagonal[k]! += weight * a00 + 2 * ridge;
    diagonal[k + 1]! += weight * a11 + 2 * ridge;
    above[k]! += weight * a01 + ridge;
    below[k + 1]! += weight * a01 + ridge;
    right[k]! += weight * r0 + 3 * ridge * chord;
    right[k + 1]! += weight * r1 + 3 * ridge * chord;
  }
  return solveTridiagonal(below, diagonal, above, right);
}

/** Neighbouring segments replaced by one weighted segment wherever one fits. */
function mergeWeighted(
  points: Points,
  keys: readonly number[],
  segments: readonly FittedSegment[],
  options: FitOptions,
): Fit {
  const kept = new Set(options.kept);
  const resultKeys = [keys[0]!];
  const result: FittedSegment[] = [];
  let k = 0;
  while (k < segments.length) {
    let end = k + 1;
    let best = segments[k]!;
    while (end < segments.length && !kept.has(keys[end]!)) {
      const trial = fitWeighted(points, keys[k]!, keys[end + 1]!, options.tolerance);
      if (trial === null) break;
      best = trial;
      end += 1;
    }
    result.push(best);
    resultKeys.push(keys[end]!);
    k = end;
  }
  return { keys: resultKeys, segments: result, exact: false };
}
