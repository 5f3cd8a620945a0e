/** A signal that shows the one below at other times. */
import { ComputedSignal } from '../signal.ts';
import type { Signal } from '../signal.ts';
import type { FrameRange } from '../../base/frame-range.ts';

export class OtherTime extends ComputedSignal {
  private readonly below: Signal;
  private readonly source: (frame: number) => number;

  constructor(below: Signal, source: (frame: number) => number) {
    super();
    [this.below, this.source] = [below, source];
  }
  protected valueAt(frame: number): number {
    return this.below.at(this.source(frame));
  }
}

/** The frame of a loop that shows where time goes on beyond its ends. */
export function within({ start, end }: FrameRange, frame: number): number {
  const length = end - start;
  if (length <= 0 || (frame >= start && frame <= end)) return frame;
  return start + ((((frame - start) % length) + length) % length);
}
