/**
 * The time of a weighted segment as a cubic in its Bézier parameter u, and its inverse.
 *
 * Normalised to the segment: x(u) = 3(1−u)²u·p + 3(1−u)u²·q + u³ with p = a/Δ and q = 1 − b/Δ. x must rise from 0 to 1
 * without turning back. With a and b in parts of the segment that is so exactly where a + b − √(ab) ≤ 1, since
 * x′(u)/3 = a(1−u)² + 2(1−a−b)u(1−u) + bu² has no root inside. All of 0 ≤ a, b ≤ 1 is within, and up to 4/3 beside a
 * handle of 1/3: a part of a monotone segment is monotone, so that any segment can be divided anywhere.
 *
 * Newton's method inside a bracket that shrinks at each step: bisection where a step leaves it
 * (Press et al., Numerical Recipes, 9.4). A neighbour's answer is a good start, since times come in order.
 */

/** Greatest |x(u) − x| that is left; below it Newton's steps only stir the last bit. */
const TOLERANCE = 1e-15;

/** A handle pair on the border is on it up to rounding. */
const BORDER = 1e-12;

/**
 * Handles with which time does not turn back, or null where the given ones already do not.
 * @param a, b handle lengths in parts of their segment
 * @returns a handle that is longer than the segment is shortened to the border that the other leaves; two such to 1
 */
export function monotoneHandles(a: number, b: number): [number, number] | null {
  if (a < 0 || b < 0)
    return monotoneHandles(Math.max(a, 0), Math.max(b, 0)) ?? [Math.max(a, 0), Math.max(b, 0)];
  if ((a <= 1 && b <= 1) || a + b - Math.sqrt(a * b) <= 1 + BORDER) return null;
  if (a > 1 && b > 1) return [1, 1];
  return a > 1 ? [longestBeside(b), b] : [a, longestBeside(a)];
}

/** The longest handle beside another: the larger root of s² − s√b + b − 1, squared. */
function longestBeside(other: number): number {
  const root = (Math.sqrt(other) + Math.sqrt(Math.max(4 - 3 * other, 0))) / 2;
  return root * root;
}

/**
 * The u in [0, 1] at which x(u) = x.
 * @param p, q the inner control points' times, monotone (above); @param x time, 0…1
 * @param guess where to start; a neighbour's answer saves steps; @param tolerance greatest |x(u) − x| that may be left
 */
export function bezierParameter(
  p: number,
  q: number,
  x: number,
  guess: number,
  tolerance = TOLERANCE,
): number {
  if (x <= 0) return 0;
  if (x >= 1) return 1;
  const cubic = 1 - 3 * q + 3 * p;
  const square = 3 * q - 6 * p;
  const linear = 3 * p;
  let low = 0;
  let high = 1;
  let u = guess > 0 && guess < 1 ? guess : x;
  for (let step = 0; step < 80; step += 1) {
    const error = ((cubic * u + square) * u + linear) * u - x;
    if (error < tolerance && error > -tolerance) return u;
    if (error > 0) high = u;
    else low = u;
    const slope = (3 * cubic * u + 2 * square) * u + linear;
    const next = u - error / slope;
    const better = next > low && next < high ? next : (low + high) / 2;
    if (better === u) return u;
    u = better;
  }
  return u;
}

/** Slopes of x below this leave the fast way: near a vertical tangent its steps say too little. */
const STEEP = 0.05;
/** A step of Halley's method shorter than this leaves an error of about its cube. */
const SHORT = 1e-5;

/**
 * The same for many rising times within one segment: turns them, in place, into parameters. Each answer starts from the
 * one before, carried on by the first two derivatives, and is improved by Halley's method, which needs one or two steps.
 * Where that is not safe it falls back to `bezierParameter`.
 * @param xs times, 0…1, rising; @param count how many of them
 */
export function bezierParameters(p: number, q: number, xs: Float64Array, count: number): void {
  const cubic = 1 - 3 * q + 3 * p;
  const square = 3 * q - 6 * p;
  const linear = 3 * p;
  let before = 0;
  let u = 0;
  let slope = Math.max(linear, STEEP);
  let bend = 2 * square;
  for (let i = 0; i < count; i += 1) {
    const x = xs[i]!;
    const ahead = (x - before) / slope;
    let next = u + ahead * (1 - (0.5 * ahead * bend) / slope);
    let step = 1;
    for (let round = 0; round < 5; round += 1) {
      slope = (3 * cubic * next + 2 * square) * next + linear;
      if (!(slope > STEEP)) break;
      bend = 6 * cubic * next + 2 * square;
      const error = ((cubic * next + square) * next + linear) * next - x;
      // u − f/f′ ÷ (1 − f·f″/2f′²), with one division.
      step = (error * slope) / (slope * slope - 0.5 * error * bend);
      next -= step;
      if (step < SHORT && step > -SHORT) break;
    }
    if (step < SHORT && step > -SHORT && next >= 0 && next <= 1) u = next;
    else {
      u = bezierParameter(p, q, x, u);
      slope = Math.max((3 * cubic * u + 2 * square) * u + linear, STEEP);
      bend = 6 * cubic * u + 2 * square;
    }
    before = x;
    xs[i] = u;
  }
}
