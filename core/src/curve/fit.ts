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
import { fitSlopes, segmentError, strayBetween } from './fit-segment.ts';
import { fitWeighted, fitWeightedCorners } from './fit-weighted.ts';
import type { Fit, FitOptions, FittedSegment, Points } from './fit-segment.ts';

/** The part of the tolerance with which joints of sampled cubic segments are looked for. */
const EXACT = 1e-3;

/**
 * Fits the points; see above. Needs two points or more. Points may be samples of cubic segments, whose joints a reach of almost
 * no tolerance finds exactly; that fit is taken where it needs no more keys.
 */
export function fitPoints(points: Points, options: FitOptions): Fit {
  const places = placesOf(points.times.length - 1, options.candidate);
  const fit = options.weighted
    ? weightedFit(points, places, options)
    : fitWithin(points, places, options, options.tolerance);
  if (!seemsSampled(points, places, options.tolerance * EXACT)) return fit;
  const exact = exactFit(points, places, options);
  return exact !== null && exact.keys.length <= fit.keys.length ? { ...exact, exact: true } : fit;
}

function weightedFit(points: Points, places: Int32Array, options: FitOptions): Fit {
  const chain = fitWeighted(points, places, options);
  if (options.joined) return chain;
  const corners = fitWeightedCorners(points, places, options);
  return corners.keys.length < chain.keys.length ? corners : chain;
}

/** Any two points lie on a cubic segment: one that short must hold between them as well. */
function saysEnough(points: Points, { keys, segments }: Fit, tolerance: number): boolean {
  return segments.every(
    (segment, k) =>
      keys[k + 1]! - keys[k]! > 3 ||
      strayBetween(points, keys[k]!, keys[k + 1]!, segment, tolerance) === null,
  );
}

/** The joints, and peaks that have none within a frame; null where the joints are no more than chance. */
function exactFit(points: Points, places: Int32Array, options: FitOptions): Fit | null {
  const bare = { ...options, strays: undefined, peaks: [] };
  const joints = fitWithin(points, places, bare, options.tolerance * EXACT);
  if (!saysEnough(points, joints, options.tolerance)) return null;
  const { times } = points;
  const alone = options.peaks.filter(
    (row) => !joints.keys.some((key) => Math.abs(times[key]! - times[row]!) <= 1 + 1e-9),
  );
  if (alone.length === 0) return joints;
  const kept = [...new Set([...options.kept, ...alone])].sort((a, b) => a - b);
  return fitWithin(points, places, { ...bare, kept }, options.tolerance * EXACT);
}

/** Segments that are looked at to see whether points may be samples; noise fits two points between keys, and no more. */
const LOOKS = 12;
const LONGER_THAN_NOISE = 3.5;

function seemsSampled(points: Points, places: Int32Array, tolerance: number): boolean {
  let at = 0;
  let moving = 0;
  let reached = 0;
  for (let look = 0; look < 4 * LOOKS && moving < LOOKS && at < places.length - 1; look += 1) {
    const next = longestReach(points, places, at, tolerance, 1, 4);
    // Stretches that stand still say nothing.
    if (points.values[places[at]!] !== points.values[places[next]!] && next < places.length - 1) {
      moving += 1;
      reached += next - at;
    }
    at = next;
  }
  return moving === 0 || reached >= LONGER_THAN_NOISE * moving;
}

/** @param reach the tolerance with which the keys are placed */
function fitWithin(points: Points, places: Int32Array, options: FitOptions, reach: number): Fit {
  const last = points.times.length - 1;
  const bounds = [...new Set([0, ...options.kept, ...options.peaks, last])].sort((a, b) => a - b);
  const keys = [0];
  for (let i = 0; i + 1 < bounds.length; i += 1) {
    const name = `${bounds[i]!} ${bounds[i + 1]!} ${reach}`;
    let found = options.known.get(name);
    if (!found) {
      const stretch = places.subarray(
        bisectRight(places, bounds[i]!) - 1,
        bisectRight(places, bounds[i + 1]!),
      );
      const forward = reachKeys(points, stretch, reach);
      found = settle(points, stretch, forward, reach).slice(1);
      options.known.set(name, found);
    }
    keys.push(...found);
  }
  return join(points, keys, places, options);
}

/** The rows on which a key may stand, rising. */
function placesOf(last: number, candidate: (row: number) => boolean): Int32Array {
  const places = new Int32Array(last + 1);
  let count = 0;
  for (let row = 0; row <= last; row += 1)
    if (row === 0 || row === last || candidate(row)) places[count++] = row;
  return places.subarray(0, count);
}

/** Keys of the longest segments from the first place to the last; indices into `places` are kept within. */
function reachKeys(points: Points, places: Int32Array, tolerance: number): number[] {
  const keys = [0];
  let [at, length] = [0, 0];
  while (at < places.length - 1) {
    const next = longestReach(points, places, at, tolerance, 1, length);
    [at, length] = [next, next - at];
    keys.push(at);
  }
  return keys;
}

/** The keys moved to where both neighbours fit best; returns rows of points. */
function settle(points: Points, places: Int32Array, forward: readonly number[], tolerance: number): number[] {
  const settled = [...forward];
  const count = forward.length - 1;
  const backward = [...forward];
  for (let k = count; k > 1; k -= 1) {
    backward[k - 1] = Math.max(
      longestReach(points, places, backward[k]!, tolerance, -1, forward[k]! - forward[k - 1]!),
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
const SETTLE_TRIALS = 6;

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

/** The farthest place that one segment reaches from places[start], forward (`way` 1) or backward (−1); `usual` is a guess. */
function longestReach(
  points: Points,
  places: Int32Array,
  start: number,
  tolerance: number,
  way: 1 | -1,
  usual: number,
): number {
  const own = places[start]!;
  const distance = farthest(
    way > 0 ? places.length - 1 - start : start,
    (trial) => {
      const other = places[start + way * trial]!;
      return way > 0 ? fits(points, own, other, tolerance) : fits(points, other, own, tolerance);
    },
    Math.max(2, Math.round(usual * 0.75)),
  );
  return start + way * distance;
}

/** How often the points of failing segments gain weight before something else is done. */
const ROUNDS = 3;
/** How often failing segments are divided before they keep slopes of their own. */
const DIVISIONS = 16;

function join(points: Points, start: readonly number[], places: Int32Array, options: FitOptions): Fit {
  let parts = start.slice(1).map((to, k) => sumsOf(points, start[k]!, to));
  for (let division = 0; ; division += 1) {
    const rounds = division === 0 || division >= DIVISIONS ? ROUNDS : 1;
    const { shared, failing } = sharedWithin(points, parts, options.tolerance, rounds);
    let added: readonly number[] =
      options.joined && division < DIVISIONS ? middlesOf(parts, failing, places) : [];
    if (added.length === 0) {
      const fit = {
        keys: [...parts.map(({ from }) => from), start[start.length - 1]!],
        segments: parts.map((part, k) => segmentOf(points, part, shared, k, failing[k] === 1)),
        exact: false,
      };
      added = options.strays?.(fit) ?? [];
      if (added.length === 0) return options.joined ? leveled(points, parts, fit, options) : fit;
    }
    parts = divided(points, parts, added);
  }
}

/** The fit with peaks and valleys laid flat, where their two segments hold with that and the rest as it is. */
function leveled(points: Points, parts: readonly Segment[], fit: Fit, options: FitOptions): Fit {
  if (options.peaks.length === 0) return fit;
  const peaks = new Set(options.peaks);
  const segments = [...fit.segments];
  for (let k = 1; k < segments.length; k += 1) {
    const [before, after] = [segments[k - 1]!, segments[k]!];
    if (!peaks.has(fit.keys[k]!) || before.slopeIn !== after.slopeOut) continue;
    const flat = [
      { ...before, slopeIn: 0 },
      { ...after, slopeOut: 0 },
    ] as const;
    const holds = flat.every((segment, side) => {
      const { from, to } = parts[k - 1 + side]!;
      return strayBetween(points, from, to, segment, options.tolerance) === null;
    });
    if (holds) segments.splice(k - 1, 2, ...flat);
  }
  return { ...fit, segments };
}

/** The segments with those divided in which an added key lies; rows rise. */
function divided(points: Points, parts: readonly Segment[], added: readonly number[]): Segment[] {
  const result: Segment[] = [];
  let next = 0;
  for (const part of parts) {
    let from = part.from;
    for (; next < added.length && added[next]! < part.to; next += 1) {
      if (added[next]! <= from) continue;
      result.push(sumsOf(points, from, added[next]!));
      from = added[next]!;
    }
    result.push(from === part.from ? part : sumsOf(points, from, part.to));
  }
  return result;
}

/** The place in the middle of failing segments, never of two neighbours at once: one key often mends both. */
function middlesOf(parts: readonly Segment[], failing: Uint8Array, places: Int32Array): number[] {
  const middles: number[] = [];
  let last = -2;
  for (let k = 0; k < parts.length; k += 1) {
    if (failing[k] === 0 || last === k - 1) continue;
    const low = bisectRight(places, parts[k]!.from);
    const high = bisectRight(places, parts[k]!.to) - 2;
    if (high < low) continue;
    middles.push(places[(low + high) >>> 1]!);
    last = k;
  }
  return middles;
}

/** One slope for each key, and which segments miss the tolerance with them. */
function sharedWithin(points: Points, parts: readonly Segment[], tolerance: number, rounds: number) {
  const count = parts.length;
  const weights = new Float64Array(count).fill(1);
  const failing = new Uint8Array(count);
  let shared: Float64Array = new Float64Array(0);
  for (let round = 0; round < rounds; round += 1) {
    shared = sharedSlopes(points, weights, parts);
    let failures = 0;
    for (let k = 0; k < count; k += 1) {
      failing[k] = misses(points, parts[k]!, shared[k]!, shared[k + 1]!, tolerance) ? 1 : 0;
      failures += failing[k]!;
      if (failing[k]) weights[k]! *= 4;
    }
    if (failures === 0) break;
  }
  return { shared, failing };
}

function segmentOf(
  points: Points,
  { from, to, gap }: Segment,
  shared: Float64Array,
  k: number,
  alone: boolean,
): FittedSegment {
  const third = gap / 3;
  if (alone) fitSlopes(points, from, to, slopes);
  const slopeOut = alone ? slopes[0]! : shared[k]!;
  const slopeIn = alone ? slopes[1]! : shared[k + 1]!;
  return { slopeOut, slopeIn, lengthOut: third, lengthIn: third, weighted: false };
}

/**
 * One segment while slopes are shared: the sums of its normal equations (what the slopes of its two ends get from the points
 * between), and the error that was found last, with the slopes that it was found for.
 */
interface Segment {
  readonly from: number;
  readonly to: number;
  readonly gap: number;
  readonly a00: number;
  readonly a01: number;
  readonly a11: number;
  readonly r0: number;
  readonly r1: number;
  error: number;
  slopeOut: number;
  slopeIn: number;
}

/** How far a cubic segment moves at most when one of its end slopes changes by 1 over a gap of 1: the peak of u(1 − u)². */
const SLOPE_REACH = 4 / 27;

/** Whether the segment with these slopes misses the tolerance. Points are only looked at where the last look does not tell. */
function misses(
  points: Points,
  segment: Segment,
  slopeOut: number,
  slopeIn: number,
  tolerance: number,
): boolean {
  const { from, to, gap, error } = segment;
  const moved =
    SLOPE_REACH * gap * (Math.abs(slopeOut - segment.slopeOut) + Math.abs(slopeIn - segment.slopeIn));
  if (error + moved <= tolerance) return false;
  if (error - moved > tolerance) return true;
  segment.error = segmentError(points, from, to, slopeOut, slopeIn, tolerance);
  segment.slopeOut = slopeOut;
  segment.slopeIn = slopeIn;
  return segment.error > tolerance;
}

function sumsOf({ times, values }: Points, from: number, to: number): Segment {
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
  return { from, to, gap, a00, a01, a11, r0, r1, error: NaN, slopeOut: 0, slopeIn: 0 };
}

/** One slope for each key: least squares over all points, a weight for each segment. */
function sharedSlopes({ values }: Points, weights: Float64Array, parts: readonly Segment[]): Float64Array {
  const n = parts.length + 1;
  const below = new Float64Array(n);
  const diagonal = new Float64Array(n);
  const above = new Float64Array(n);
  const right = new Float64Array(n);
  for (let k = 0; k + 1 < n; k += 1) {
    const { from, to, gap, a00, a01, a11, r0, r1 } = parts[k]!;
    const chord = (values[to]! - values[from]!) / gap;
    const weight = weights[k]!;
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
