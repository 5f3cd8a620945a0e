/**
 * How far two curves are apart, between the keys too.
 *
 * Over each interval between neighbouring keys of either curve both are one segment. Where neither is
 * weighted their difference is one cubic polynomial, and its greatest value is found exactly, from the
 * roots of its derivative. Where one is weighted it is sampled at 16 places.
 */
import { bisectRight } from '../base/bisect.ts';
import type { FrameRange } from '../base/frame-range.ts';
import { isWeighted, SEGMENT } from './curve.ts';
import type { Curve } from './curve.ts';
import { evaluate } from './evaluate.ts';

export interface Difference {
  /** The greatest distance, in the curve's unit, and the frame where it is. */
  readonly greatest: number;
  readonly frame: number;
  /** Root mean square over time. */
  readonly rms: number;
}

/** The greatest and the RMS distance of two curves over a range of frames. */
export function differenceOf(a: Curve, b: Curve, range: FrameRange): Difference {
  const bounds = mergedTimes(a, b, range);
  const first = new Float64Array(4);
  const second = new Float64Array(4);
  let greatest = 0;
  let frame = range.start;
  let squares = 0;
  let rowA = bisectRight(a.times, range.start) - 1;
  let rowB = bisectRight(b.times, range.start) - 1;
  const consider = (distance: number, at: number) => {
    if (Math.abs(distance) > greatest) {
      greatest = Math.abs(distance);
      frame = at;
    }
  };
  for (let i = 0; i + 1 < bounds.length; i += 1) {
    const t0 = bounds[i]!;
    const gap = bounds[i + 1]! - t0;
    while (rowA + 1 < a.times.length && a.times[rowA + 1]! <= t0) rowA += 1;
    while (rowB + 1 < b.times.length && b.times[rowB + 1]! <= t0) rowB += 1;
    if (!polynomialAt(a, rowA, t0, gap, first) || !polynomialAt(b, rowB, t0, gap, second)) {
      squares += gap * sampledSquares(a, b, t0, gap, consider);
      continue;
    }
    const c0 = first[0]! - second[0]!;
    const c1 = first[1]! - second[1]!;
    const c2 = first[2]! - second[2]!;
    const c3 = first[3]! - second[3]!;
    const at = (u: number) => c0 + u * (c1 + u * (c2 + u * c3));
    const half = at(0.5);
    const end = at(1);
    squares += (gap * (c0 * c0 + 4 * half * half + end * end)) / 6;
    // No cubic exceeds the greatest of its Bézier points: most intervals need no roots.
    const bound = Math.max(Math.abs(c0), Math.abs(end), Math.abs(c0 + c1 / 3), Math.abs(c0 + (2 * c1 + c2) / 3));
    if (bound <= greatest) continue;
    consider(c0, t0);
    consider(end, t0 + gap);
    const root = c2 * c2 - 3 * c1 * c3;
    if (root < 0) continue;
    // Both roots of c1 + 2·c2·u + 3·c3·u², in the form that does not cancel.
    const sum = -(c2 + Math.sign(c2 || 1) * Math.sqrt(root));
    for (const u of [sum / (3 * c3), c1 / sum]) if (u > 0 && u < 1) consider(at(u), t0 + u * gap);
  }
  const length = range.end - range.start;
  return { greatest, frame, rms: length > 0 ? Math.sqrt(squares / length) : greatest };
}

/** The two ends of the range and every key time of either curve between them. */
function mergedTimes(a: Curve, b: Curve, range: FrameRange): Float64Array {
  const { start, end } = range;
  const result = new Float64Array(a.times.length + b.times.length + 2);
  let count = 1;
  result[0] = start;
  let i = bisectRight(a.times, start);
  let j = bisectRight(b.times, start);
  for (;;) {
    const next = Math.min(a.times[i] ?? Infinity, b.times[j] ?? Infinity);
    if (next >= end) break;
    if (next > result[count - 1]! + 1e-9) result[count++] = next;
    if (a.times[i] === next) i += 1;
    if (b.times[j] === next) j += 1;
  }
  if (end > start) result[count++] = end;
  return result.subarray(0, count);
}

/**
 * The curve over [t0, t0 + gap] as c0 + c1·u + c2·u² + c3·u³ for u in [0, 1]; false where it is weighted.
 * Row −1 is ahead of the first key.
 */
function polynomialAt(curve: Curve, row: number, t0: number, gap: number, out: Float64Array): boolean {
  const { times, values, slopesOut, slopesIn, segments } = curve;
  out.fill(0);
  if (times.length === 0) return true;
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

/** The mean square of the difference over one interval, by 16 samples; the last is taken just ahead of it. */
function sampledSquares(
  a: Curve,
  b: Curve,
  t0: number,
  gap: number,
  consider: (distance: number, at: number) => void,
): number {
  let sum = 0;
  for (let k = 0; k <= 16; k += 1) {
    const time = k === 16 ? t0 + gap * (1 - 1e-9) : t0 + (gap * k) / 16;
    const distance = evaluate(a, time) - evaluate(b, time);
    consider(distance, time);
    sum += distance * distance;
  }
  return sum / 17;
}
