/**
 * Adding keys to a curve without changing its shape: exact subdivision (de Casteljau) of the segments that the new keys fall
 * into. An unweighted segment splits into unweighted ones, since its time is a straight line over the parameter; a weighted one
 * into weighted ones, whose handles may be longer than their segment (`math/bezier-time.ts`).
 *
 * All keys are added in one pass. Outside the keys the curve goes on as it did: a repeat gets its key in the cycle
 * (`placeOfKey`), a slope goes on, a hold stays level.
 */
import { bezierParameter } from '../math/bezier-time.ts';
import { FLAG, isWeighted, rowAtTime, SEGMENT, TANGENT } from './curve.ts';
import type { Columns, Curve } from './curve.ts';
import { evaluate } from './evaluate.ts';
import { edgeSlope, placeOfKey } from './lead.ts';
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
  const wanted = times
    .map((time) => placeOfKey(curve, time))
    .filter((time): time is number => time !== null && rowAtTime(curve, time) < 0)
    .sort((a, b) => a - b)
    .filter((time, i, all) => i === 0 || time - all[i - 1]! > 1e-6);
  if (wanted.length === 0) return curve;
  const added = [...wanted, Infinity];
  const rows: number[] = [];
  for (let row = 0, k = 0; row <= curve.times.length; row += 1) {
    const until = row < curve.times.length ? curve.times[row]! : Infinity;
    while (added[k]! < until) {
      rows.push(-1);
      k += 1;
    }
    if (row < curve.times.length) rows.push(row);
  }
  return rebuild(curve, rows, (columns) => {
    let next = 0;
    rows.forEach((row, i) => {
      if (row >= 0) return;
      columns.times[i] = wanted[next++]!;
      columns.tangentsIn[i] = columns.tangentsOut[i] = TANGENT.free;
    });
    for (let i = 0; i < rows.length; i += 1) {
      if (rows[i]! >= 0) continue;
      const before = i > 0 ? rows[i - 1]! : -1;
      let end = i;
      while (end < rows.length && rows[end]! < 0) end += 1;
      freeze(columns, i - 1);
      freeze(columns, end);
      if (before < 0 || end === rows.length) keyOutside(curve, columns, i, end, before < 0);
      else splitSegment(curve, before, columns, i, end);
      i = end;
    }
  });
}

/** Tangents that follow a rule become free with the slopes they have; a corner becomes broken. */
export function freeze(columns: Columns, row: number): void {
  if (row < 0 || row >= columns.times.length) return;
  if (columns.tangentsIn[row] === TANGENT.free && columns.tangentsOut[row] === TANGENT.free) return;
  columns.tangentsIn[row] = TANGENT.free;
  columns.tangentsOut[row] = TANGENT.free;
  if (columns.slopesIn[row] !== columns.slopesOut[row]) columns.flags[row]! |= FLAG.broken;
}

/** The curve with ends that no new neighbour bends. */
export const withFrozenEnds = (curve: Curve): Curve =>
  rebuild(curve, null, (columns) => {
    freeze(columns, 0);
    freeze(columns, columns.times.length - 1);
  });

/** New keys from `from` to ahead of `to`, ahead of the first old key or past the last: on the level, or on the slope, of the edge. */
function keyOutside(curve: Curve, columns: Columns, from: number, to: number, ahead: boolean): void {
  const slope = (ahead ? curve.leadIn : curve.leadOut) === 'slope' ? edgeSlope(curve, ahead) : 0;
  // What is stepped stays so: its hold beyond the keys is one more of its holds.
  const nearest = curve.segments[ahead ? 0 : curve.times.length - 2];
  const kind = nearest === SEGMENT.stepped && slope === 0 ? SEGMENT.stepped : SEGMENT.cubic;
  for (let i = from; i < to; i += 1) {
    columns.segments[i] = kind;
    columns.values[i] = evaluate(curve, columns.times[i]!);
    columns.slopesIn[i] = columns.slopesOut[i] = slope;
  }
  const edge = ahead ? to : from - 1;
  if (edge < 0 || edge >= columns.times.length) return;
  columns[ahead ? 'slopesIn' : 'slopesOut'][edge] = slope;
  if (!ahead) columns.segments[edge] = kind;
  if (columns.slopesIn[edge] !== columns.slopesOut[edge]) columns.flags[edge]! |= FLAG.broken;
}

/** New keys from `from` to ahead of `to` within the segment that began at the old curve's `row`. */
function splitSegment(curve: Curve, row: number, columns: Columns, from: number, to: number): void {
  const kind = curve.segments[row]!;
  const chord = (curve.values[row + 1]! - curve.values[row]!) / (curve.times[row + 1]! - curve.times[row]!);
  for (let i = from; i < to; i += 1) {
    columns.segments[i] = kind;
    if (kind === SEGMENT.cubic) continue;
    columns.values[i] = evaluate(curve, columns.times[i]!);
    columns.slopesIn[i] = columns.slopesOut[i] = kind === SEGMENT.linear ? chord : 0;
  }
  if (kind === SEGMENT.cubic) splitCubic(curve, row, columns, from, to);
}

/** The least speed of time over the parameter, in parts of the segment. */
const SHORTEST = 1e-30;

function splitCubic(curve: Curve, row: number, columns: Columns, from: number, to: number): void {
  const t0 = curve.times[row]!;
  const v0 = curve.values[row]!;
  const gap = curve.times[row + 1]! - t0;
  const rise = curve.values[row + 1]! - v0;
  const a = curve.lengthsOut[row]!;
  const b = curve.lengthsIn[row + 1]!;
  const weighted = isWeighted(curve, row);
  // The three steps of the control polygon, in time and in value.
  const stepsT = [a, gap - a - b, b] as const;
  const stepsV = [a * curve.slopesOut[row]!, 0, b * curve.slopesIn[row + 1]!] as [number, number, number];
  stepsV[1] = rise - stepsV[0] - stepsV[2];
  const velocity = (steps: readonly [number, number, number], u: number) =>
    (1 - u) * ((1 - u) * steps[0] + 2 * u * steps[1]) + u * u * steps[2];
  let before = 0;
  // Where the curve stands upright its handles have next to no length, and a slope that keeps where they lead.
  const speed = (u: number) => Math.max(velocity(stepsT, u), SHORTEST * gap);
  /** The handles of the part from one parameter to another. */
  const handles = (start: number, end: number, i: number) => {
    if (!weighted) return;
    columns.lengthsOut[i] = start === 0 ? end * a : (end - start) * speed(start);
    columns.lengthsIn[i + 1] = end === 1 ? (1 - start) * b : (end - start) * speed(end);
    columns.flags[i]! |= FLAG.weightedOut;
    columns.flags[i + 1]! |= FLAG.weightedIn;
  };
  for (let i = from; i < to; i += 1) {
    const x = (columns.times[i]! - t0) / gap;
    const u = weighted ? bezierParameter(a / gap, 1 - b / gap, x, x) : x;
    const w = 1 - u;
    columns.values[i] =
      v0 + 3 * w * w * u * stepsV[0] + 3 * w * u * u * (stepsV[0] + stepsV[1]) + u * u * u * rise;
    columns.slopesIn[i] = columns.slopesOut[i] = velocity(stepsV, u) / speed(u);
    handles(before, u, i - 1);
    before = u;
  }
  handles(before, 1, to - 1);
}
