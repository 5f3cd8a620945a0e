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

/** How often the rate is told anew, and over how long it is counted, ms; and what part of the pictures is as good as all. */
const [TOLD_MS, COUNTED_MS, ENOUGH] = [500, 1000, 0.9];

/** How many pictures come in a second while a shot plays. */
export class PictureRate {
  private times: number[] = [];
  private began: number | null = null;
  private told = -Infinity;

  /**
   * A picture was drawn.
   * @param wanted pictures in a second that the shot has @returns how many came in the last second, null where that is as good as all; undefined while it is not told anew
   */
  drawn(now: number, wanted: number): number | null | undefined {
    this.began ??= now;
    this.times.push(now);
    this.times = this.times.filter((time) => time > now - COUNTED_MS);
    if (now - this.began < COUNTED_MS || now - this.told < TOLD_MS) return undefined;
    this.told = now;
    return this.times.length < ENOUGH * wanted ? this.times.length : null;
  }
}
