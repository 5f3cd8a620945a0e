/** Time against time: a monotone curve through pairs of old and new frames (Fritsch & Carlson 1980). */
import { SEGMENT, TANGENT } from './curve.ts';
import type { Curve } from './curve.ts';
import { evaluate } from './evaluate.ts';
import { buildCurve } from './rebuild.ts';

export type WarpPoint = readonly [from: number, to: number];

/** The monotone curve through the points, which rise in `from`. */
function monotone(points: readonly WarpPoint[]): Curve {
  return buildCurve(points.length, (columns) => {
    points.forEach(([from, to], i) => {
      columns.times[i] = from;
      columns.values[i] = to;
    });
    columns.segments.fill(SEGMENT.cubic);
    columns.tangentsIn.fill(TANGENT.steady);
    columns.tangentsOut.fill(TANGENT.steady);
  });
}

/** How fast new frames go by for each old one, at each point. */
export const ratesOf = (points: readonly WarpPoint[]): readonly number[] => [...monotone(points).slopesOut];

/** Where old frames come to lie: through the points, straight on outside them with a slope of 1. */
export function warpOf(points: readonly WarpPoint[]): (frame: number) => number {
  const curve = monotone(points);
  const [first, last] = [points[0]!, points[points.length - 1]!];
  return (frame) => {
    if (frame <= first[0]) return first[1] + (frame - first[0]);
    if (frame >= last[0]) return last[1] + (frame - last[0]);
    return evaluate(curve, frame);
  };
}

/** The first frame at which time would run backward, or null. */
export function foldsAt(points: readonly WarpPoint[]): number | null {
  for (let i = 1; i < points.length; i += 1) if (points[i]![1] <= points[i - 1]![1]) return points[i]![0];
  return null;
}
