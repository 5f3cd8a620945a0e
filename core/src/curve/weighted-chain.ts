/**
 * A chain of weighted segments through a row of points, with one direction at each key: the geometric Hermite spline
 * (de Boor, Höllig & Sabin 1987) of least squares, for given keys.
 *
 * Unknown are a slope for each key and two handle lengths for each segment. With s the segment's slope at a point, a point's
 * value changes by B₁·a with the first slope, by B₁(m₀ − s) with the first length, by −B₂·b with the second slope and by
 * B₂(s − m₁) with the second length (B: Bernstein's cubics). Gauss–Newton steps with Levenberg's damping; the lengths concern their
 * segment alone and are eliminated there, so that each step is a tridiagonal system in the slopes.
 */
import { bezierParameter } from '../math/bezier-time.ts';
import { solveTridiagonal } from '../math/tridiagonal.ts';
import type { Points } from './fit-segment.ts';

export interface Chain {
  /** Rows of the points that are keys, rising, two or more. */
  readonly keys: readonly number[];
  /** Units per frame, one for each key. */
  readonly slopes: Float64Array;
  /** Handle lengths in parts of their segment, one for each segment: of the key that it leaves, and of the key that it reaches. */
  readonly out: Float64Array;
  readonly into: Float64Array;
  /** The greatest distance of each segment from its points, in their unit. */
  readonly errors: Float64Array;
}

/** Handles are kept within these parts of their segment. */
const SHORTEST = 0.04;
const LONGEST = 1;
/** How exactly points are placed on their segment while it is fitted, in parts of it. */
const CLOSE = 1e-8;
/** Steps of the solver at most: what they bring falls quickly. */
const STEPS = 20;
/** A chain whose error falls by less than this part in a step is as good as it gets. */
const ENOUGH = 0.003;

/** A chain before it is fitted: handles of a third. */
export function startChain(keys: readonly number[], slopes: Float64Array): Chain {
  const count = keys.length - 1;
  return {
    keys,
    slopes,
    out: new Float64Array(count).fill(1 / 3),
    into: new Float64Array(count).fill(1 / 3),
    errors: new Float64Array(count),
  };
}

/**
 * The chain of least squares for the keys of `start`, points near the tolerance counting for more; stops as soon as every
 * segment is within it.
 * @param held 1 for keys whose slope stays as it is
 */
export function fitChain(points: Points, start: Chain, held: Uint8Array, tolerance: number): Chain {
  const { keys } = start;
  const count = keys.length - 1;
  let chain: Chain = { ...start, errors: new Float64Array(count) };
  const first = keys[0]!;
  const us = new Float64Array(keys[count]! - first + 1).fill(-1);
  let sums = Array.from({ length: count }, newSums);
  let spare = Array.from({ length: count }, newSums);
  let cost = lookAtAll(points, chain, us, sums, tolerance);
  let damping = 1e-3;
  for (let step = 0; step < STEPS; step += 1) {
    if (chain.errors.every((error) => error <= tolerance)) break;
    const trial = stepped(chain, sums, held, damping);
    const now = lookAtAll(points, trial, us, spare, tolerance);
    if (now < cost) {
      const gain = 1 - now / cost;
      chain = trial;
      [sums, spare] = [spare, sums];
      cost = now;
      damping = Math.max(damping * 0.2, 1e-9);
      if (gain < ENOUGH || (step >= 2 && !hopeful(chain.errors, tolerance))) break;
    } else damping *= 20;
  }
  return chain;
}

/** Farther off than this many tolerances after some steps, no step will bring it back. */
const HOPELESS = 4;
const hopeful = (errors: Float64Array, tolerance: number) =>
  errors.some((error) => error <= HOPELESS * tolerance);

/** What one segment adds to the system: the upper half of its normal matrix in (m₀, a, m₁, b), by rows, and its gradient. */
interface Sums {
  readonly h: Float64Array;
  readonly g: Float64Array;
  greatest: number;
  squares: number;
}
const newSums = (): Sums => ({ h: new Float64Array(10), g: new Float64Array(4), greatest: 0, squares: 0 });

function lookAtAll(
  points: Points,
  { keys, slopes, out, into, errors }: Chain,
  us: Float64Array,
  sums: readonly Sums[],
  tolerance: number,
): number {
  let cost = 0;
  for (let k = 0; k < sums.length; k += 1) {
    lookAt(
      points,
      keys[k]!,
      keys[k + 1]!,
      slopes[k]!,
      out[k]!,
      slopes[k + 1]!,
      into[k]!,
      us,
      keys[0]!,
      sums[k]!,
      tolerance,
    );
    errors[k] = sums[k]!.greatest;
    cost += sums[k]!.squares;
  }
  return cost;
}

/** One damped step: the lengths of each segment are eliminated, a tridiagonal system gives the slopes. */
function stepped(chain: Chain, sums: readonly Sums[], held: Uint8Array, damping: number): Chain {
  const n = chain.keys.length;
  const below = new Float64Array(n);
  const diagonal = new Float64Array(n);
  const above = new Float64Array(n);
  const right = new Float64Array(n);
  // For each segment the inverse of its 2×2 block of lengths.
  const inverse = sums.map(({ h }) => {
    const [aa, ab, bb] = [h[4]! * (1 + damping) + 1e-30, h[6]!, h[9]! * (1 + damping) + 1e-30];
    const determinant = Math.max(aa * bb - ab * ab, 1e-12 * aa * bb + 1e-300);
    return [bb / determinant, -ab / determinant, aa / determinant] as const;
  });
  sums.forEach(({ h, g }, k) => {
    const [i00, i01, i11] = inverse[k]!;
    // Rows of the coupling: m₀ with (a, b), m₁ with (a, b).
    const [p0, p1, q0, q1] = [h[1]!, h[3]!, h[5]!, h[8]!];
    const [u0, u1] = [p0 * i00 + p1 * i01, p0 * i01 + p1 * i11];
    const [w0, w1] = [q0 * i00 + q1 * i01, q0 * i01 + q1 * i11];
    diagonal[k]! += h[0]! * (1 + damping) - (u0 * p0 + u1 * p1) + 1e-30;
    diagonal[k + 1]! += h[7]! * (1 + damping) - (w0 * q0 + w1 * q1) + 1e-30;
    const cross = h[2]! - (u0 * q0 + u1 * q1);
    above[k]! += cross;
    below[k + 1]! += cross;
    right[k]! += g[0]! - (u0 * g[1]! + u1 * g[3]!);
    right[k + 1]! += g[2]! - (w0 * g[1]! + w1 * g[3]!);
  });
  for (let k = 0; k < n; k += 1) {
    if (!held[k]) continue;
    diagonal[k] = 1;
    below[k] = above[k] = right[k] = 0;
  }
  const change = solveTridiagonal(below, diagonal, above, right);
  const slopes = chain.slopes.map((slope, k) => slope + (Number.isFinite(change[k]) ? change[k]! : 0));
  const out = chain.out.slice();
  const into = chain.into.slice();
  sums.forEach(({ h, g }, k) => {
    const [i00, i01, i11] = inverse[k]!;
    const ra = g[1]! - h[1]! * change[k]! - h[5]! * change[k + 1]!;
    const rb = g[3]! - h[3]! * change[k]! - h[8]! * change[k + 1]!;
    out[k] = within(out[k]! + limited(i00 * ra + i01 * rb));
    into[k] = within(into[k]! + limited(i01 * ra + i11 * rb));
  });
  return { keys: chain.keys, slopes, out, into, errors: new Float64Array(sums.length) };
}

/** No handle changes by more than this in one step. */
const limited = (change: number) => (Number.isFinite(change) ? Math.min(0.25, Math.max(-0.25, change)) : 0);
const within = (length: number) => Math.min(LONGEST, Math.max(SHORTEST, length));

/** One look at a segment: its normal equations and errors. @param us parameters of the points from row `first`, guesses in, answers out */
function lookAt(
  { times, values }: Points,
  from: number,
  to: number,
  m0: number,
  p: number,
  m1: number,
  q: number,
  us: Float64Array,
  first: number,
  sums: Sums,
  tolerance: number,
): void {
  const { h, g } = sums;
  h.fill(0);
  g.fill(0);
  const t0 = times[from]!;
  const gap = times[to]! - t0;
  const v0 = values[from]!;
  const rise = values[to]! - v0;
  const a = p * gap;
  const b = q * gap;
  const y1 = a * m0;
  const y3 = b * m1;
  const y2 = rise - y1 - y3;
  let greatest = 0;
  let squares = 0;
  for (let i = from + 1; i < to; i += 1) {
    const u = bezierParameter(p, 1 - q, (times[i]! - t0) / gap, us[i - first]!, CLOSE);
    us[i - first] = u;
    const w = 1 - u;
    const b1 = 3 * w * w * u;
    const b2 = 3 * w * u * u;
    const value = b1 * y1 + b2 * (y1 + y2) + u * u * u * rise;
    const left = values[i]! - v0 - value;
    const distance = Math.abs(left);
    if (distance > greatest) greatest = distance;
    // Points near the tolerance count for more: what is wanted is the least greatest error.
    const share = distance / tolerance;
    const weight = 1 + 12 * share * share;
    squares += distance * distance * (1 + 6 * share * share);
    const timeU = w * w * a + 2 * w * u * (gap - a - b) + u * u * b;
    const s = (w * w * y1 + 2 * w * u * y2 + u * u * y3) / Math.max(timeU, 1e-6 * gap);
    const j0 = b1 * a;
    const j1 = b1 * (m0 - s) * gap;
    const j2 = -b2 * b;
    const j3 = b2 * (s - m1) * gap;
    const l = weight * left;
    g[0]! += j0 * l;
    g[1]! += j1 * l;
    g[2]! += j2 * l;
    g[3]! += j3 * l;
    h[0]! += weight * j0 * j0;
    h[1]! += weight * j0 * j1;
    h[2]! += weight * j0 * j2;
    h[3]! += weight * j0 * j3;
    h[4]! += weight * j1 * j1;
    h[5]! += weight * j1 * j2;
    h[6]! += weight * j1 * j3;
    h[7]! += weight * j2 * j2;
    h[8]! += weight * j2 * j3;
    h[9]! += weight * j3 * j3;
  }
  sums.greatest = greatest;
  sums.squares = squares;
}
