/** Delete keys. A channel that loses all of them returns to its rest value. */
import { z } from 'zod';
import { EMPTY_CURVE } from '../../curve/curve.ts';
import { allRows, rebuild } from '../../curve/rebuild.ts';
import { defineEdit, outcome } from '../edit.ts';
import { changeTargets, lockedKeysFinding } from '../shared/targets.ts';

export const deleteKeys = defineEdit({
  id: 'keys.delete',
  title: 'Delete keys',
  summary: 'Deletes the chosen keys, or those of the marked range.',
  words: 'remove erase clear',
  group: 'keys',
  needs: 'chosen',
  locks: 'strip',
  options: z.object({}),
  run(shot, selection) {
    let deleted = 0;
    const changes = changeTargets(shot, selection, (curve, rows) => {
      deleted += rows.length;
      const gone = new Set(rows);
      const kept = allRows(curve).filter((row) => !gone.has(row));
      return kept.length === 0 ? EMPTY_CURVE : rebuild(curve, kept);
    });
    return outcome(shot, changes.shot, selection, {
      touched: changes.touched,
      findings: lockedKeysFinding(changes.lockedKeys),
      measures: [{ name: 'keys deleted', value: deleted, unit: '' }],
      selection: { ...selection, keys: {} },
    });
  },
});
