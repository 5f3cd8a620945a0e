/** A range of frames, both ends included, `start <= end`. */
export interface FrameRange {
  readonly start: number;
  readonly end: number;
}

/** Whether `frame` lies in `range`, with a hair of tolerance for times that were computed. */
export function inRange(range: FrameRange, frame: number): boolean {
  return frame >= range.start - 1e-9 && frame <= range.end + 1e-9;
}

/** The frames start, start + step, … up to and including end where it is met; at most `most` of them. */
export function framesOf(range: FrameRange, step = 1): Float64Array {
  const count = Math.floor((range.end - range.start) / step + 1e-9) + 1;
  return Float64Array.from({ length: Math.max(count, 0) }, (_, i) => range.start + i * step);
}

/** Frames beyond this are a slip of the hand: at 24 per second it is more than eleven hours. */
export const MOST_FRAMES = 1e6;
