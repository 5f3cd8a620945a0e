/** A curve of an action as a block shows it, through the block’s time. */
import { inRange } from '../../base/frame-range.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { onFrame, rising } from '../../base/frames.ts';
import { ComputedSignal } from '../signal.ts';
import type { Signal } from '../signal.ts';
import { landingsOf, roundAt, sourceAt } from './block-time.ts';
import type { BlockTime } from './block-time.ts';

export const timeInputs = ({ first, factor, from, to, repeats, backward, course }: BlockTime) => [
  ...[first, factor, from, to, repeats, backward],
  course,
];

export class ShownSignal extends ComputedSignal {
  private readonly time: BlockTime;
  private readonly curve: Signal;

  constructor(time: BlockTime, curve: Signal) {
    super();
    [this.time, this.curve] = [time, curve];
  }
  protected valueAt(at: number): number {
    return this.curve.at(onFrame(sourceAt(this.time, at)));
  }
  jumps(range: FrameRange): readonly number[] {
    return jumpsIn(this.time, range, [this.curve]);
  }
}

/** Frames at which what shows may jump: where the action does, and where a time round begins. */
export const jumpsIn = (time: BlockTime, range: FrameRange, curves: readonly Signal[]): readonly number[] => {
  const part = { start: time.from, end: time.to };
  const inside = curves.flatMap((curve) => [...curve.jumps(part)]);
  return rising(landingsOf(time, inside)).filter((frame) => inRange(range, frame));
};

/** How far a placement goes from its first pose. */
export class Difference extends ComputedSignal {
  private readonly shown: Signal;
  private readonly start: number;
  private readonly time: BlockTime;
  private readonly each: number;

  /** @param start the value of its first pose @param each how much more each time round adds */
  constructor(shown: Signal, start: number, time: BlockTime, each: number) {
    super();
    [this.shown, this.start, this.time, this.each] = [shown, start, time, each];
  }
  protected valueAt(at: number): number {
    return this.shown.at(at) - this.start + (this.each === 0 ? 0 : this.each * roundAt(this.time, at));
  }
  jumps(range: FrameRange): readonly number[] {
    return this.shown.jumps(range);
  }
}
