/**
 * How far two curves are apart, between the keys too.
 *
 * Over each interval between neighbouring keys of either curve both are one segment. Where neither is
 * weighted their difference is one cubic polynomial, and its greatest value is found exactly, from the
 * roots of its derivative. Where one is weighted it is bounded safely (`piece-difference.ts`). Outside the keys each repeat is
 * walked like the segments that it plays (`piece.ts`).
 */
import { bisectRight } from '../base/bisect.ts';
import type { FrameRange } from '../base/frame-range.ts';
import { isWeighted, SEGMENT } from './curve.ts';
import type { Curve } from './curve.ts';
import { evaluate } from './evaluate.ts';
import { hasLead } from './lead.ts';
import { newPiece, pieceAfter } from './piece.ts';
import type { Piece } from './piece.ts';
import { farthestApart, valueOf } from './piece-difference.ts';
import type { Farthest } from './piece-difference.ts';

export interface Difference {
  /** The greatest distance, in the curve's unit, and the frame where it is. */
  readonly greatest: number;
  readonly frame: number;
  /** Root mean square over time. */
  readonly rms: number;
}

/** Told of each interval: the row of `b` that it belongs to, and the greatest distance in it and where. */
type Visit = (rowB: number, greatest: number, frame: number) => void;

/** The greatest and the RMS distance of two curves over a range of frames. */
export function differenceOf(a: Curve, b: Curve, range: FrameRange): Difference {
  let greatest = 0;
  let frame = range.start;
  floor = 0;
  const squares = walk(a, b, range, (_, distance, at) => {
    if (distance > greatest) {
      floor = greatest = distance;
      frame = at;
    }
  });
  const length = range.end - range.start;
  return { greatest, frame, rms: length > 0 ? Math.sqrt(squares / length) : greatest };
}

/** For each segment of `b` in the range where it strays from `a` by more than `tolerance`: the row and the frame. */
export function straySegments(a: Curve, b: Curve, range: FrameRange, tolerance: number): Map<number, number> {
  const result = new Map<number, number>();
  const worst = new Map<number, number>();
  floor = tolerance;
  walk(a, b, range, (row, distance, at) => {
    if (distance <= tolerance || distance <= (worst.get(row) ?? 0)) return;
    worst.set(row, distance);
    result.set(row, at);
  });
  return result;
}

/** Each curve's present segment: see `powersOf`. */
const first = new Float64Array(5);
const second = new Float64Array(5);
/** The greatest distance that the last interval showed, and its place: out-parameters of the kernels below. */
const found = { distance: 0, at: 0 };
/** Distances up to this one need not be exact: nobody asks for them. */
let floor = 0;

/** Walks the intervals between neighbouring keys of either curve; returns the integral of the squared distance. */
function walk(a: Curve, b: Curve, range: FrameRange, visit: Visit): number {
  let rowA = bisectRight(a.times, range.start) - 1;
  let rowB = bisectRight(b.times, range.start) - 1;
  let exactA = powersOf(a, rowA, first);
  let exactB = powersOf(b, rowB, second);
  let t0 = range.start;
  let squares = 0;
  do {
    if (exactB && isLine(a, rowA) && t0 === a.times[rowA]) {
      const until = Math.min(rowB + 1 < b.times.length ? b.times[rowB + 1]! : Infinity, range.end);
      const end = lineEnd(a, rowA, until);
      if (end > rowA) {
        squares += lineDistance(a, rowA, end);
        visit(rowB, found.distance, found.at);
        t0 = a.times[end]!;
        exactA = powersOf(a, (rowA = end), first);
        if (rowB + 1 < b.times.length && b.times[rowB + 1]! <= t0) exactB = powersOf(b, (rowB += 1), second);
        if (t0 >= range.end) break;
      }
    }
    const nextA = rowA + 1 < a.times.length ? a.times[rowA + 1]! : Infinity;
    const nextB = rowB + 1 < b.times.length ? b.times[rowB + 1]! : Infinity;
    const t1 = Math.min(nextA, nextB, range.end);
    const gap = t1 - t0;
    if (gap > 1e-9 || range.end === range.start) {
      squares += exactA && exactB ? gap * cubicDistance(t0, gap) : pieceDistance(a, b, t0, t1);
      visit(rowB, found.distance, found.at);
    }
    if (nextA <= t1) exactA = powersOf(a, (rowA += 1), first);
    if (nextB <= t1) exactB = powersOf(b, (rowB += 1), second);
    t0 = t1;
  } while (t0 < range.end);
  return squares;
}

function isLine({ times, segments }: Curve, row: number): boolean {
  return row >= 0 && row + 1 < times.length && segments[row] === SEGMENT.linear;
}

/** The row at which straight lines from `row` on end, none of them reaching past `until`. */
function lineEnd({ times, segments }: Curve, row: number, until: number): number {
  let end = row;
  while (end + 1 < times.length && segments[end] === SEGMENT.linear && times[end + 1]! <= until) end += 1;
  return end;
}

/**
 * The greatest distance of `second` from straight lines between rows of `a`; returns the integral of its square (Simpson).
 * What `cubicDistance` finds, for captured motion: most of a comparison's time is spent here.
 */
function lineDistance({ times, values }: Curve, from: number, to: number): number {
  const [b0, b1, b2, b3, start] = second as unknown as [number, number, number, number, number];
  let squares = 0;
  let greatest = -1;
  let frame = times[from]!;
  let d = frame - start;
  let e0 = b0 + d * (b1 + d * (b2 + d * b3)) - values[from]!;
  for (let i = from; i < to; i += 1) {
    const gap = times[i + 1]! - times[i]!;
    const next = times[i + 1]! - start;
    const end = b0 + next * (b1 + next * (b2 + next * b3)) - values[i + 1]!;
    const c2 = (b2 + 3 * b3 * d) * gap * gap;
    const c3 = b3 * gap * gap * gap;
    // From the two ends, since the distance there is what was just worked out.
    const c1 = end - e0 - c2 - c3;
    const half = e0 + (c1 + (c2 + c3 / 2) / 2) / 2;
    squares += (gap * (e0 * e0 + 4 * half * half + end * end)) / 6;
    let distance = Math.abs(e0);
    let at = times[i]!;
    if (Math.abs(end) > distance) {
      distance = Math.abs(end);
      at = times[i + 1]!;
    }
    if (distance + (2 * Math.abs(c2) + 6 * Math.abs(c3)) / 8 > Math.max(floor, greatest)) {
      const root = c2 * c2 - 3 * c1 * c3;
      if (root >= 0) {
        const sum = -(c2 + (c2 < 0 ? -1 : 1) * Math.sqrt(root));
        for (let k = 0; k < 2; k += 1) {
          const u = k === 0 ? sum / (3 * c3) : c1 / sum;
          if (!(u > 0 && u < 1)) continue;
          const inside = Math.abs(e0 + u * (c1 + u * (c2 + u * c3)));
          if (inside <= distance) continue;
          distance = inside;
          at = times[i]! + u * gap;
        }
      }
    }
    if (distance > greatest) {
      greatest = distance;
      frame = at;
    }
    d = next;
    e0 = end;
  }
  found.distance = greatest;
  found.at = frame;
  return squares;
}

function consider(distance: number, at: number): void {
  if (Math.abs(distance) <= found.distance) return;
  found.distance = Math.abs(distance);
  found.at = at;
}

/** The greatest distance of the cubics `first` and `second` over one interval; returns the mean square (Simpson). */
function cubicDistance(t0: number, gap: number): number {
  // Both moved to the interval's start and scaled to its length: c0 + c1·u + c2·u² + c3·u³ for u in [0, 1].
  const d = t0 - first[4]!;
  const e = t0 - second[4]!;
  const c0 =
    first[0]! +
    d * (first[1]! + d * (first[2]! + d * first[3]!)) -
    (second[0]! + e * (second[1]! + e * (second[2]! + e * second[3]!)));
  const c1 =
    gap *
    (first[1]! +
      d * (2 * first[2]! + 3 * d * first[3]!) -
      (second[1]! + e * (2 * second[2]! + 3 * e * second[3]!)));
  const bent = second[2]! + 3 * e * second[3]!;
  const square = gap * gap;
  const c2 = square * (first[2]! + 3 * d * first[3]! - bent);
  const c3 = square * gap * (first[3]! - second[3]!);
  const half = c0 + (c1 + (c2 + c3 / 2) / 2) / 2;
  const end = c0 + c1 + c2 + c3;
  found.distance = Math.abs(c0);
  found.at = t0;
  consider(end, t0 + gap);
  // Off its chord the difference leaves by no more than this.
  const off = (2 * Math.abs(c2) + 6 * Math.abs(c3)) / 8;
  // Both roots of c1 + 2·c2·u + 3·c3·u², in the form that does not cancel.
  const root = found.distance + off > floor ? c2 * c2 - 3 * c1 * c3 : -1;
  if (root >= 0) {
    const sum = -(c2 + (c2 < 0 ? -1 : 1) * Math.sqrt(root));
    const u = sum / (3 * c3);
    const v = c1 / sum;
    if (u > 0 && u < 1) consider(c0 + u * (c1 + u * (c2 + u * c3)), t0 + u * gap);
    if (v > 0 && v < 1) consider(c0 + v * (c1 + v * (c2 + v * c3)), t0 + v * gap);
  }
  return (c0 * c0 + 4 * half * half + end * end) / 6;
}

/**
 * The segment as c0 + c1·s + c2·s² + c3·s³ with s in frames from out[4]; false where it is weighted or repeats.
 * Row −1 is ahead of the first key.
 */
function powersOf(curve: Curve, row: number, out: Float64Array): boolean {
  const { times, values, slopesOut, slopesIn, segments } = curve;
  const outside = row < 0 || row + 1 >= times.length;
  out[0] = times.length === 0 ? 0 : values[Math.max(row, 0)]!;
  out[1] = out[2] = out[3] = 0;
  out[4] = outside ? 0 : times[row]!;
  if (outside) return !hasLead(curve);
  if (segments[row] === SEGMENT.stepped) return true;
  const scale = 1 / (times[row + 1]! - times[row]!);
  const rise = (values[row + 1]! - values[row]!) * scale;
  if (segments[row] === SEGMENT.linear) {
    out[1] = rise;
    return true;
  }
  if (isWeighted(curve, row)) return false;
  const c1 = slopesOut[row]!;
  const d1 = slopesIn[row + 1]!;
  out[1] = c1;
  out[2] = (3 * rise - 2 * c1 - d1) * scale;
  out[3] = (c1 + d1 - 2 * rise) * scale * scale;
  return true;
}

const pieceA = newPiece();
const pieceB = newPiece();
const farthest: Farthest = { distance: 0, frame: 0 };

/** What `cubicDistance` finds, for weighted segments and repeats, from frame to frame; returns the integral of the square. */
function pieceDistance(a: Curve, b: Curve, from: number, to: number): number {
  let squares = 0;
  let best = -1;
  let frame = from;
  for (let t0 = from; t0 < to;) {
    pieceAfter(a, t0, pieceA);
    pieceAfter(b, t0, pieceB);
    const t1 = Math.min(to, Math.max(Math.min(pieceA.end, pieceB.end), t0 + 1e-9));
    const gap = t1 - t0;
    if (powersOfPiece(pieceA, first) && powersOfPiece(pieceB, second))
      squares += gap * cubicDistance(t0, gap);
    else {
      const [e0, e1] = [valueOf(pieceA, t0) - valueOf(pieceB, t0), valueOf(pieceA, t1) - valueOf(pieceB, t1)];
      // Below the floor nobody asks, but the ends are known all the same.
      found.distance = Math.abs(e0);
      found.at = t0;
      consider(e1, t1);
      farthest.distance = Math.max(found.distance, floor, best);
      farthest.frame = found.at;
      farthestApart(pieceA, pieceB, t0, t1, farthest);
      if (farthest.distance > Math.max(found.distance, floor, best)) {
        found.distance = farthest.distance;
        found.at = farthest.frame;
      }
      squares += squaredDistance(t0, gap);
    }
    if (found.distance > best) {
      best = found.distance;
      frame = found.at;
    }
    t0 = t1;
  }
  if (to <= from) best = Math.abs(evaluate(a, from) - evaluate(b, from));
  found.distance = best;
  found.at = frame;
  return squares;
}

/** The piece in powers of frames from out[4]; false where it is weighted. */
function powersOfPiece(piece: Piece, out: Float64Array): boolean {
  if (piece.weighted) return false;
  out[0] = piece.value;
  out[1] = piece.straight ? piece.slope : piece.slopeOut;
  out[4] = Number.isFinite(piece.start) ? piece.start : 0;
  out[2] = out[3] = 0;
  if (piece.straight) return true;
  const scale = 1 / (piece.end - piece.start);
  const rise = piece.rise * scale;
  out[2] = (3 * rise - 2 * piece.slopeOut - piece.slopeIn) * scale;
  out[3] = (piece.slopeOut + piece.slopeIn - 2 * rise) * scale * scale;
  return true;
}

/** The integral of the squared distance of the two pieces (Simpson, at least two panels a frame). */
function squaredDistance(t0: number, gap: number): number {
  const panels = 2 * Math.min(16, Math.max(1, Math.ceil(gap)));
  let sum = 0;
  for (let k = 0; k <= panels; k += 1) {
    const time = t0 + (gap * k) / panels;
    const distance = valueOf(pieceA, time) - valueOf(pieceB, time);
    sum += (k === 0 || k === panels ? 1 : k % 2 === 1 ? 4 : 2) * distance * distance;
  }
  return (sum * gap) / (3 * panels);
}
