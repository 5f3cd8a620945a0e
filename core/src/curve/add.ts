/** One curve laid on another: values added, and slopes with them. */
import { SEGMENT, TANGENT } from './curve.ts';
import type { Curve } from './curve.ts';
import { bisectRight } from '../base/bisect.ts';
import { evaluate, slopeAt } from './evaluate.ts';
import { rebuild } from './rebuild.ts';
import { addKeysKeepingShape } from './split.ts';

/**
 * `part` with what `base` shows below it added, so that the sum is exact wherever both are unweighted curves or lines: it gets a
 * key wherever the base has one. Where the part holds its keys hold, too.
 * @param part frames from 0, which lies on frame `start` of the base; @param zero the value of the part that counts as nothing
 */
export function addedTo(base: Curve, part: Curve, start: number, zero: number): Curve {
  const end = part.times[part.times.length - 1] ?? 0;
  const inside = [...base.times]
    .map((time) => time - start)
    .filter((time) => time > 1e-6 && time < end - 1e-6);
  const whole = addKeysKeepingShape(part, inside);
  const below = addKeysKeepingShape(
    base,
    [...whole.times].map((time) => time + start),
  );
  return rebuild(whole, null, (columns) => {
    for (let row = 0; row < whole.times.length; row += 1) {
      const time = whole.times[row]! + start;
      columns.values[row] = whole.values[row]! - zero + evaluate(below, time);
      if (whole.segments[row] === SEGMENT.stepped) continue;
      const at = bisectRight(below.times, time + 1e-6) - 1;
      const keyed = at >= 0 && Math.abs(below.times[at]! - time) < 1e-6;
      const curved = at >= 0 && below.segments[at] === SEGMENT.cubic && at + 1 < below.times.length;
      if (curved && whole.segments[row] === SEGMENT.linear) columns.segments[row] = SEGMENT.cubic;
      columns.slopesIn[row] = slopeInto(whole, row) + (keyed ? slopeInto(below, at) : slopeAt(below, time));
      columns.slopesOut[row] = slopeFrom(whole, row) + slopeAt(below, time);
      columns.tangentsIn[row] = columns.tangentsOut[row] = TANGENT.free;
    }
  });
}

const slopeFrom = (curve: Curve, row: number) => slopeAt(curve, curve.times[row]!);

/** The slope with which the curve comes into a key. */
function slopeInto({ times, values, slopesIn, segments }: Curve, row: number): number {
  if (row === 0) return 0;
  if (segments[row - 1] === SEGMENT.stepped) return 0;
  if (segments[row - 1] === SEGMENT.linear)
    return (values[row]! - values[row - 1]!) / (times[row]! - times[row - 1]!);
  return slopesIn[row]!;
}
