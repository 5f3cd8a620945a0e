/** A one-third segment at a time, by Hermite's own basis (any textbook of numerical analysis): not the way in which curves are evaluated. */
import type { Points } from '../curve/fit-segment.ts';

/** @param out @param into slopes of the ends, in units per frame */
export function hermiteAt(
  { times, values }: Points,
  from: number,
  to: number,
  out: number,
  into: number,
  time: number,
): number {
  const gap = times[to]! - times[from]!;
  const u = (time - times[from]!) / gap;
  return (
    (2 * u ** 3 - 3 * u ** 2 + 1) * values[from]! +
    (u ** 3 - 2 * u ** 2 + u) * gap * out +
    (3 * u ** 2 - 2 * u ** 3) * values[to]! +
    (u ** 3 - u ** 2) * gap * into
  );
}
