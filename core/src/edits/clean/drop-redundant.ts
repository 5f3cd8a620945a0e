/** Drop redundant keys: those without which the curve is exactly the same. */
import { z } from 'zod';
import { withoutRedundant } from '../../curve/redundant.ts';
import { defineEdit, outcome } from '../edit.ts';
import { changeTargets, lockedKeysFinding } from '../shared/targets.ts';

export const dropRedundant = defineEdit({
  id: 'clean.dropRedundant',
  title: 'Drop redundant keys',
  summary: 'Deletes keys without which the curve is exactly the same.',
  words: 'reduce needless static flat unused keys delete same value cleanup',
  group: 'clean',
  needs: 'keys',
  locks: 'strip',
  promise: 'sameMotion',
  options: z.object({}),
  run(shot, selection) {
    let before = 0;
    let after = 0;
    const changes = changeTargets(shot, selection, (curve, rows) => {
      const open = new Set(rows);
      const result = withoutRedundant(curve, (row) => open.has(row));
      before += curve.times.length;
      after += result.times.length;
      return result;
    });
    return outcome(shot, changes.shot, selection, {
      touched: changes.touched,
      findings: lockedKeysFinding(changes.lockedKeys),
      measures: [{ name: 'keys', before, value: after, unit: '' }],
    });
  },
});
