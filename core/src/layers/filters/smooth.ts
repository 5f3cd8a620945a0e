/**
 * Smooth: a Gaussian over time. Its weights are taken on frames, closer where it is narrow, out to six widths: the gain of a sine is that of the
 * continuous Gaussian to 1e-8. At the ends of its range it goes on as the mirror image in the end's own value, so that the ends are kept.
 */
import { z } from 'zod';
import type { FrameRange } from '../../base/frame-range.ts';
import { ComputedSignal } from '../signal.ts';
import type { Signal } from '../signal.ts';
import { defineFilter } from './filter.ts';
import { within } from './other-time.ts';

const REACH = 6;

const settings = z.object({
  width: z.number().min(0.1).max(500).default(2).meta({
    slider: true,
    title: 'Width',
    unit: 'frames',
    step: 0.25,
    description: 'σ of the Gaussian: the wider, the smoother.',
  }),
  loop: z.boolean().default(false).meta({
    title: 'Loop-aware',
    description: 'The ends of the range see each other; else they are kept as they are.',
  }),
});

class Smoothed extends ComputedSignal {
  private readonly below: Signal;
  private readonly step: number;
  /** From the middle outward, the middle once; together with their mirror images they add up to 1. */
  private readonly weights: readonly number[];
  private readonly over: FrameRange;
  private readonly loop: boolean;

  constructor(below: Signal, width: number, over: FrameRange, loop: boolean) {
    super();
    [this.below, this.over, this.loop] = [below, over, loop];
    // A power of two, so that smoothing what is smoothed asks for the same places again.
    this.step = width >= 1 ? 1 : 2 ** Math.floor(Math.log2(width));
    const raw = Array.from({ length: Math.ceil((REACH * width) / this.step) + 1 }, (_, i) =>
      Math.exp(-0.5 * ((i * this.step) / width) ** 2),
    );
    const sum = 2 * raw.reduce((total, weight) => total + weight, 0) - raw[0]!;
    this.weights = raw.map((weight) => weight / sum);
  }

  protected valueAt(frame: number): number {
    let sum = this.weights[0]! * this.look(frame);
    for (let i = 1; i < this.weights.length; i += 1)
      sum += this.weights[i]! * (this.look(frame - i * this.step) + this.look(frame + i * this.step));
    return sum;
  }

  private look(frame: number): number {
    const { start, end } = this.over;
    if (this.loop) return this.below.at(within(this.over, frame));
    if (end <= start) return this.below.at(frame);
    if (frame < start) return 2 * this.below.at(start) - this.below.at(Math.min(2 * start - frame, end));
    if (frame > end) return 2 * this.below.at(end) - this.below.at(Math.max(2 * end - frame, start));
    return this.below.at(frame);
  }
}

export const smooth = defineFilter({
  kind: 'smooth',
  title: 'Smooth',
  summary: 'Softens what shows; the ends stay where they are.',
  words: 'gaussian blur soften jitter noise low-pass',
  settings,
  inputs: ({ width, loop }, { over }) => [width, loop, over.start, over.end],
  filtered: ({ width, loop }, below, { over }) => new Smoothed(below, width, over, loop),
});
