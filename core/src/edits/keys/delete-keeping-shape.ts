/** Delete keys and bend the neighbours' tangents so that the curve stays as near to what it was as one segment can. */
import { z } from 'zod';
import { differenceOf } from '../../curve/difference.ts';
import { withoutKeys } from '../../curve/without-keys.ts';
import { unitOf } from '../../rig/node.ts';
import { splitChannel } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import type { Measure } from '../edit.ts';
import { changeTargets, lockedKeysFinding } from '../shared/targets.ts';

export const deleteKeepingShape = defineEdit({
  id: 'keys.deleteKeepingShape',
  title: 'Delete keeping the shape',
  summary: 'Deletes the chosen keys and refits the tangents beside them; first and last keys stay.',
  words: 'remove reduce simplify keep curve dissolve',
  group: 'keys',
  needs: 'chosen',
  locks: 'strip',
  options: z.object({}),
  run(shot, selection) {
    let deleted = 0;
    let worst: Measure | null = null;
    const changes = changeTargets(shot, selection, (curve, rows, channel) => {
      const result = withoutKeys(curve, rows);
      deleted += curve.times.length - result.times.length;
      if (result === curve) return curve;
      const range = { start: curve.times[0]!, end: curve.times[curve.times.length - 1]! };
      const { greatest, frame } = differenceOf(curve, result, range);
      const unit = unitOf(splitChannel(channel).name);
      if (greatest > (worst?.value ?? -1))
        worst = { name: 'greatest change', value: greatest, unit, where: { channel, frame } };
      return result;
    });
    return outcome(shot, changes.shot, selection, {
      touched: changes.touched,
      findings: lockedKeysFinding(changes.lockedKeys),
      measures: [{ name: 'keys deleted', value: deleted, unit: '' }, ...(worst ? [worst] : [])],
    });
  },
});
