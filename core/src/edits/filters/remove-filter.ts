/** Remove a filter: the keys were never touched, so what they make shows again. */
import { z } from 'zod';
import { withoutLayers } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import { filterOption, openFilter } from './filter-option.ts';

export const removeFilter = defineEdit({
  id: 'filters.remove',
  title: 'Remove filter',
  summary: 'Takes a filter away; the keys are what they were.',
  words: 'procedural modifier delete',
  group: 'filters',
  locks: 'none',
  options: z.object({ filter: filterOption }),
  run(shot, selection, { filter: id }) {
    const filter = openFilter(shot, id);
    const after = withoutLayers(shot, (layer) => layer === filter);
    return outcome(shot, after, selection, {
      measures: [{ name: 'controls', value: filter.members.length, unit: '' }],
    });
  },
});
