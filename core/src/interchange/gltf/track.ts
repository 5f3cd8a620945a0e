/** A property of a node over time as a glTF file has it, and what a reader shows of it between its keys (glTF 2.0, appendix C). */
import { bisectRight } from '../../base/bisect.ts';
import type { Quaternion } from '../../math/euler.ts';
import { hermite } from '../../math/hermite.ts';
import { slerp, unit } from '../../math/quaternion.ts';

export interface Track {
  /** Frames of the shot. */
  readonly times: Float64Array;
  readonly mode: 'STEP' | 'LINEAR' | 'CUBICSPLINE';
  /** Numbers of a value: 3, or 4 for a turn. */
  readonly width: number;
  /** Values of key k from k·width on; tangents are null but for CUBICSPLINE (units per frame). */
  readonly values: Float64Array;
  readonly tangentsIn: Float64Array | null;
  readonly tangentsOut: Float64Array | null;
}

/** The numbers of key k in one of a track's columns. */
export function numbersOf({ width }: Track, column: Float64Array, k: number): number[] {
  const numbers: number[] = [];
  for (let i = k * width; i < (k + 1) * width; i += 1) numbers.push(column[i]!);
  return numbers;
}

/** What shows at a frame of the segment that begins at key k; turns are of length 1. */
export function between(track: Track, k: number, frame: number): number[] {
  const { times, mode, values, tangentsIn, tangentsOut, width } = track;
  const a = numbersOf(track, values, k);
  if (mode === 'STEP') return a;
  const b = numbersOf(track, values, k + 1);
  const gap = times[k + 1]! - times[k]!;
  const u = (frame - times[k]!) / gap;
  if (!tangentsIn || !tangentsOut)
    return width === 4
      ? slerp(unit(a as Quaternion), unit(b as Quaternion), u)
      : a.map((value, i) => value + u * (b[i]! - value));
  const out = numbersOf(track, tangentsOut, k);
  const into = numbersOf(track, tangentsIn, k + 1);
  const spline = a.map((value, i) => hermite(value, out[i]! * gap, b[i]!, into[i]! * gap, u));
  return width === 4 ? unit(spline as Quaternion) : spline;
}

/** What shows at a frame, held ahead of the first key and past the last. */
export function trackAt(track: Track, frame: number): number[] {
  const last = track.times.length - 1;
  const k = bisectRight(track.times, frame) - 1;
  if (k < 0) return numbersOf(track, track.values, 0);
  return k >= last ? numbersOf(track, track.values, last) : between(track, k, frame);
}
