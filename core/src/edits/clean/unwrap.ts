/** Unwrap: takes steps of 360° out of angles over time. The orientation on every key stays what it was. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { channelKind } from '../../rig/node.ts';
import { splitChannel } from '../../shot/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import { changeTargets, lockedKeysFinding, needsKeys } from '../targets.ts';

export const unwrap = defineEdit({
  id: 'clean.unwrap',
  title: 'Unwrap angles',
  summary: 'Takes steps of 360° out of rotation curves: no key is more than 180° from the one before.',
  group: 'clean',
  acts: 'on the selection',
  options: z.object({}),
  accepts: needsKeys,
  run(shot, selection) {
    const others: string[] = [];
    let turned = 0;
    let steps = 0;
    const changes = changeTargets(shot, selection, (curve, rows, channel) => {
      if (channelKind(splitChannel(channel).name) !== 'rotation') {
        others.push(channel);
        return curve;
      }
      const open = new Set(rows);
      let turns = 0;
      return rebuild(curve, null, (columns) => {
        for (let row = 1; row < columns.times.length; row += 1) {
          if (!open.has(row)) continue;
          const step = curve.values[row]! + turns * 360 - columns.values[row - 1]!;
          const more = -Math.round(step / 360);
          if (more !== 0) steps += 1;
          turns += more;
          if (turns !== 0) turned += 1;
          columns.values[row] = curve.values[row]! + turns * 360;
        }
      });
    });
    const findings = lockedKeysFinding(changes.lockedKeys);
    if (others.length > 0) findings.push(finding('notRotation', {}, others));
    return outcome(shot, changes.shot, selection, {
      touched: changes.touched,
      findings,
      measures: [
        { name: 'steps taken out', value: steps, unit: '' },
        { name: 'keys turned', value: turned, unit: '' },
      ],
    });
  },
});
