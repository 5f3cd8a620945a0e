/** How much of a layer counts: its weight, within its range. */
import type { FrameRange } from '../base/frame-range.ts';
import { inRange } from '../base/frame-range.ts';
import { rising } from '../base/frames.ts';
import { FLAG } from '../curve/curve.ts';
import type { Curve } from '../curve/curve.ts';
import type { FrameGrid } from '../curve/samples.ts';
import type { Layer, LayerRange } from './layer.ts';
import { ComputedSignal, shared, signalOf } from './signal.ts';
import type { Signal } from './signal.ts';

/** Frames so near to the end of a range are on it. */
const NEAR = 1e-9;

/** Whether somebody keyed a weight, with one key or with many; else it is one for all of the shot. */
export const isKeyedWeight = ({ times, flags }: Curve): boolean =>
  times.length > 1 || (times.length === 1 && (flags[0]! & FLAG.keyed) !== 0);

/** 0 outside the range, 1 within it, and smoothly from one to the other over the ramps (3u² − 2u³). */
export function envelopeAt({ start, end, rampIn, rampOut }: LayerRange, frame: number): number {
  if (frame < start - NEAR || frame > end + NEAR) return 0;
  return eased(frame - start, rampIn) * eased(end - frame, rampOut);
}

function eased(inside: number, ramp: number): number {
  if (ramp <= 0 || inside >= ramp) return 1;
  const u = Math.max(inside / ramp, 0);
  return u * u * (3 - 2 * u);
}

class ConfinedWeight extends ComputedSignal {
  private readonly weight: Signal;
  private readonly range: LayerRange;

  constructor(weight: Curve, range: LayerRange) {
    super();
    this.weight = signalOf(weight);
    this.range = range;
  }
  protected valueAt(frame: number): number {
    const share = envelopeAt(this.range, frame);
    return share === 0 ? 0 : share * this.weight.at(frame);
  }
  /** The ends of the range that have no ramp: on them it counts, just outside it does not. */
  jumps(range: FrameRange): readonly number[] {
    const { start, end, rampIn, rampOut } = this.range;
    const ends = [...(rampIn > 0 ? [] : [start]), ...(rampOut > 0 ? [] : [end])];
    const within = { start: Math.max(start, range.start), end: Math.min(end, range.end) };
    return rising(
      ends.filter((frame) => inRange(range, frame)),
      within.end < within.start ? [] : this.weight.jumps(within),
    );
  }
}

export function weightOf({ weight, range }: Layer): Signal {
  if (range === null) return signalOf(weight);
  const { start, end, rampIn, rampOut } = range;
  return shared(weight, ['weight', start, end, rampIn, rampOut], () => new ConfinedWeight(weight, range));
}

type Combine = (below: number, own: number, weight: number) => number;

/** Two signals made one by a weight; where that is 0 it is the one below, to the bit. */
export class WeighedSignal extends ComputedSignal {
  private readonly below: Signal;
  private readonly own: Signal;
  private readonly weight: Signal;
  private readonly combine: Combine;

  constructor(below: Signal, own: Signal, weight: Signal, combine: Combine) {
    super();
    [this.below, this.own, this.weight, this.combine] = [below, own, weight, combine];
  }
  protected valueAt(frame: number): number {
    const weight = this.weight.at(frame);
    const below = this.below.at(frame);
    return weight === 0 ? below : this.combine(below, this.own.at(frame), weight);
  }
  jumps(range: FrameRange): readonly number[] {
    return rising(this.below.jumps(range), this.own.jumps(range), this.weight.jumps(range));
  }
  protected override fill(grid: FrameGrid, column: Float64Array): void {
    const below = this.below.column(grid);
    const own = this.own.column(grid);
    const weight = this.weight.column(grid);
    for (let i = 0; i < grid.count; i += 1)
      column[i] = weight[i] === 0 ? below[i]! : this.combine(below[i]!, own[i]!, weight[i]!);
  }
}

/** Takes `weight` of its own and the rest of what lies below; all of it is its own to the bit. */
export const mixed: Combine = (below, own, weight) => (weight === 1 ? own : below + weight * (own - below));

export const added: Combine = (below, own, weight) => below + weight * own;
