/** Signals that show the one below at other times. */
import type { FrameRange } from '../../base/frame-range.ts';
import { onFrame, rising } from '../../base/frames.ts';
import { ComputedSignal } from '../signal.ts';
import type { Signal } from '../signal.ts';

/** Which time shows. */
export interface Source {
  /** The frame of what lies below that shows at a frame. */
  readonly at: (frame: number) => number;
  /** Frames of a range at which what shows may jump, since it jumps below or since time does. */
  readonly jumps: (range: FrameRange, below: Signal) => readonly number[];
  /** What is added there to the value that shows: what a cycle has travelled. */
  readonly travelled?: (frame: number, below: Signal) => number;
}

export class OtherTime extends ComputedSignal {
  private readonly below: Signal;
  private readonly source: Source;

  constructor(below: Signal, source: Source) {
    super();
    [this.below, this.source] = [below, source];
  }
  protected valueAt(frame: number): number {
    // Whole frames stay whole: a stepped key is not late by rounding.
    const value = this.below.at(onFrame(this.source.at(frame)));
    return this.source.travelled ? value + this.source.travelled(frame, this.below) : value;
  }
  jumps(range: FrameRange): readonly number[] {
    return this.source.jumps(range, this.below);
  }
}

/** Time that runs evenly: frame `about` shows what lies `late` frames ahead of it. @param factor frames here for each frame below, > 0 */
export function evenTime(about: number, factor: number, late = 0): Source {
  const at = (frame: number) => about + (frame - about) / factor - late;
  return {
    at,
    jumps: ({ start, end }, below) =>
      rising(
        below.jumps({ start: at(start), end: at(end) }).map((time) => about + (time + late - about) * factor),
      ),
  };
}

/** Time that goes round within the ends of a range; what the cycle travels meanwhile goes on. */
export function roundTime(over: FrameRange, late: number): Source {
  const length = over.end - over.start;
  return {
    at: (frame) => frame - late - turnsAt(over, frame - late) * length,
    travelled: (frame, below) => turnsAt(over, frame - late) * (below.at(over.end) - below.at(over.start)),
    jumps({ start, end }, below) {
      if (length <= 0) return evenTime(0, 1, late).jumps({ start, end }, below);
      const found: number[] = [];
      const inside = [...below.jumps(over), over.start, over.end];
      const turns = {
        from: Math.floor((start - late - over.end) / length),
        to: (end - late - over.start) / length,
      };
      for (let turn = turns.from; turn <= turns.to; turn += 1)
        for (const time of inside) {
          const frame = time + late + turn * length;
          if (frame >= start && frame <= end) found.push(frame);
        }
      return rising(found);
    },
  };
}

/** How many turns of a loop a frame lies past its first; its end belongs to the turn that reaches it. */
function turnsAt({ start, end }: FrameRange, frame: number): number {
  const length = end - start;
  if (length <= 0 || (frame >= start && frame <= end)) return 0;
  return Math.floor((frame - start) / length);
}
