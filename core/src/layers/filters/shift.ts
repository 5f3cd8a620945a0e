/** Shift: later or earlier by frames, by a step for each control along the members, or at random with a seed. */
import { z } from 'zod';
import { factorOf } from '../../base/time-pieces.ts';
import { seededRandom } from '../../base/random.ts';
import { defineFilter } from './filter.ts';
import type { FilterSite } from './filter.ts';
import { evenTime, OtherTime, rampedTime, roundTime } from './other-time.ts';

const frames = (title: string, description: string, start: number, step = 1) =>
  z.number().min(-10_000).max(10_000).default(start).meta({ title, unit: 'frames', step, description });

const settings = z.object({
  frames: frames('Later by', 'Negative is earlier.', 2),
  step: frames(
    'More for each control',
    'Added once for each control along the order in which they were chosen.',
    0,
  ),
  random: z.number().min(-10_000).max(10_000).default(0).meta({
    title: 'At random',
    unit: 'frames',
    step: 1,
    description: 'Each control up to so many frames later or earlier.',
  }),
  seed: z.number().int().min(0).max(1e9).default(1).meta({
    title: 'Seed',
    step: 1,
    description: 'Another seed, other random shifts.',
  }),
  strength: z
    .enum(['mixes', 'shifts'])
    .default('mixes')
    .meta({
      title: 'Half strength',
      labels: { mixes: 'mixes both', shifts: 'shifts less' },
      description:
        'At part of its strength: the motion and the shifted motion are mixed, or it is shifted by that part.',
    }),
  loop: z.boolean().default(false).meta({
    title: 'Loop-aware',
    description: 'What would come from beyond one end of the range comes from the other.',
  }),
});
type Settings = z.output<typeof settings>;

/** By how many frames a member is late. */
function latenessOf(
  { frames, step, random, seed }: Settings,
  { member }: Pick<FilterSite, 'member'>,
): number {
  const share = random === 0 ? 0 : 2 * seededRandom(seed + 7919 * (member + 1)).next() - 1;
  return frames + step * member + random * share;
}

const sourceOf = (given: Settings, place: FilterSite) => {
  const late = latenessOf(given, place);
  if (given.strength === 'shifts') return rampedTime(place.strength, late, given.loop ? place.cycle : null);
  return given.loop ? roundTime(place.cycle, late) : evenTime(0, 1, late);
};

export const shift = defineFilter({
  kind: 'shift',
  title: 'Shift',
  summary: 'Shows the motion later or earlier, each control by its own if wanted.',
  words: 'offset delay lag time overlap drag stagger',
  settings,
  movesTime: true,
  flip: 'asIs',
  fresh: { strength: 'shifts' },
  takesStrength: ({ strength }) => strength === 'shifts',
  time: {
    is: 'inPiece',
    split: 'pace',
    looksAround: true,
    inPiece(given, piece) {
      const factor = factorOf(piece) || 1;
      return {
        ...given,
        frames: given.frames * factor,
        step: given.step * factor,
        random: given.random * factor,
      };
    },
  },
  inputs: (given, place) => [
    latenessOf(given, place),
    given.strength,
    given.loop,
    given.loop && place.cycle.start,
    given.loop && place.cycle.end,
  ],
  filtered: (given, below, place) => new OtherTime(below, sourceOf(given, place)),
  source: sourceOf,
});
