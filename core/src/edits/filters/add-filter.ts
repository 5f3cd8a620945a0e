/** Lay a live filter over the chosen controls; their keys stay as they are. */
import { z } from 'zod';
import { nameOption } from '../shared/name-option.ts';
import { finding } from '../../base/finding.ts';
import { LIMITS } from '../../base/limits.ts';
import { isFilter, kindOf, LAYER_KINDS } from '../../layers/kinds.ts';
import { overlaidInTime } from '../../layers/time-filters.ts';
import { rigOf } from '../../document/shot.ts';
import { selectedChannels } from '../../document/selection.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { chosenNodes } from '../shared/chosen-nodes.ts';
import { freshLayer } from '../shared/fresh-layer.ts';
import { bookendsOption, rampsOption, rangeOf } from '../shared/range-options.ts';
import { checkedSettings } from './filter-option.ts';
import { filterFindings } from './filter-findings.ts';

const kinds = LAYER_KINDS.filter(isFilter).map(({ kind }) => kind);

export const addFilter = defineEdit({
  id: 'filters.add',
  title: 'Add filter',
  summary: 'Lays a live filter over the selected controls: the keys stay, what shows changes.',
  words: `procedural modifier new delay ${kinds.map((kind) => `${kind} ${kindOf({ kind })!.words}`).join(' ')}`,
  group: 'filters',
  needs: 'channels',
  locks: 'none',
  options: z.object({
    kind: z
      .enum(kinds)
      .default('spring')
      .meta({
        title: 'Kind',
        labels: Object.fromEntries(kinds.map((kind) => [kind, kindOf({ kind })!.title.toLowerCase()])),
      }),
    name: nameOption('its kind and a number'),
    channels: z
      .enum(['all', 'chosen'])
      .default('all')
      .meta({
        title: 'Channels',
        labels: { all: 'all keyed', chosen: 'the chosen' },
        description: 'Of the selected controls.',
      }),
    settings: z
      .record(z.string(), z.unknown())
      .default({})
      .meta({ title: 'Settings', description: 'As the kind takes them; the usual ones where left out.' }),
    bookends: bookendsOption,
    ramps: rampsOption,
  }),
  run(shot, selection, { kind, name, channels, settings, bookends, ramps }) {
    if (shot.layers.length >= LIMITS.layers)
      return refused(shot, selection, finding('tooManyLayers', {}, LIMITS.layers));
    const chosenOnes = chosenNodes(shot, selection);
    const members = kindOf({ kind })!.gather?.(chosenOnes, rigOf(shot)) ?? chosenOnes;
    const chosen = selectedChannels(shot, selection);
    const filter = freshLayer(shot, name, kindOf({ kind })!.title, {
      kind,
      members,
      // By address: a channel of the same name on another control is not meant.
      channels: channels === 'chosen' ? chosen : null,
      settings: checkedSettings(shot, kind, kindOf({ kind })!.fresh ?? {}, settings),
      range: rangeOf(bookends, ramps),
    });
    const after = { ...shot, layers: [...shot.layers, filter] };
    const crowded = overlaidInTime(after.layers);
    if (crowded !== null)
      return refused(shot, selection, finding('tooManyTimeFilters', {}, crowded, LIMITS.timeFilters));
    const { counted, findings } = filterFindings(after, filter);
    return outcome(shot, after, selection, {
      measures: [
        { name: 'controls', value: members.length, unit: '' },
        { name: 'channels filtered', value: counted, unit: '' },
      ],
      findings,
    });
  },
});
