/** Another place in the stack: a filter works on what lies below it. */
import { z } from 'zod';
import { defineEdit } from '../edit.ts';
import { placeOption, putInPlace } from '../shared/put-in-place.ts';
import { filterOption, knownFilter } from './filter-option.ts';

export const moveFilter = defineEdit({
  id: 'filters.move',
  title: 'Move filter',
  summary: 'Gives a filter another place in the stack: it works on what lies below it.',
  words: 'procedural modifier order stack up down reorder',
  group: 'filters',
  locks: 'none',
  options: z.object({ filter: filterOption, place: placeOption }),
  run: (shot, selection, { filter, place }) => putInPlace(shot, selection, knownFilter(shot, filter), place),
});
