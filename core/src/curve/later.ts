/** A curve at another time, as it is. */
import type { Curve } from './curve.ts';
import { rebuild } from './rebuild.ts';

export const later = (curve: Curve, by: number): Curve =>
  by === 0
    ? curve
    : rebuild(curve, null, ({ times }) => {
        for (let row = 0; row < times.length; row += 1) times[row]! += by;
      });
