/**
 * How far two curves are apart, between the keys too.
 *
 * Over each interval between neighbouring keys of either curve both are one segment. Where neither is
 * weighted their difference is one cubic polynomial, and its greatest value is found exactly, from the
 * roots of its derivative. Where one is weighted it is sampled at 16 places.
 *
 * *Coarse samples.* A captured curve is a row of samples, a frame apart, with straight lines between. Where the other curve
 * bends by more than `bendLimit` within one such frame, no smooth curve could follow that line: the samples are too coarse
 * for the line between them to mean anything at that precision, and the two are compared at the samples alone.
 */
import { bisectRight } from '../base/bisect.ts';
import type { FrameRange } from '../base/frame-range.ts';
import { isWeighted, SEGMENT } from './curve.ts';
import type { Curve } from './curve.ts';
import { sampleInto } from './evaluate.ts';
import { hasLead } from './lead.ts';

export interface Difference {
  /** The greatest distance, in the curve's unit, and the frame where it is. */
  readonly greatest: number;
  readonly frame: number;
  /** Root mean square over time. */
  readonly rms: number;
}

/** Told of each interval: the row of `b` that it belongs to, and the greatest distance in it and where. */
type Visit = (rowB: number, greatest: number, frame: number) => void;

/**
 * The greatest and the RMS distance of two curves over a range of frames.
 * @param bendLimit in the curve's unit; see *coarse samples* above; by default every place counts
 */
export function differenceOf(a: Curve, b: Curve, range: FrameRange, bendLimit = Infinity): Difference {
  let greatest = 0;
  let frame = range.start;
  const squares = walk(a, b, range, bendLimit, (_, distance, at) => {
    if (distance > greatest) {
      greatest = distance;
      frame = at;
    }
  });
  const length = range.end - range.start;
  return { greatest, frame, rms: length > 0 ? Math.sqrt(squares / length) : greatest };
}

/** For each segment of `b` in the range where it strays from `a` by more than `tolerance`: the row and the frame. */
export function straySegments(
  a: Curve,
  b: Curve,
  range: FrameRange,
  tolerance: number,
  bendLimit: number,
): Map<number, number> {
  const result = new Map<number, number>();
  const worst = new Map<number, number>();
  walk(a, b, range, bendLimit, (row, distance, at) => {
    if (distance <= tolerance || distance <= (worst.get(row) ?? 0)) return;
    worst.set(row, distance);
    result.set(row, at);
  });
  return result;
}

const first = new Float64Array(4);
const second = new Float64Array(4);
/** The greatest distance that the last interval showed, and its place: out-parameters of the kernels below. */
const found = { distance: 0, at: 0 };
/** Beside it: the distances at the interval's two ends, and how far the second curve leaves its chord in the middle. */
const ends = new Float64Array(2);
let bend = 0;

/** Farther than this many bend limits beside the line, a place counts however coarse the samples are. */
const MOST_BENDS = 16;

/** Walks the intervals between neighbouring keys of either curve; returns the integral of the squared distance. */
function walk(a: Curve, b: Curve, range: FrameRange, bendLimit: number, visit: Visit): number {
  let rowA = bisectRight(a.times, range.start) - 1;
  let rowB = bisectRight(b.times, range.start) - 1;
  let t0 = range.start;
  let squares = 0;
  do {
    const nextA = a.times[rowA + 1] ?? Infinity;
    const nextB = b.times[rowB + 1] ?? Infinity;
    const t1 = Math.min(nextA, nextB, range.end);
    const gap = t1 - t0;
    if (gap > 1e-9 || range.end === range.start) {
      const exact = polynomialAt(a, rowA, t0, gap, first) && polynomialAt(b, rowB, t0, gap, second);
      squares += gap * (exact ? cubicDistance(t0, gap) : sampledDistance(a, b, t0, gap));
      if (
        bend > bendLimit &&
        found.distance > bendLimit &&
        found.distance < MOST_BENDS * bendLimit &&
        isSample(a, rowA)
      ) {
        found.distance = 0;
        consider(ends[0]!, t0);
        consider(ends[1]!, t1);
      }
      visit(rowB, found.distance, found.at);
    }
    if (nextA <= t1) rowA += 1;
    if (nextB <= t1) rowB += 1;
    t0 = t1;
  } while (t0 < range.end);
  return squares;
}

/** Whether the segment is a straight line no longer than a frame. */
function isSample({ times, segments }: Curve, row: number): boolean {
  return (
    row >= 0 &&
    row + 1 < times.length &&
    segments[row] === SEGMENT.linear &&
    times[row + 1]! - times[row]! <= 1 + 1e-9
  );
}

function consider(distance: number, at: number): void {
  if (Math.abs(distance) <= found.distance) return;
  found.distance = Math.abs(distance);
  found.at = at;
}

/** The greatest distance of the cubics `first` and `second` over one interval; returns the mean square (Simpson). */
function cubicDistance(t0: number, gap: number): number {
  const c0 = first[0]! - second[0]!;
  const c1 = first[1]! - second[1]!;
  const c2 = first[2]! - second[2]!;
  const c3 = first[3]! - second[3]!;
  const half = c0 + (c1 + (c2 + c3 / 2) / 2) / 2;
  const end = c0 + c1 + c2 + c3;
  found.distance = Math.abs(c0);
  found.at = t0;
  consider(end, t0 + gap);
  ends[0] = c0;
  ends[1] = end;
  bend = Math.abs(second[2]! / 4 + (3 * second[3]!) / 8);
  // Both roots of c1 + 2·c2·u + 3·c3·u², in the form that does not cancel.
  const root = c2 * c2 - 3 * c1 * c3;
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
 * The curve over [t0, t0 + gap] as c0 + c1·u + c2·u² + c3·u³ for u in [0, 1]; false where it is weighted.
 * Row −1 is ahead of the first key.
 */
function polynomialAt(curve: Curve, row: number, t0: number, gap: number, out: Float64Array): boolean {
  const { times, values, slopesOut, slopesIn, segments } = curve;
  out.fill(0);
  if (times.length === 0) return true;
  if ((row < 0 || row + 1 >= times.length) && hasLead(curve)) return false;
  if (row < 0 || row + 1 >= times.length || segments[row] === SEGMENT.stepped) {
    out[0] = values[Math.max(row, 0)]!;
    return true;
  }
  const whole = times[row + 1]! - times[row]!;
  const v0 = values[row]!;
  const rise = values[row + 1]! - v0;
  const u0 = (t0 - times[row]!) / whole;
  const scale = gap / whole;
  if (segments[row] === SEGMENT.linear) {
    out[0] = v0 + rise * u0;
    out[1] = rise * scale;
    return true;
  }
  if (isWeighted(curve, row)) return false;
  const c1 = slopesOut[row]! * whole;
  const d1 = slopesIn[row + 1]! * whole;
  const c2 = 3 * rise - 2 * c1 - d1;
  const c3 = c1 + d1 - 2 * rise;
  out[0] = v0 + u0 * (c1 + u0 * (c2 + u0 * c3));
  out[1] = scale * (c1 + u0 * (2 * c2 + 3 * u0 * c3));
  out[2] = scale * scale * (c2 + 3 * u0 * c3);
  out[3] = scale * scale * scale * c3;
  return true;
}

/** Places in an interval at which weighted segments are compared. */
const PLACES = 16;
const times = new Float64Array(PLACES + 1);
const ofA = new Float64Array(PLACES + 1);
const ofB = new Float64Array(PLACES + 1);

/** The same for weighted segments, by sampling; the last place lies just ahead of the interval's end. */
function sampledDistance(a: Curve, b: Curve, t0: number, gap: number): number {
  for (let k = 0; k <= PLACES; k += 1) times[k] = t0 + gap * (k === PLACES ? 1 - 1e-9 : k / PLACES);
  sampleInto(ofA, 0, 1, a, times);
  sampleInto(ofB, 0, 1, b, times);
  found.distance = 0;
  found.at = t0;
  let sum = 0;
  for (let k = 0; k <= PLACES; k += 1) {
    const distance = ofA[k]! - ofB[k]!;
    consider(distance, times[k]!);
    sum += distance * distance;
  }
  ends[0] = ofA[0]! - ofB[0]!;
  ends[1] = ofA[PLACES]! - ofB[PLACES]!;
  bend = Math.abs(ofB[PLACES / 2]! - (ofB[0]! + ofB[PLACES]!) / 2);
  return sum / (PLACES + 1);
}
