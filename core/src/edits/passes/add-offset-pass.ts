/** Add an offset pass over the chosen controls. It starts at nothing: the motion is what it was until it is posed. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { constantCurve } from '../../shot/shot.ts';
import type { Layer } from '../../layers/layer.ts';
import { withEnds } from '../../layers/layer-range.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { chosenNodes } from './chosen-nodes.ts';
import { freshPassId, freshPassName } from './fresh-pass.ts';
import { bookendsOption, rampsOption } from './range-options.ts';

export const addOffsetPass = defineEdit({
  id: 'passes.addOffset',
  title: 'Add offset pass',
  summary: 'Lays a pass over the selected controls; poses on it add to the motion below.',
  words: 'layer additive override new',
  group: 'passes',
  needs: 'channels',
  locks: 'none',
  options: z.object({
    name: z
      .string()
      .trim()
      .max(60)
      .default('')
      .meta({ title: 'Name', description: 'Empty: “Offset” and a number.' }),
    rotations: z.enum(['channels', 'orientations']).default('channels').meta({
      title: 'Rotations',
      description: 'Add angle by angle, or compose as orientations.',
    }),
    bookends: bookendsOption,
    ramps: rampsOption,
  }),
  run(shot, selection, { name, rotations, bookends, ramps }) {
    if (bookends && !(bookends.end > bookends.start)) {
      return refused(shot, selection, finding('badRange', {}, bookends.start, bookends.end));
    }
    const members = chosenNodes(shot, selection);
    const pass: Layer = {
      id: freshPassId(shot),
      name: name || freshPassName(shot, 'Offset'),
      kind: 'offset',
      colour: shot.layers.length % 8,
      members,
      muted: false,
      solo: false,
      locked: false,
      weight: constantCurve(1, shot.range.start),
      channels: null,
      settings: { rotations },
      range: bookends && withEnds({ ...bookends, rampIn: ramps, rampOut: ramps }, bookends),
      curves: [],
    };
    const after = { ...shot, layers: [...shot.layers, pass] };
    return outcome(shot, after, selection, {
      selection: { ...selection, pass: pass.id, keys: {} },
      measures: [{ name: 'controls', value: members.length, unit: '' }],
      findings: bookends ? [finding('bookends', {}, bookends.start, bookends.end)] : [],
    });
  },
});
