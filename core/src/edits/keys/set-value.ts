/** Set the value of keys: typed, or added to what they have. */
import { z } from 'zod';
import { rebuild } from '../../curve/rebuild.ts';
import { defineEdit, outcome } from '../edit.ts';
import { changeTargets, lockedKeysFinding } from '../shared/targets.ts';

export const setValue = defineEdit({
  id: 'keys.setValue',
  title: 'Set value',
  summary: 'Gives the selected keys a value, or adds to the one that they have.',
  words: 'zero negate absolute relative type number add',
  group: 'keys',
  needs: 'keys',
  locks: 'strip',
  choices: 'taken',
  options: z.object({
    value: z.number().min(-1e9).max(1e9).default(0).meta({
      title: 'Value',
      unit: '',
      step: 0.1,
      description: "In the channel's unit.",
    }),
    relative: z.boolean().default(false).meta({
      title: 'Add to what is there',
      description: 'Otherwise every key gets just this value.',
    }),
  }),
  run(shot, selection, { value, relative }) {
    let count = 0;
    const changes = changeTargets(shot, selection, (curve, rows) => {
      count += rows.length;
      return rebuild(curve, null, (columns) =>
        rows.forEach((row) => (columns.values[row] = relative ? columns.values[row]! + value : value)),
      );
    });
    return outcome(shot, changes.shot, selection, {
      touched: changes.touched,
      findings: lockedKeysFinding(changes.lockedKeys),
      measures: [{ name: 'keys set', value: count, unit: '' }],
    });
  },
});
