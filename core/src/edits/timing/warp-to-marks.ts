/** The points of a warp that brings poses to where somebody marked them, on footage for one. */
import type { FrameRange } from '../../base/frame-range.ts';
import type { WarpPoint } from '../../curve/warp.ts';

/**
 * Each mark gets a pose column of its own, in the order of time, so that all of them together move least; with fewer columns than marks each column gets a mark. The ends of the range stay
 * unless a column there is drawn.
 * @param columns frames, rising @param marks frames, in any order; those of one whole frame count once
 * @returns old and new frames, both rising
 */
export function warpToMarks(
  columns: readonly number[],
  marks: readonly number[],
  { start, end }: FrameRange,
): WarpPoint[] {
  const wanted = [...new Set(marks.map(Math.round))]
    .filter((at) => at >= start && at <= end)
    .sort((a, b) => a - b);
  const points = paired(columns, wanted);
  const [first, last] = [points[0], points.at(-1)];
  return [
    ...(first && (first[0] <= start || first[1] <= start) ? [] : [[start, start] as const]),
    ...points,
    ...(last && (last[0] >= end || last[1] >= end) ? [] : [[end, end] as const]),
  ];
}

/** Two rising lists, each of the shorter with one of the longer, in order, at the least sum of distances. */
function paired(columns: readonly number[], marks: readonly number[]): WarpPoint[] {
  const isTurned = columns.length < marks.length;
  const [few, many] = isTurned ? [columns, marks] : [marks, columns];
  // best[i][j]: the least for the first i of the few among the first j of the many.
  const best = Array.from({ length: few.length + 1 }, (_, i) =>
    Array.from({ length: many.length + 1 }, () => (i === 0 ? 0 : Infinity)),
  );
  for (let i = 1; i <= few.length; i += 1)
    for (let j = i; j <= many.length; j += 1)
      best[i]![j] = Math.min(best[i]![j - 1]!, best[i - 1]![j - 1]! + Math.abs(few[i - 1]! - many[j - 1]!));
  const found: WarpPoint[] = [];
  for (let i = few.length, j = many.length; i > 0; j -= 1) {
    if (best[i]![j] === best[i]![j - 1]) continue;
    const [one, other] = [few[i - 1]!, many[j - 1]!];
    found.unshift(isTurned ? [one, other] : [other, one]);
    i -= 1;
  }
  return found;
}
