/**
 * Adding keys to a curve without changing its shape: exact subdivision (de Casteljau) of the segment
 * that the new key falls into. An unweighted segment splits into two unweighted ones, since its
 * time is a straight line over the parameter.
 */
import { bisectRight } from '../base/bisect.ts';
import { bezierParameter } from '../math/bezier-time.ts';
import { FLAG, isWeighted, rowAtTime, SEGMENT, TANGENT } from './curve.ts';
import type { Columns, Curve } from './curve.ts';
import { evaluate } from './evaluate.ts';
import { rebuild } from './rebuild.ts';

/** Two control polygons that share the middle point: times and values of the six inner points. */
interface Halves {
  readonly time: number;
  readonly value: number;
  /** Inner points of the left and of the right half: [time, value]. */
  readonly left: readonly [Point, Point];
  readonly right: readonly [Point, Point];
}
type Point = readonly [number, number];

const between = (a: Point, b: Point, u: number): Point => [
  a[0] + (b[0] - a[0]) * u,
  a[1] + (b[1] - a[1]) * u,
];

/** Divides a cubic Bézier segment at u (de Casteljau). */
export function divide(p0: Point, p1: Point, p2: Point, p3: Point, u: number): Halves {
  const a = between(p0, p1, u);
  const b = between(p1, p2, u);
  const c = between(p2, p3, u);
  const d = between(a, b, u);
  const e = between(b, c, u);
  const [time, value] = between(d, e, u);
  return { time, value, left: [a, d], right: [e, c] };
}

/**
 * The curve with keys added at `times`; where a key stands already nothing is added. The keys that bound
 * a split segment become free, so that their rules do not bend the curve again.
 */
export function addKeysKeepingShape(curve: Curve, times: readonly number[]): Curve {
  return times.reduce((result, time) => addKeyKeepingShape(result, time), curve);
}

function addKeyKeepingShape(curve: Curve, time: number): Curve {
  if (rowAtTime(curve, time) >= 0) return curve;
  const row = bisectRight(curve.times, time) - 1;
  const count = curve.times.length;
  const rows = Array.from({ length: count + 1 }, (_, i) => (i <= row ? i : i === row + 1 ? -1 : i - 1));
  const value = evaluate(curve, time);
  const outside = row < 0 || row === count - 1;
  return rebuild(curve, rows, (columns) => {
    columns.times[row + 1] = time;
    columns.values[row + 1] = value;
    freeze(columns, row);
    freeze(columns, row + 1);
    freeze(columns, row + 2);
    if (outside) {
      // Ahead of the first key and past the last the curve holds: the new segment must be level.
      const earlier = row < 0 ? 0 : row;
      if (earlier + 1 < columns.times.length) levelSegment(columns, earlier);
      return;
    }
    columns.segments[row + 1] = curve.segments[row]!;
    if (curve.segments[row] === SEGMENT.cubic) splitCubic(curve, row, time, columns);
    else if (curve.segments[row] === SEGMENT.linear) {
      columns.slopesIn[row + 1] = columns.slopesOut[row + 1] =
        (curve.values[row + 1]! - curve.values[row]!) / (curve.times[row + 1]! - curve.times[row]!);
    }
  });
}

/** Tangents that follow a rule become free with the slopes they have; a corner becomes broken. */
function freeze(columns: Columns, row: number): void {
  if (row < 0 || row >= columns.times.length) return;
  if (columns.tangentsIn[row] === TANGENT.free && columns.tangentsOut[row] === TANGENT.free) return;
  columns.tangentsIn[row] = TANGENT.free;
  columns.tangentsOut[row] = TANGENT.free;
  if (columns.slopesIn[row] !== columns.slopesOut[row]) columns.flags[row]! |= FLAG.broken;
}

function levelSegment(columns: Columns, row: number): void {
  columns.segments[row] = SEGMENT.cubic;
  columns.slopesOut[row] = 0;
  columns.slopesIn[row + 1] = 0;
  for (const at of [row, row + 1]) {
    if (columns.slopesIn[at] !== columns.slopesOut[at]) columns.flags[at]! |= FLAG.broken;
  }
}

function splitCubic(curve: Curve, row: number, time: number, columns: Columns): void {
  const t0 = curve.times[row]!;
  const t1 = curve.times[row + 1]!;
  const v0 = curve.values[row]!;
  const v1 = curve.values[row + 1]!;
  const a = curve.lengthsOut[row]!;
  const b = curve.lengthsIn[row + 1]!;
  const weighted = isWeighted(curve, row);
  const x = (time - t0) / (t1 - t0);
  const u = weighted ? bezierParameter(a / (t1 - t0), 1 - b / (t1 - t0), x, x) : x;
  const halves = divide(
    [t0, v0],
    [t0 + a, v0 + a * curve.slopesOut[row]!],
    [t1 - b, v1 - b * curve.slopesIn[row + 1]!],
    [t1, v1],
    u,
  );
  const middle = row + 1;
  const slope =
    (halves.right[0][1] - halves.left[1][1]) / Math.max(halves.right[0][0] - halves.left[1][0], 1e-12);
  columns.values[middle] = halves.value;
  columns.slopesIn[middle] = columns.slopesOut[middle] = slope;
  if (!weighted) return;
  columns.lengthsOut[row] = halves.left[0][0] - t0;
  columns.lengthsIn[middle] = time - halves.left[1][0];
  columns.lengthsOut[middle] = halves.right[0][0] - time;
  columns.lengthsIn[middle + 1] = t1 - halves.right[1][0];
  columns.flags[row]! |= FLAG.weightedOut;
  columns.flags[middle]! |= FLAG.weightedIn | FLAG.weightedOut;
  columns.flags[middle + 1]! |= FLAG.weightedIn;
}
