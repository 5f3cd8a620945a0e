/** Remove a pass: the motion below shows again exactly as it was. */
import { z } from 'zod';
import { defineEdit, outcome } from '../edit.ts';
import { keysOn } from './pass-nodes.ts';
import { openPass, passOption } from './pass-option.ts';

export const removePass = defineEdit({
  id: 'passes.remove',
  title: 'Remove pass',
  summary: 'Takes a pass away; what lies below is untouched.',
  words: 'layer delete erase',
  group: 'passes',
  locks: 'none',
  options: z.object({ pass: passOption }),
  run(shot, selection, { pass: id }) {
    const pass = openPass(shot, id);
    const after = { ...shot, layers: shot.layers.filter((other) => other.id !== id) };
    return outcome(shot, after, selection, {
      selection: selection.layer === id ? { ...selection, layer: null, keys: {} } : selection,
      measures: [{ name: 'keys removed with it', value: keysOn(shot, pass), unit: '' }],
    });
  },
});
