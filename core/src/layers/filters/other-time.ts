/** Signals that show the one below at other times. */
import { framesOf } from '../../base/frame-range.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { bisectRight } from '../../base/bisect.ts';
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

/**
 * Time that is late by a part of `late`, as a strength says. @param over the cycle that it goes round in; null goes on beyond all ends
 */
export function rampedTime(strength: Signal, late: number, over: FrameRange | null): Source {
  const lateAt = (frame: number) => strength.at(frame) * late;
  const sourceAt = (frame: number): Source =>
    over ? roundTime(over, lateAt(frame)) : evenTime(0, 1, lateAt(frame));
  return {
    at: (frame) => sourceAt(frame).at(frame),
    travelled: (frame, below) => sourceAt(frame).travelled?.(frame, below) ?? 0,
    jumps({ start, end }, below) {
      const most = Math.abs(late);
      const shownAt = (frame: number) => frame - lateAt(frame);
      const jumps = over
        ? roundTime(over, 0).jumps({ start: start - most, end: end + most }, below)
        : below.jumps({ start: start - most, end: end + most });
      // Where the time that shows passes a jump of what lies below, found between whole frames.
      const found: number[] = [];
      const looks = rising([start], framesOf({ start: Math.ceil(start), end }), [end]);
      for (let i = 0; i < looks.length; i += 1) {
        const [from, to] = [looks[i]!, looks[i + 1] ?? looks[i]!];
        const [a, b] = [onFrame(shownAt(from)), onFrame(shownAt(to))];
        for (
          let k = bisectRight(jumps, Math.min(a, b) - 1e-9);
          k < jumps.length && jumps[k]! <= Math.max(a, b);
          k += 1
        ) {
          const jump = jumps[k]!;
          if (a === jump) found.push(from);
          else if ((a - jump) * (b - jump) < 0) found.push(crossing(shownAt, jump, from, to));
        }
      }
      return rising(found, strength.jumps({ start, end }));
    },
  };
}

/** Where a function passes a value between two times on different sides of it. */
export function crossing(at: (frame: number) => number, value: number, from: number, to: number): number {
  let [low, high] = [from, to];
  const rises = at(from) < value;
  for (let i = 0; i < 48; i += 1) {
    const middle = (low + high) / 2;
    if (at(middle) < value === rises) low = middle;
    else high = middle;
  }
  return onFrame(high);
}

/** How many turns of a loop a frame lies past its first; its end belongs to the turn that reaches it. */
function turnsAt({ start, end }: FrameRange, frame: number): number {
  const length = end - start;
  if (length <= 0 || (frame >= start && frame <= end)) return 0;
  return Math.floor((frame - start) / length);
}
