/** A pass without its keys: its members, weight and place stay. */
import { z } from 'zod';
import { curvesIn, withLayer } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import { keysOn } from './pass-nodes.ts';
import { openPass, passOption } from './pass-option.ts';

export const clearPass = defineEdit({
  id: 'passes.clear',
  title: 'Clear pass',
  summary: 'Takes all keys off a pass; its controls, weight and place stay.',
  words: 'layer empty zero reset delete keys',
  group: 'passes',
  locks: 'none',
  options: z.object({ pass: passOption }),
  run(shot, selection, { pass: id }) {
    const pass = openPass(shot, id);
    const held = [...curvesIn(pass.curves, shot.nodes)];
    if (held.length === 0) return outcome(shot, shot, selection);
    return outcome(
      shot,
      withLayer(shot, id, (was) => ({ ...was, curves: [] })),
      selection,
      {
        selection: selection.layer === id ? { ...selection, keys: {} } : selection,
        touched: held.map(([channel]) => channel),
        measures: [{ name: 'keys removed', value: keysOn(shot, pass), unit: '' }],
      },
    );
  },
});
