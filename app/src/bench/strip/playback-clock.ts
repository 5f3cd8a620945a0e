/** Which frame is shown at which time while a shot plays: whole frames by the clock, from the last back to the first. */
import type { FrameRange } from '@kneader/core';

export interface PlaybackClock {
  /** When it began, ms, and on which frame. */
  readonly began: number;
  readonly frame: number;
  readonly speed: number;
}

/** The frames that are played: those of the marked range that lie in the shot, or all. */
export function playedRange(shot: FrameRange, marked: FrameRange | null, looped: boolean): FrameRange {
  if (!looped || !marked) return shot;
  const range = {
    start: Math.max(shot.start, Math.ceil(marked.start)),
    end: Math.min(shot.end, Math.floor(marked.end)),
  };
  return range.end > range.start ? range : shot;
}

/** @param fps frames per second; @param now ms on the clock's own time */
export function frameAt(clock: PlaybackClock, range: FrameRange, fps: number, now: number): number {
  const count = Math.floor(range.end - range.start) + 1;
  const passed = Math.floor(((now - clock.began) / 1000) * fps * clock.speed);
  const from = Math.min(Math.max(clock.frame - range.start, 0), count - 1);
  return range.start + ((from + passed) % count);
}
