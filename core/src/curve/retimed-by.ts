/** A curve slower or faster as a whole: f(t/k) exactly. */
import type { Curve } from './curve.ts';
import { rebuild } from './rebuild.ts';

/** @param factor frames after for each frame before, > 0 */
export function retimedBy(curve: Curve, factor: number): Curve {
  if (factor === 1) return curve;
  return rebuild(curve, null, (columns) => {
    for (let row = 0; row < columns.times.length; row += 1) {
      columns.times[row]! *= factor;
      columns.slopesIn[row]! /= factor;
      columns.slopesOut[row]! /= factor;
      columns.lengthsIn[row]! *= factor;
      columns.lengthsOut[row]! *= factor;
    }
  });
}
