/** How much of a layer counts: its weight, within its range. */
import type { Curve } from '../curve/curve.ts';
import type { FrameGrid } from '../curve/samples.ts';
import type { Layer, LayerRange } from './layer.ts';
import { ComputedSignal, shared, signalOf } from './signal.ts';
import type { Signal } from './signal.ts';

/** Frames so near to the end of a range are on it. */
const NEAR = 1e-9;

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
  at(frame: number): number {
    const share = envelopeAt(this.range, frame);
    return share === 0 ? 0 : share * this.weight.at(frame);
  }
}

export function weightOf({ weight, range }: Layer): Signal {
  if (range === null) return signalOf(weight);
  const { start, end, rampIn, rampOut } = range;
  return shared(weight, ['weight', start, end, rampIn, rampOut], () => new ConfinedWeight(weight, range));
}

/** Takes `weight` of one signal and the rest of another; weight 0 and 1 are the one and the other to the bit. */
export class MixedSignal extends ComputedSignal {
  private readonly below: Signal;
  private readonly own: Signal;
  private readonly weight: Signal;

  constructor(below: Signal, own: Signal, weight: Signal) {
    super();
    [this.below, this.own, this.weight] = [below, own, weight];
  }
  at(frame: number): number {
    const weight = this.weight.at(frame);
    if (weight === 0) return this.below.at(frame);
    if (weight === 1) return this.own.at(frame);
    return mixed(this.below.at(frame), this.own.at(frame), weight);
  }
  protected override fill(grid: FrameGrid, column: Float64Array): void {
    const [below, own, weight] = [this.below, this.own, this.weight].map((signal) => signal.column(grid));
    for (let i = 0; i < grid.count; i += 1)
      column[i] =
        weight![i] === 0
          ? below![i]!
          : weight![i] === 1
            ? own![i]!
            : mixed(below![i]!, own![i]!, weight![i]!);
  }
}

const mixed = (below: number, own: number, weight: number) => below + weight * (own - below);
