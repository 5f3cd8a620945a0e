/** Snap: keys between frames move to the nearest whole one. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { allRows, rebuild } from '../../curve/rebuild.ts';
import { defineEdit, outcome } from '../edit.ts';
import { changeTargets, lockedKeysFinding, needsKeys } from '../targets.ts';

export const snap = defineEdit({
  id: 'clean.snap',
  title: 'Snap to frames',
  summary: 'Moves keys between frames to the nearest whole one.',
  group: 'clean',
  acts: 'on the selection',
  options: z.object({}),
  accepts: needsKeys,
  run(shot, selection) {
    let moved = 0;
    let overwritten = 0;
    let farthest = 0;
    const changes = changeTargets(shot, selection, (curve, rows) => {
      const between = rows.filter((row) => curve.times[row] !== Math.round(curve.times[row]!));
      if (between.length === 0) return curve;
      const moving = new Set(between);
      // Keys that stand on the frame already win over those that come to it.
      const order = [...between, ...allRows(curve).filter((row) => !moving.has(row))];
      const result = rebuild(curve, order, (columns) => {
        for (let i = 0; i < between.length; i += 1) {
          const time = Math.round(columns.times[i]!);
          farthest = Math.max(farthest, Math.abs(time - columns.times[i]!));
          columns.times[i] = time;
        }
      });
      moved += between.length;
      overwritten += order.length - result.times.length;
      return result;
    });
    const findings = lockedKeysFinding(changes.lockedKeys);
    if (overwritten > 0) findings.push(finding('keysMerged', {}, overwritten));
    return outcome(shot, changes.shot, selection, {
      touched: changes.touched,
      findings,
      measures: [
        { name: 'keys moved', value: moved, unit: '' },
        { name: 'farthest move', value: farthest, unit: '' },
      ],
    });
  },
});
