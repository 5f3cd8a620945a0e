/** Add an offset pass over the chosen controls. It starts at nothing: the motion is what it was until it is posed. */
import { z } from 'zod';
import { nameOption } from '../shared/name-option.ts';
import { finding } from '../../base/finding.ts';
import { defineEdit, outcome } from '../edit.ts';
import { freshLayer } from '../shared/fresh-layer.ts';
import { bookendsOption, rampsOption, rangeOf } from '../shared/range-options.ts';
import { chosenNodes } from '../shared/chosen-nodes.ts';
import { underFilters } from './under-filters.ts';

export const addOffsetPass = defineEdit({
  id: 'passes.addOffset',
  title: 'Add offset pass',
  summary: 'Lays a pass over the selected controls; poses on it add to the motion below.',
  words: 'layer additive override new',
  group: 'passes',
  needs: 'channels',
  locks: 'none',
  options: z.object({
    name: nameOption('“Offset” and a number'),
    rotations: z.enum(['channels', 'orientations']).default('channels').meta({
      title: 'Rotations',
      description: 'Add angle by angle, or compose as orientations.',
    }),
    bookends: bookendsOption,
    ramps: rampsOption,
  }),
  run(shot, selection, { name, rotations, bookends, ramps }) {
    const members = chosenNodes(shot, selection);
    const range = rangeOf(bookends, ramps);
    const pass = freshLayer(shot, name, 'Offset', {
      kind: 'offset',
      members,
      settings: { rotations },
      range,
    });
    return outcome(shot, underFilters(shot, pass), selection, {
      selection: { ...selection, layer: pass.id, keys: {} },
      measures: [{ name: 'controls', value: members.length, unit: '' }],
      findings: range ? [finding('bookends', {}, range.start, range.end)] : [],
    });
  },
});
