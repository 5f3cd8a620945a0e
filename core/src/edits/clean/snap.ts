/** Snap: keys between frames move to the nearest whole one. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { allRows, rebuild } from '../../curve/rebuild.ts';
import { defineEdit, outcome } from '../edit.ts';
import { blockedFinding, changeTargets, freeOfLocked, lockedKeysFinding } from '../shared/targets.ts';

export const snap = defineEdit({
  id: 'clean.snap',
  title: 'Snap to frames',
  summary: 'Moves keys between frames to the nearest whole one.',
  words: 'whole frames round subframe integer align quantise',
  group: 'clean',
  needs: 'keys',
  locks: 'strip',
  options: z.object({}),
  run(shot, selection) {
    let moved = 0;
    let overwritten = 0;
    let farthest = 0;
    let blocked = 0;
    const changes = changeTargets(shot, selection, (curve, rows) => {
      const wanted = rows.filter((row) => curve.times[row] !== Math.round(curve.times[row]!));
      const between = freeOfLocked(curve, wanted, (row) => Math.round(curve.times[row]!));
      blocked += wanted.length - between.length;
      if (between.length === 0) return curve;
      const moving = new Set(between);
      const away = (row: number) => Math.abs(curve.times[row]! - Math.round(curve.times[row]!));
      // The nearest to a frame wins it, and one that stands on it already wins over all that come.
      between.sort((a, b) => away(b) - away(a));
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
    const findings = [...lockedKeysFinding(changes.lockedKeys), ...blockedFinding(blocked)];
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
