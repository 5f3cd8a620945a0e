/** Resample: keys on every Nth frame in place of those that are there, on the curve as it runs. */
import { z } from 'zod';
import { FLAG, SEGMENT, TANGENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { differenceOf } from '../../curve/difference.ts';
import { evaluate, slopeAt } from '../../curve/evaluate.ts';
import { allRows, rebuild } from '../../curve/rebuild.ts';
import { bisectRight } from '../../base/bisect.ts';
import { unitOf } from '../../rig/node.ts';
import { splitChannel } from '../../shot/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import type { Measure } from '../edit.ts';
import { changeTargets, lockedKeysFinding, needsKeys } from '../targets.ts';

export const resample = defineEdit({
  id: 'clean.resample',
  title: 'Resample',
  summary: 'Puts keys on every so many frames in place of those that are there.',
  group: 'clean',
  acts: 'on the selection',
  options: z.object({
    every: z.number().min(0.01).max(1000).default(1).meta({
      title: 'Every',
      unit: 'frames',
      step: 1,
      description: 'Frames from one key to the next.',
    }),
  }),
  accepts: needsKeys,
  run(shot, selection, { every }) {
    let before = 0;
    let after = 0;
    let worst: Measure | null = null;
    const changes = changeTargets(shot, selection, (curve, rows, channel) => {
      const result = resampled(curve, rows, every);
      before += curve.times.length;
      after += result.times.length;
      const range = { start: curve.times[0]!, end: curve.times[curve.times.length - 1]! };
      const { greatest, frame } = differenceOf(curve, result, range);
      if (greatest > (worst?.value ?? 0)) {
        const unit = unitOf(splitChannel(channel).name);
        worst = { name: 'greatest change', value: greatest, unit, where: { channel, frame } };
      }
      return result;
    });
    return outcome(shot, changes.shot, selection, {
      touched: changes.touched,
      findings: lockedKeysFinding(changes.lockedKeys),
      measures: [{ name: 'keys', before, value: after, unit: '' }, ...(worst ? [worst] : [])],
    });
  },
});

/** Keys outside the rows, and locked ones, stay; the first and the last of the rows do too. */
function resampled(curve: Curve, rows: readonly number[], every: number): Curve {
  const [first, last] = [rows[0]!, rows[rows.length - 1]!];
  if (rows.length < 2) return curve;
  const gone = new Set(rows.slice(1, -1));
  const kept = allRows(curve).filter((row) => !gone.has(row));
  const [start, end] = [curve.times[first]!, curve.times[last]!];
  const held = kept.map((row) => curve.times[row]!);
  const grid: number[] = [];
  for (let k = Math.ceil(start / every - 1e-9); k * every < end - 1e-6; k += 1) {
    const time = k * every;
    if (time > start + 1e-6 && !held.some((other) => Math.abs(other - time) < 1e-6)) grid.push(time);
  }
  return rebuild(curve, [...kept, ...grid.map(() => -1)], (columns) => {
    kept.forEach((row, i) => {
      if (row < first || row > last) return;
      columns.tangentsIn[i] = columns.tangentsOut[i] = TANGENT.free;
      columns.flags[i]! &= ~(FLAG.weightedIn | FLAG.weightedOut);
    });
    grid.forEach((time, i) => {
      const at = kept.length + i;
      columns.times[at] = time;
      columns.values[at] = evaluate(curve, time);
      columns.segments[at] = curve.segments[bisectRight(curve.times, time) - 1] ?? SEGMENT.cubic;
      columns.tangentsIn[at] = columns.tangentsOut[at] = TANGENT.free;
      columns.slopesOut[at] = slopeAt(curve, time);
      columns.slopesIn[at] = slopeAt(curve, time - 1e-7);
      if (Math.abs(columns.slopesIn[at] - columns.slopesOut[at]) > 1e-4) columns.flags[at] = FLAG.broken;
    });
  });
}
