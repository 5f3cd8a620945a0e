/** Curves of captured motion: a key on each of the same times, straight between, one beside the other. */
import { emptyColumns, SEGMENT, TANGENT } from './curve.ts';
import type { Curve } from './curve.ts';

/**
 * Makes curves with keys on the same times: the columns that do not hang on values are made once and are the same for all of them, since a curve is never changed in place. What
 * comes out is what `buildCurve` makes, to the bit.
 * @param times rising by more than keys that count as one are apart, at least one
 */
export function straightCurvesOn(times: Float64Array): (values: Float64Array) => Curve {
  const { lengthsIn, lengthsOut, segments, tangentsIn, tangentsOut, flags, ids } = emptyColumns(times.length);
  const last = times.length - 1;
  for (let i = 0; i <= last; i += 1) {
    const before = i > 0 ? times[i]! - times[i - 1]! : last > 0 ? times[1]! - times[0]! : 1;
    lengthsIn[i] = before / 3;
    lengthsOut[i] = (i < last ? times[i + 1]! - times[i]! : before) / 3;
    ids[i] = i + 1;
  }
  segments.fill(SEGMENT.linear);
  tangentsIn.fill(TANGENT.linear);
  tangentsOut.fill(TANGENT.linear);
  const leads = { leadIn: 'hold', leadOut: 'hold', leadInCount: 0, leadOutCount: 0 } as const;
  const shared = { times, lengthsIn, lengthsOut, segments, tangentsIn, tangentsOut, flags, ids, ...leads };
  return (values) => {
    const [slopesIn, slopesOut] = [new Float64Array(times.length), new Float64Array(times.length)];
    for (let i = 0; i < last; i += 1) {
      const slope = (values[i + 1]! - values[i]!) / (times[i + 1]! - times[i]!);
      slopesOut[i] = slope;
      slopesIn[i + 1] = slope;
    }
    // At the ends there is but one neighbour.
    slopesIn[0] = slopesOut[0]!;
    slopesOut[last] = slopesIn[last]!;
    return { ...shared, values, slopesIn, slopesOut };
  };
}
