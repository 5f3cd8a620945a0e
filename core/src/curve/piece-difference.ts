/**
 * The greatest distance of two pieces over an interval that lies in both, where one of them is weighted.
 *
 * Branch and bound (Land & Doig 1960): over any part of the interval a Bézier segment leaves its chord by
 * 3u(1−u)²·d₁ + 3u²(1−u)·d₂, where d are the distances of its inner control points from the chord, so by no more than ¾ of the
 * greater, and that falls with the square of the part's length. A part whose bound is no more than what was found already is
 * left; any other is halved. What comes out is found at a place, and is less than the greatest by no more than 1e-10 of it and
 * of the size of the pieces.
 *
 * Two pieces of one curve would be halved for ever, since the bounds of two that run alike do not cancel: two cubics that meet
 * in ten places are the same (Bézout), so those are asked first.
 */
import { bezierParameter } from '../math/bezier-time.ts';
import type { Piece } from './piece.ts';

/** Value and slope over the parameter of a piece at one time. */
interface Point {
  readonly u: number;
  readonly time: number;
  readonly value: number;
  /** Derivatives over the parameter. */
  readonly timeU: number;
  readonly valueU: number;
}

function pointOf(piece: Piece, time: number): Point {
  if (piece.straight) {
    const value = Number.isFinite(piece.start)
      ? piece.value + piece.slope * (time - piece.start)
      : piece.value + piece.slope * time;
    return { u: time, time, value, timeU: 1, valueU: piece.slope };
  }
  const gap = piece.end - piece.start;
  const [a, b] = piece.weighted ? [piece.lengthOut, piece.lengthIn] : [gap / 3, gap / 3];
  const x = Math.min(Math.max((time - piece.start) / gap, 0), 1);
  const u = piece.weighted ? bezierParameter(a / gap, 1 - b / gap, x, x) : x;
  const w = 1 - u;
  const [v1, v3] = [a * piece.slopeOut, b * piece.slopeIn];
  const v2 = piece.rise - v1 - v3;
  return {
    u,
    time,
    value: piece.value + 3 * w * w * u * v1 + 3 * w * u * u * (v1 + v2) + u * u * u * piece.rise,
    timeU: 3 * (w * w * a + 2 * w * u * (gap - a - b) + u * u * b),
    valueU: 3 * (w * w * v1 + 2 * w * u * v2 + u * u * v3),
  };
}

/** How far the part between two points can leave its chord: the least and the greatest, as `[low, high]`. */
function leave(piece: Piece, from: Point, to: Point, out: [number, number]): void {
  out[0] = out[1] = 0;
  if (piece.straight) return;
  const third = (to.u - from.u) / 3;
  const gap = to.time - from.time;
  const chord = gap > 0 ? (to.value - from.value) / gap : 0;
  const d1 = third * (from.valueU - chord * from.timeU);
  const d2 = -third * (to.valueU - chord * to.timeU);
  out[0] = 0.75 * Math.min(d1, d2, 0);
  out[1] = 0.75 * Math.max(d1, d2, 0);
}

export interface Farthest {
  distance: number;
  frame: number;
}

const PRECISION = 1e-10;
const DEEPEST = 50;
/** One more than two cubics that are not the same can meet in, and a few to spare. */
const MEETINGS = 13;

/** How far values of a piece may come to lie from 0. */
function sizeOf({
  straight,
  value,
  rise,
  slope,
  start,
  end,
  lengthOut,
  lengthIn,
  slopeOut,
  slopeIn,
}: Piece): number {
  if (straight) return Math.abs(value) + (Number.isFinite(end - start) ? Math.abs(slope * (end - start)) : 0);
  return Math.abs(value) + Math.abs(rise) + Math.abs(lengthOut * slopeOut) + Math.abs(lengthIn * slopeIn);
}

/** Whether the pieces are one curve, as far as numbers can tell; what it saw goes into `see`. */
function areOne(
  a: Piece,
  b: Piece,
  start: number,
  end: number,
  size: number,
  see: (p: Point, q: Point) => void,
): boolean {
  let one = true;
  for (let k = 1; k < MEETINGS; k += 1) {
    const time = start + ((end - start) * k) / MEETINGS;
    const [p, q] = [pointOf(a, time), pointOf(b, time)];
    see(p, q);
    one &&= Math.abs(p.value - q.value) <= 1e-12 * size;
  }
  return one;
}

/**
 * Looks for a distance of more than `found.distance` between the pieces from `start` to `end`, and writes the greatest there.
 * @param found in: what is known already; out: the greatest distance, in the curves' unit, and its frame
 */
export function farthestApart(a: Piece, b: Piece, start: number, end: number, found: Farthest): void {
  const leaveA: [number, number] = [0, 0];
  const leaveB: [number, number] = [0, 0];
  const see = (p: Point, q: Point) => {
    const distance = Math.abs(p.value - q.value);
    if (distance <= found.distance) return;
    found.distance = distance;
    found.frame = p.time;
  };
  const search = (a0: Point, b0: Point, a1: Point, b1: Point, depth: number): void => {
    leave(a, a0, a1, leaveA);
    leave(b, b0, b1, leaveB);
    const [e0, e1] = [a0.value - b0.value, a1.value - b1.value];
    const high = Math.max(e0, e1) + leaveA[1] - leaveB[0];
    const low = Math.min(e0, e1) + leaveA[0] - leaveB[1];
    const bound = Math.max(high, -low);
    if (depth >= DEEPEST || bound <= found.distance * (1 + PRECISION) + floor) return;
    const middle = (a0.time + a1.time) / 2;
    if (!(middle > a0.time && middle < a1.time)) return;
    const [am, bm] = [pointOf(a, middle), pointOf(b, middle)];
    see(am, bm);
    // The half with the greater end first: what it finds spares the other.
    if (Math.abs(e0) >= Math.abs(e1)) {
      search(a0, b0, am, bm, depth + 1);
      search(am, bm, a1, b1, depth + 1);
    } else {
      search(am, bm, a1, b1, depth + 1);
      search(a0, b0, am, bm, depth + 1);
    }
  };
  const [a0, b0, a1, b1] = [pointOf(a, start), pointOf(b, start), pointOf(a, end), pointOf(b, end)];
  const size = sizeOf(a) + sizeOf(b);
  const floor = PRECISION * size + Number.MIN_VALUE;
  see(a0, b0);
  see(a1, b1);
  if (!areOne(a, b, start, end, size, see)) search(a0, b0, a1, b1, 0);
}

/**
 * Where a weighted segment is farther than `tolerance` from the straight lines between samples, at its farthest; else null.
 * @param times, values the samples, one on each end of the segment: rows `from` to `to`
 */
export function strayFromLines(
  segment: Piece,
  times: Float64Array,
  values: Float64Array,
  from: number,
  to: number,
  tolerance: number,
): number | null {
  const found: Farthest = { distance: tolerance, frame: NaN };
  const left: [number, number] = [0, 0];
  const line: Piece = { ...segment, straight: true, weighted: false };
  let before = pointOf(segment, times[from]!);
  for (let i = from; i < to; i += 1) {
    const after = pointOf(segment, times[i + 1]!);
    leave(segment, before, after, left);
    const [e0, e1] = [before.value - values[i]!, after.value - values[i + 1]!];
    const bound = Math.max(Math.max(e0, e1) + left[1], -(Math.min(e0, e1) + left[0]));
    if (bound > found.distance) {
      line.start = times[i]!;
      line.end = times[i + 1]!;
      line.value = values[i]!;
      line.slope = (values[i + 1]! - values[i]!) / (line.end - line.start);
      farthestApart(line, segment, line.start, line.end, found);
    }
    before = after;
  }
  return Number.isNaN(found.frame) ? null : found.frame;
}

/** The value of a piece at a time within it, seen from inside. */
export const valueOf = (piece: Piece, time: number): number => pointOf(piece, time).value;
