/** Which controls a filter works on; those that are left out and slide can be added at once. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { LIMITS } from '../../base/limits.ts';
import { overlaidInTime } from '../../layers/time-filters.ts';
import { withLayer } from '../../document/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { chosenNodes } from '../shared/chosen-nodes.ts';
import { filterFindings, leftSliding } from './filter-findings.ts';
import { filterOption, openFilter } from './filter-option.ts';

export const filterMembers = defineEdit({
  id: 'filters.members',
  title: 'Members of a filter',
  summary:
    'Adds the selected controls to a filter, takes them out, or adds those that slide while the rest holds.',
  words: 'procedural modifier add remove controls include exclude left out',
  group: 'filters',
  locks: 'none',
  options: z.object({
    filter: filterOption,
    change: z
      .enum(['add', 'remove', 'addLeftOut'])
      .default('add')
      .meta({
        title: 'Controls',
        labels: {
          add: 'the selected are added',
          remove: 'the selected are taken out',
          addLeftOut: 'those left out are added',
        },
        description: 'Left out are controls that slide while the rest is stepped.',
      }),
  }),
  run(shot, selection, { filter: id, change }) {
    const filter = openFilter(shot, id);
    const chosen = change === 'addLeftOut' ? leftSliding(shot, filter) : chosenNodes(shot, selection);
    if (chosen.length === 0 && change !== 'addLeftOut')
      return refused(shot, selection, finding('nothingSelected', {}, 'controls or channels'));
    const members =
      change === 'remove'
        ? filter.members.filter((node) => !chosen.includes(node))
        : [...new Set([...filter.members, ...chosen])];
    if (members.length === filter.members.length) return outcome(shot, shot, selection);
    if (members.length === 0) return refused(shot, selection, finding('noMembersLeft', {}, filter.name));
    const after = withLayer(shot, id, (was) => ({ ...was, members }));
    const crowded = overlaidInTime(after.layers);
    if (crowded !== null)
      return refused(shot, selection, finding('tooManyTimeFilters', {}, crowded, LIMITS.timeFilters));
    return outcome(shot, after, selection, {
      measures: [{ name: 'controls', value: members.length, unit: '', before: filter.members.length }],
      findings: filterFindings(after, { ...filter, members }).findings,
    });
  },
});
