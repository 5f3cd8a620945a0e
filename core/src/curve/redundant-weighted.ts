/**
 * Weighted segments that are two halves of one: the key between them goes, and the handles beside it become those of the whole. Where de Casteljau divides a
 * polygon P0 … P3 at u, the handles of the new key are as u to 1 − u, and P1 = P0 + (left − P0)/u, P2 = P3 + (right − P3)/(1 − u); what is found so is divided again and
 * compared.
 */
import { FLAG, isWeighted, SEGMENT } from './curve.ts';
import type { Curve } from './curve.ts';
import { rowsOf } from './rows-of.ts';
import { divide } from './split.ts';

type Point = readonly [number, number];
type Polygon = readonly [Point, Point, Point, Point];

/** Parts of the segment's length and rise that rounding may come to. */
const EQUAL = 1e-9;

/** The curve without weighted keys that change nothing; the same object where there are none. @param mayGo whether the key of a row may be taken out */
export function withoutRedundantWeighted(curve: Curve, mayGo: (row: number) => boolean): Curve {
  const last = curve.times.length - 1;
  const kept = [0];
  const merged = new Map<number, Polygon>();
  for (let from = 0; from < last;) {
    let whole = polygonOf(curve, from, from + 1);
    let to = from + 1;
    while (to < last && mayGo(to) && isHalf(curve, to)) {
      const joined: Polygon | null = whole && joinedPolygon(whole, polygonOf(curve, to, to + 1));
      if (!joined) break;
      whole = joined;
      to += 1;
    }
    if (to > from + 1 && whole) merged.set(from, whole);
    kept.push(to);
    from = to;
  }
  if (merged.size === 0) return curve;
  return rowsOf(curve, kept, (columns) => {
    kept.forEach((row, i) => {
      const polygon = merged.get(row);
      if (!polygon) return;
      const [p0, p1, p2, p3] = polygon;
      columns.lengthsOut[i] = p1[0] - p0[0];
      columns.lengthsIn[i + 1] = p3[0] - p2[0];
      columns.flags[i]! |= FLAG.weightedOut;
      columns.flags[i + 1]! |= FLAG.weightedIn;
    });
  });
}

/** Whether a key lies between two cubic segments, a weighted one among them, without a corner. */
function isHalf(curve: Curve, row: number): boolean {
  const { segments, slopesIn, slopesOut } = curve;
  if (segments[row - 1] !== SEGMENT.cubic || segments[row] !== SEGMENT.cubic) return false;
  if (!isWeighted(curve, row - 1) && !isWeighted(curve, row)) return false;
  const [a, b] = [slopesIn[row]!, slopesOut[row]!];
  return Math.abs(a - b) <= 1e-7 * (1 + Math.abs(a) + Math.abs(b));
}

function polygonOf(
  { times, values, slopesIn, slopesOut, lengthsIn, lengthsOut }: Curve,
  from: number,
  to: number,
): Polygon {
  const [a, b] = [lengthsOut[from]!, lengthsIn[to]!];
  return [
    [times[from]!, values[from]!],
    [times[from]! + a, values[from]! + a * slopesOut[from]!],
    [times[to]! - b, values[to]! - b * slopesIn[to]!],
    [times[to]!, values[to]!],
  ];
}

/** The polygon of which these are the halves; null where there is none. */
function joinedPolygon(left: Polygon, right: Polygon): Polygon | null {
  const [into, out] = [left[3][0] - left[2][0], right[1][0] - right[0][0]];
  if (!(into > 0) || !(out > 0)) return null;
  const u = into / (into + out);
  const whole: Polygon = [
    left[0],
    away(left[0], left[1], 1 / u),
    away(right[3], right[2], 1 / (1 - u)),
    right[3],
  ];
  const halves = divide(...whole, u);
  const all = [...whole, ...left, ...right];
  const size = (axis: 0 | 1) =>
    Math.max(...all.map((one) => one[axis])) - Math.min(...all.map((one) => one[axis]));
  const [long, high] = [size(0), size(1)];
  const near = (a: Point, b: Point) =>
    Math.abs(a[0] - b[0]) <= EQUAL * long && Math.abs(a[1] - b[1]) <= EQUAL * (high + 1e-300);
  const alike =
    near([halves.time, halves.value], left[3]) &&
    near(halves.left[1], left[2]) &&
    near(halves.right[0], right[1]);
  return alike ? whole : null;
}

const away = (from: Point, through: Point, times: number): Point => [
  from[0] + (through[0] - from[0]) * times,
  from[1] + (through[1] - from[1]) * times,
];
