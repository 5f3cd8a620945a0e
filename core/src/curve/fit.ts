/**
 * Fitting a row of points with as few cubic segments as hold it within a tolerance.
 *
 * 1. *Reach.* From each key the longest segment that fits is found by doubling and halving; its two slopes
 *    are free, so that points that came from k cubic segments need no more than k.
 * 2. *Join.* One banded least-squares system over all keys gives each a single slope for both sides;
 *    points of segments that miss the tolerance gain weight and the system is solved again. A segment
 *    that still misses keeps the slopes of its own, and its keys become corners.
 *
 * Tried and rejected: fixing the slopes ahead from a local parabola (a quarter more keys on 01_01.bvh), and
 * joining while reaching (the slope inherited from a segment that ran past a joint spoils the next).
 */
import { solveTridiagonal } from '../math/tridiagonal.ts';
import { fitSlopes, fitWeighted, segmentError } from './fit-segment.ts';
import type { FittedSegment, Points } from './fit-segment.ts';

export interface Fit {
  /** Rows of the points that are keys, rising; the first and the last are always among them. */
  readonly keys: readonly number[];
  /** One for each pair of neighbouring keys. */
  readonly segments: readonly FittedSegment[];
}

export interface FitOptions {
  /** Greatest distance from the points, in their unit; > 0. */
  readonly tolerance: number;
  /** Whether a point may be a key; the first and the last always may. */
  readonly candidate: (row: number) => boolean;
  /** Rows that must be keys, rising, strictly between the ends. */
  readonly kept: readonly number[];
  /** Whether handles may have any length. */
  readonly weighted: boolean;
}

/** Fits the points; see above. Needs two points or more. */
export function fitPoints(points: Points, options: FitOptions): Fit {
  const last = points.times.length - 1;
  const places: number[] = [];
  for (let row = 0; row <= last; row += 1) if (row === 0 || row === last || options.candidate(row)) places.push(row);
  const bounds = [...options.kept, last];
  const keys = [0];
  let start = 0;
  let bound = 0;
  while (keys[keys.length - 1]! < last) {
    const from = keys[keys.length - 1]!;
    while (bounds[bound]! <= from) bound += 1;
    while (places[start]! < from) start += 1;
    const next = longestReach(points, places, start, bounds[bound]!, options.tolerance);
    keys.push(next);
  }
  const joined = join(points, keys, options.tolerance);
  return options.weighted ? mergeWeighted(points, keys, joined, options) : { keys, segments: joined };
}

const slopes = new Float64Array(2);

function fits(points: Points, from: number, to: number, tolerance: number): boolean {
  fitSlopes(points, from, to, slopes);
  return segmentError(points, from, to, slopes[0]!, slopes[1]!, tolerance) <= tolerance;
}

/** The farthest place that one segment from places[start] reaches, not past `bound`. */
function longestReach(
  points: Points,
  places: readonly number[],
  start: number,
  bound: number,
  tolerance: number,
): number {
  const from = places[start]!;
  let good = start + 1;
  let bad = -1;
  let step = 2;
  while (bad < 0) {
    if (places[good]! >= bound) return bound;
    let trial = Math.min(start + step, places.length - 1);
    while (places[trial]! > bound) trial -= 1;
    if (fits(points, from, places[trial]!, tolerance)) {
      good = trial;
      step *= 2;
    } else bad = trial;
  }
  while (bad - good > 1) {
    const middle = (good + bad) >>> 1;
    if (fits(points, from, places[middle]!, tolerance)) good = middle;
    else bad = middle;
  }
  return places[good]!;
}

/** How often the points of failing segments gain weight before they keep slopes of their own. */
const ROUNDS = 4;

function join(points: Points, keys: readonly number[], tolerance: number): FittedSegment[] {
  const count = keys.length - 1;
  const weights = new Float64Array(count).fill(1);
  let shared: Float64Array = new Float64Array(0);
  const failing = new Uint8Array(count);
  for (let round = 0; round < ROUNDS; round += 1) {
    shared = sharedSlopes(points, keys, weights);
    let failures = 0;
    for (let k = 0; k < count; k += 1) {
      const error = segmentError(points, keys[k]!, keys[k + 1]!, shared[k]!, shared[k + 1]!, tolerance);
      failing[k] = error > tolerance ? 1 : 0;
      failures += failing[k]!;
      if (failing[k]) weights[k]! *= 4;
    }
    if (failures === 0) break;
  }
  return Array.from({ length: count }, (_, k) => {
    const third = (points.times[keys[k + 1]!]! - points.times[keys[k]!]!) / 3;
    let slopeOut = shared[k]!;
    let slopeIn = shared[k + 1]!;
    if (failing[k]) {
      fitSlopes(points, keys[k]!, keys[k + 1]!, slopes);
      slopeOut = slopes[0]!;
      slopeIn = slopes[1]!;
    }
    return { slopeOut, slopeIn, lengthOut: third, lengthIn: third, weighted: false };
  });
}

/** One slope for each key: least squares over all points, a weight for each segment. */
function sharedSlopes(points: Points, keys: readonly number[], weights: Float64Array): Float64Array {
  const { times, values } = points;
  const n = keys.length;
  const below = new Float64Array(n);
  const diagonal = new Float64Array(n);
  const above = new Float64Array(n);
  const right = new Float64Array(n);
  for (let k = 0; k + 1 < n; k += 1) {
    const from = keys[k]!;
    const to = keys[k + 1]!;
    const t0 = times[from]!;
    const gap = times[to]! - t0;
    const v0 = values[from]!;
    const rise = values[to]! - v0;
    const weight = weights[k]!;
    let a00 = 0;
    let a01 = 0;
    let a11 = 0;
    let r0 = 0;
    let r1 = 0;
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
    // A trace of the natural spline's energy settles keys with no points between them.
    const ridge = 1e-6 * gap * gap;
    const chord = rise / gap;
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
  return { keys: resultKeys, segments: result };
}
