/**
 * The time of a weighted segment as a cubic in its Bézier parameter u, and its inverse.
 *
 * Normalised to the segment: x(u) = 3(1−u)²u·p + 3(1−u)u²·q + u³ with p = a/Δ and q = 1 − b/Δ, both in
 * [0, 1], so that x rises from 0 to 1 without turning back.
 *
 * Newton's method inside a bracket that shrinks at each step: bisection where a step leaves it
 * (Press et al., Numerical Recipes, 9.4). A neighbour's answer is a good start, since times come in order.
 */

/** Greatest |x(u) − x| that is left. */
const TOLERANCE = 1e-13;

/**
 * The u in [0, 1] at which x(u) = x.
 * @param p first handle, 0…1; @param q second handle, 0…1; @param x time, 0…1
 * @param guess where to start; a neighbour's answer saves steps
 */
export function bezierParameter(p: number, q: number, x: number, guess: number): number {
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
    if (error < TOLERANCE && error > -TOLERANCE) return u;
    if (error > 0) high = u;
    else low = u;
    const slope = (3 * cubic * u + 2 * square) * u + linear;
    const next = u - error / slope;
    u = next > low && next < high ? next : (low + high) / 2;
  }
  return u;
}
