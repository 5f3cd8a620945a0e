/** Stretch: slower or faster about a pivot. */
import { z } from 'zod';
import { placeIn } from '../../base/time-pieces.ts';
import { defineFilter } from './filter.ts';
import type { FilterSite } from './filter.ts';
import { evenTime, OtherTime } from './other-time.ts';

const settings = z.object({
  factor: z.number().min(0.01).max(100).default(1.2).meta({
    title: 'As long',
    unit: '×',
    step: 0.05,
    description: '2 takes twice as long, 0.5 half.',
  }),
  pivot: z.number().min(-1e6).max(1e6).nullable().default(null).meta({
    title: 'Pivot',
    unit: 'frame',
    step: 1,
    description: 'The frame that stays; left empty, where the filter begins.',
  }),
});
type Settings = z.output<typeof settings>;

const sourceOf = ({ factor, pivot }: Settings, { over }: Pick<FilterSite, 'over'>) =>
  evenTime(pivot ?? over.start, factor);

export const stretch = defineFilter({
  kind: 'stretch',
  title: 'Stretch',
  summary: 'Shows the motion slower or faster about a frame.',
  words: 'slow fast speed time scale',
  settings,
  movesTime: true,
  flip: 'asIs',
  time: {
    is: 'inPiece',
    split: 'every',
    looksAround: true,
    // Where its pivot was its range's beginning, that is another frame now in a copy, and in what runs backward.
    inPiece: (given, piece, over) => ({ ...given, pivot: placeIn(piece, given.pivot ?? over.start) }),
  },
  inputs: ({ factor, pivot }, { over }) => [factor, pivot ?? over.start],
  filtered: (given, below, place) => new OtherTime(below, sourceOf(given, place)),
  source: sourceOf,
});
