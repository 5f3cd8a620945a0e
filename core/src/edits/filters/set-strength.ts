/** How much of a filter shows: for all of the shot, or keyed at a frame. */
import { z } from 'zod';
import { defineEdit } from '../edit.ts';
import { weigh, weighOptions } from '../shared/weigh.ts';
import { filterOption, openFilter } from './filter-option.ts';

export const setStrength = defineEdit({
  id: 'filters.setStrength',
  title: 'Set strength',
  summary: 'Dials how much of a filter shows, for the whole shot or keyed at a frame.',
  words: 'procedural modifier weight influence amount fade on off',
  group: 'filters',
  locks: 'none',
  options: z.object({
    filter: filterOption,
    strength: z.number().min(-2).max(3).meta({
      title: 'Strength',
      unit: '',
      step: 0.01,
      description: '0 is the motion below, 1 all of the filter; beyond 1 exaggerates.',
    }),
    ...weighOptions,
  }),
  run: (shot, selection, { filter, strength, ...when }) =>
    weigh(shot, selection, openFilter(shot, filter), 'strength', strength, when),
});
