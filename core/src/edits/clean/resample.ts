/** Resample: keys on every Nth frame in place of those that are there, on the curve as it runs. */
import { z } from 'zod';
import { standsAt } from '../../base/bisect.ts';
import { finding } from '../../base/finding.ts';
import { FLAG } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { differenceOf } from '../../curve/difference.ts';
import { allRows } from '../../curve/rebuild.ts';
import { rowsOf } from '../../curve/rows-of.ts';
import { addKeysKeepingShape } from '../../curve/split.ts';
import { unitOf } from '../../rig/node.ts';
import { targetsOf } from '../../document/selection.ts';
import { splitChannel } from '../../document/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import type { Measure } from '../edit.ts';
import { changeTargets, lockedKeysFinding, openRows } from '../shared/targets.ts';

export const resample = defineEdit({
  id: 'clean.resample',
  title: 'Resample',
  summary: 'Puts keys on every so many frames in place of those that are there.',
  words: 'bake sample every frame densify plot ones',
  group: 'clean',
  needs: 'keys',
  locks: 'strip',
  promise: 'nothingOutside',
  options: z.object({
    every: z.number().min(0.01).max(1000).default(1).meta({
      title: 'Every',
      unit: 'frames',
      step: 1,
      description: 'Frames from one key to the next.',
    }),
  }),
  run(shot, selection, { every }) {
    let samples = 0;
    for (const target of targetsOf(shot, selection))
      samples += samplesOf(target.curve, openRows(target).rows, every);
    if (samples > MOST_SAMPLES) return refused(shot, selection, finding('notSampleable', {}, samples));
    let before = 0;
    let after = 0;
    let worst: Measure | null = null;
    const short: string[] = [];
    const changes = changeTargets(shot, selection, (curve, rows, channel) => {
      if (rows.length < 2) short.push(channel);
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
    const findings = lockedKeysFinding(changes.lockedKeys);
    if (short.length > 0) findings.push(finding('tooFewKeys', {}, short));
    return outcome(shot, changes.shot, selection, {
      touched: changes.touched,
      findings,
      measures: [{ name: 'keys', before, value: after, unit: '' }, ...(worst ? [worst] : [])],
    });
  },
});

/** More than this would fill the memory before it ended. */
const MOST_SAMPLES = 2e6;

/** The frames of the grid from the first of the rows to the last. */
function gridOf(curve: Curve, rows: readonly number[], every: number) {
  const [start, end] = [curve.times[rows[0]!]!, curve.times[rows[rows.length - 1]!]!];
  return { first: Math.ceil(start / every - 1e-9), last: Math.floor(end / every + 1e-9) };
}

function samplesOf(curve: Curve, rows: readonly number[], every: number): number {
  if (rows.length < 2) return 0;
  const { first, last } = gridOf(curve, rows, every);
  return last - first + 1;
}

/** Keys outside the rows, and locked ones, stay, and so do the first and the last of the rows; nothing else moves. */
function resampled(curve: Curve, rows: readonly number[], every: number): Curve {
  if (rows.length < 2) return curve;
  const { first, last } = gridOf(curve, rows, every);
  const grid = Float64Array.from({ length: Math.max(last - first + 1, 0) }, (_, k) => (first + k) * every);
  const keyed = addKeysKeepingShape(curve, [...grid]);
  const gone = new Set(
    rows
      .slice(1, -1)
      .filter((row) => !standsAt(grid, curve.times[row]!))
      .map((row) => curve.ids[row]!),
  );
  const kept = allRows(keyed).filter((row) => !gone.has(keyed.ids[row]!));
  return rowsOf(keyed, kept, (columns) => {
    // Handles had lengths for segments that are no more.
    for (let i = 0; i + 1 < kept.length; i += 1) {
      if (kept[i + 1]! - kept[i]! === 1) continue;
      columns.flags[i]! &= ~FLAG.weightedOut;
      columns.flags[i + 1]! &= ~FLAG.weightedIn;
    }
  });
}
