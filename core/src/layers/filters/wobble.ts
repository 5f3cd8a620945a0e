/**
 * Wobble: noise with zero mean and a band of its own. A sum of sines whose frequencies lie between 0.3 and 1 times the speed, spread evenly, with
 * phases from the seed; grain adds as many up to twice the speed. So nothing lies above twice the speed, whatever is measured, and loop-aware it is
 * periodic by taking whole numbers of turns. A lattice noise (simplex) was tried on paper and dropped: its band has no edge, its mean is zero only in the long run.
 */
import { z } from 'zod';
import type { FrameRange } from '../../base/frame-range.ts';
import { finding } from '../../base/finding.ts';
import { numberOf, seededRandom } from '../../base/random.ts';
import { channelKind } from '../../rig/node.ts';
import type { Context } from '../layer.ts';
import { ComputedSignal } from '../signal.ts';
import type { Signal } from '../signal.ts';
import { defineFilter } from './filter.ts';
import type { FilterSite } from './filter.ts';

const SINES = 8;
const [SLOWEST, FASTEST, FINEST] = [0.3, 1, 2];

const amount = (title: string, unit: string, start: number, most: number, step: number) =>
  z
    .number()
    .min(0)
    .max(most)
    .default(start)
    .meta({ title, unit, step, description: 'Mostly it stays within this, to both sides.' });

const settings = z.object({
  position: amount('Position', 'cm', 0.5, 1000, 0.1),
  rotation: amount('Rotation', '°', 2, 360, 0.1),
  scale: amount('Scale', '×', 0, 10, 0.01),
  other: amount('Other', '', 0, 1000, 0.01),
  amounts: z.record(z.string(), z.number().min(0).max(1000)).default({}).meta({
    title: 'By channel',
    description: 'Amounts of single channels, by address, in place of those of their kind.',
  }),
  speed: z.number().gt(0).max(60).default(1.5).meta({
    slider: true,
    title: 'Speed',
    unit: 'Hz',
    step: 0.1,
    description: 'How often it comes and goes in a second.',
  }),
  grain: z.number().min(0).max(1).default(0).meta({
    title: 'Grain',
    step: 0.05,
    description: 'How much of it is finer, up to twice the speed.',
  }),
  seed: z.number().int().min(0).max(1e9).default(1).meta({
    title: 'Seed',
    step: 1,
    description: 'Another seed, another wobble.',
  }),
  each: z.boolean().default(true).meta({
    title: 'A seed for each control',
    description: 'Off, all controls wobble alike.',
  }),
  loop: z.boolean().default(false).meta({
    title: 'Loop-aware',
    description: 'The end of the range is as its start.',
  }),
  still: z.boolean().default(false).meta({
    title: 'Channels without keys too',
    description: 'Off, only what is animated wobbles.',
  }),
});
type Settings = z.output<typeof settings>;

const amountOf = (given: Settings, { node, name }: FilterSite) =>
  given.amounts[`${node}.${name}`] ?? given[channelKind(name)];

/** What is added at a frame. */
function noiseOf(
  given: Settings,
  place: FilterSite,
  { framesPerSecond }: Context,
): (frame: number) => number {
  const random = seededRandom(
    (given.seed + numberOf(given.each ? `${place.node}.${place.name}` : place.name)) >>> 0,
  );
  const seconds = (place.cycle.end - place.cycle.start) / framesPerSecond;
  const sines: { readonly turns: number; readonly phase: number; size: number }[] = [];
  const add = (from: number, to: number, size: number) => {
    for (let i = 0; i < SINES; i += 1) {
      const hertz = given.speed * (from + ((i + random.next()) / SINES) * (to - from));
      const closes = given.loop && seconds > 0;
      const whole = closes ? Math.max(Math.round(hertz * seconds), 1) / seconds : hertz;
      const turns = (2 * Math.PI * whole) / framesPerSecond;
      const phase = 2 * Math.PI * random.next();
      // Two of one frequency would strengthen or undo each other by their phases: together they are one of the strength of both.
      const like = closes ? sines.find((sine) => Math.abs(sine.turns - turns) < 1e-12) : undefined;
      if (like) like.size = Math.hypot(like.size, size);
      else sines.push({ turns, phase, size });
    }
  };
  add(SLOWEST, FASTEST, 1);
  if (given.grain > 0) add(FASTEST, FINEST, given.grain);
  // Twice the effective value is what it mostly stays within.
  const effective = Math.sqrt(sines.reduce((sum, { size }) => sum + size * size, 0) / 2);
  const scale = amountOf(given, place) / 2 / effective;
  return (frame) => {
    const along = frame - place.over.start;
    let sum = 0;
    for (const { turns, phase, size } of sines) sum += size * Math.sin(turns * along + phase);
    return scale * sum;
  };
}

class Wobbled extends ComputedSignal {
  private readonly below: Signal;
  private readonly noise: (frame: number) => number;

  constructor(below: Signal, noise: (frame: number) => number) {
    super();
    [this.below, this.noise] = [below, noise];
  }
  protected valueAt(frame: number): number {
    return this.below.at(frame) + this.noise(frame);
  }
  jumps(range: FrameRange): readonly number[] {
    return this.below.jumps(range);
  }
}

export const wobble = defineFilter({
  kind: 'wobble',
  title: 'Wobble',
  summary: 'Adds a band of noise that comes and goes around the motion.',
  words: 'noise random jitter shake tremble handheld life',
  settings,
  // Its noise runs on from where its range begins.
  // It shakes each control in a way of its own.
  flip: () => null,
  time: { is: 'inPiece', split: 'never', looksAround: true, inPiece: (given) => given },
  problem: ({ speed, grain }, { framesPerSecond }) => {
    const fastest = speed * (grain > 0 ? FINEST : FASTEST);
    return fastest <= framesPerSecond / 2 ? null : finding('aboveNyquist', {}, fastest, framesPerSecond / 2);
  },
  still: ({ still }) => still,
  inputs: (given, place, { framesPerSecond }) => [
    amountOf(given, place),
    given.speed,
    given.grain,
    given.seed,
    given.each,
    given.loop,
    place.over.start,
    given.loop && place.cycle.end,
    framesPerSecond,
  ],
  filtered: (given, below, place, context) => new Wobbled(below, noiseOf(given, place, context)),
  added: noiseOf,
});
