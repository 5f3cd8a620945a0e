/** Lock keys: no edit changes a locked key until it is unlocked. */
import { z } from 'zod';
import { FLAG } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { targetsOf } from '../../document/selection.ts';
import { withCurves } from '../../document/shot.ts';
import type { ChannelId } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';

export const lockKeys = defineEdit({
  id: 'keys.lock',
  title: 'Lock keys',
  summary: 'Locks the selected keys, so that no edit changes them, or unlocks them.',
  words: 'protect freeze guard unlock',
  group: 'keys',
  needs: 'keys',
  locks: 'strip',
  promise: 'sameMotion',
  choices: 'taken',
  options: z.object({
    locked: z.boolean().default(true).meta({ title: 'Locked', description: 'Off, the keys are free again.' }),
  }),
  run(shot, selection, { locked }) {
    const changed = new Map<ChannelId, Curve>();
    let keys = 0;
    for (const { channel, curve, rows } of targetsOf(shot, selection)) {
      const flags = curve.flags.map((flag, row) =>
        rows[row] === 0 ? flag : locked ? flag | FLAG.locked : flag & ~FLAG.locked,
      );
      const count = flags.reduce((sum, flag, row) => (flag === curve.flags[row] ? sum : sum + 1), 0);
      if (count === 0) continue;
      keys += count;
      changed.set(
        channel,
        rebuild(curve, null, (columns) => columns.flags.set(flags)),
      );
    }
    return outcome(shot, withCurves(shot, selection.layer, changed), selection, {
      touched: [...changed.keys()],
      measures: [{ name: locked ? 'keys locked' : 'keys unlocked', value: keys, unit: '' }],
    });
  },
});
