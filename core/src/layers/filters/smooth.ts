/**
 * Smooth: a Gaussian over time. What lies below is read on a grid of frames (closer where the Gaussian is narrow) once, and the Gaussian is laid
 * over the grid from wherever it is asked, out to six widths: the gain of a sine is that of the continuous Gaussian to 1e-8, a jump below becomes a
 * slope, and three smooths over each other cost three smooths. At the ends of its range what lies below goes on as its mirror image in the end's own
 * value, so that the ends are kept; loop-aware it goes on as a cycle of that length does, from where it came to.
 */
import { z } from 'zod';
import { factorOf } from '../../base/time-pieces.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { onFrame } from '../../base/frames.ts';
import { ComputedSignal } from '../signal.ts';
import type { Signal } from '../signal.ts';
import { defineFilter } from './filter.ts';

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

/** Weights that are kept: all channels ask for those of the same frames. */
const MOST_WEIGHTS = 512;
const known = new Map<string, Float64Array>();

/** The Gaussian about a place between two of the grid; they add up to 1. @param aside −½ … ½ */
function weightsOf(width: number, step: number, aside: number): Float64Array {
  const key = `${width} ${step} ${aside}`;
  let weights = known.get(key);
  if (weights === undefined) {
    if (known.size >= MOST_WEIGHTS) known.clear();
    known.set(key, (weights = gaussian(width, step, aside)));
  }
  return weights;
}

function gaussian(width: number, step: number, aside: number): Float64Array {
  const reach = Math.ceil((REACH * width) / step);
  const spread = -0.5 * (step / width) ** 2;
  const raw = Float64Array.from({ length: 2 * reach + 1 }, (_, i) =>
    Math.exp(spread * (i - reach - aside) ** 2),
  );
  const sum = raw.reduce((total, weight) => total + weight, 0);
  const weights = raw.map((weight) => weight / sum);
  // Between places of the grid their middle is off by a hair: put right, so that a straight line stays one.
  const off = weights.reduce((total, weight, i) => total + weight * (i - reach - aside), 0);
  weights[reach + 1]! -= off / 2;
  weights[reach - 1]! += off / 2;
  return weights;
}

class Smoothed extends ComputedSignal {
  private readonly below: Signal;
  private readonly step: number;
  private readonly width: number;
  private readonly over: FrameRange;
  private readonly loop: boolean;
  private readonly onGrid: Float64Array;
  /** What lies below on the grid, by its place from the start of the range. */
  private readonly looks = new Map<number, number>();

  constructor(below: Signal, width: number, over: FrameRange, loop: boolean) {
    super();
    [this.below, this.width, this.over, this.loop] = [below, width, over, loop];
    // A power of two, so that whole frames lie on the grid.
    this.step = width >= 1 ? 1 : 2 ** Math.floor(Math.log2(width));
    this.onGrid = weightsOf(this.width, this.step, 0);
  }

  protected valueAt(frame: number): number {
    const along = onFrame((frame - this.over.start) / this.step);
    const middle = Math.round(along);
    const weights = along === middle ? this.onGrid : weightsOf(this.width, this.step, along - middle);
    const reach = (weights.length - 1) / 2;
    let sum = 0;
    for (let k = -reach; k <= reach; k += 1) sum += weights[k + reach]! * this.look(middle + k);
    return sum;
  }

  /** What is smoothed at a place of the grid. */
  private look(at: number): number {
    let known = this.looks.get(at);
    if (known === undefined) this.looks.set(at, (known = this.beyond(this.over.start + at * this.step)));
    return known;
  }

  private beyond(frame: number): number {
    const { start, end } = this.over;
    const { below } = this;
    if (end <= start || (frame >= start && frame <= end)) return below.at(frame);
    if (this.loop) {
      const turns = Math.floor((frame - start) / (end - start));
      return below.at(frame - turns * (end - start)) + turns * (below.at(end) - below.at(start));
    }
    if (frame < start) return 2 * below.at(start) - below.at(Math.min(2 * start - frame, end));
    return 2 * below.at(end) - below.at(Math.max(2 * end - frame, start));
  }

  jumps(): readonly number[] {
    return [];
  }
}

export const smooth = defineFilter({
  kind: 'smooth',
  title: 'Smooth',
  summary: 'Softens what shows; the ends stay where they are.',
  words: 'gaussian blur soften jitter noise low-pass',
  settings,
  flip: 'asIs',
  spins: true,
  time: {
    is: 'inPiece',
    split: 'pace',
    looksAround: true,
    inPiece(given, piece) {
      const width = given.width * Math.abs(factorOf(piece) || 1);
      return width >= 0.1 && width <= 500 ? { ...given, width } : null;
    },
  },
  inputs: ({ width, loop }, { over, cycle }) => [width, loop, over.start, loop ? cycle.end : over.end],
  filtered: ({ width, loop }, below, { over, cycle }) =>
    new Smoothed(below, width, loop ? cycle : over, loop),
});
