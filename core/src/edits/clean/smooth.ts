/** Smooth: takes jitter or spikes out of dense keys. Keys stay on their frames; their values change. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { FLAG, SEGMENT, TANGENT } from '../../curve/curve.ts';
import type { Columns, Curve } from '../../curve/curve.ts';
import { rebuild } from '../../curve/rebuild.ts';
import {
  butterworth,
  cutoffOfEach,
  filterBothWays,
  savitzkyGolay,
  withoutSpikes,
} from '../../curve/smooth.ts';
import { unitOf } from '../../rig/node.ts';
import { framesPerSecond, splitChannel } from '../../document/shot.ts';
import type { ChannelId } from '../../document/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import type { Measure } from '../edit.ts';
import { changeTargets, lockedKeysFinding } from '../shared/targets.ts';
import { SAMPLE_GAP, withoutSteps } from './unwrap.ts';

const options = z.object({
  method: z.enum(['quadratic', 'lowPass', 'spikes']).default('quadratic').meta({
    title: 'Method',
    description:
      'quadratic: local quadratics (Savitzky–Golay); low pass: Butterworth both ways, nothing is delayed; spikes: only values that stand out.',
  }),
  window: z
    .number()
    .int()
    .min(3)
    .max(101)
    .default(7)
    .meta({
      title: 'Window',
      when: { method: ['quadratic', 'spikes'] },
      unit: 'frames',
      step: 2,
      description: 'For quadratic and spikes: how many keys are looked at together; odd.',
    }),
  cutoff: z
    .number()
    .min(0.1)
    .max(1000)
    .default(6)
    .meta({
      title: 'Cut-off',
      when: { method: 'lowPass' },
      unit: 'Hz',
      step: 0.5,
      description: 'For low pass: faster than this is taken out.',
    }),
  threshold: z
    .number()
    .min(1)
    .max(50)
    .default(5)
    .meta({
      title: 'Threshold',
      when: { method: 'spikes' },
      unit: '',
      step: 0.5,
      description: 'For spikes: how many times the usual spread a value must stand out.',
    }),
  wraps: z
    .enum(['unwrap', 'refuse'])
    .default('unwrap')
    .meta({
      title: 'Steps of 360°',
      labels: { unwrap: 'take out', refuse: 'refuse' },
      description: 'Where an angle jumps by a whole turn between two keys: a filter would smear the jump.',
    }),
  keepEnds: z.boolean().default(true).meta({
    title: 'Keep the ends',
    description: 'The first and the last key of each run stay exactly as they are.',
  }),
});
type Options = z.output<typeof options>;

export const smooth = defineEdit({
  id: 'clean.smooth',
  title: 'Smooth',
  summary: 'Takes jitter or spikes out of dense keys; they stay on their frames.',
  words: 'noise jitter filter low-pass butterworth gaussian spikes blur shake denoise',
  group: 'clean',
  needs: 'keys',
  locks: 'strip',
  promise: 'nothingOutside',
  options,
  run(shot, selection, given) {
    const straight = withoutSteps(shot, selection, SAMPLE_GAP);
    if (straight.touched.length > 0 && given.wraps === 'refuse')
      return refused(shot, selection, finding('wrapsInTheWay', {}, straight.touched));
    const left: string[] = [];
    const tooFast: string[] = [];
    let least = Infinity;
    let changed = 0;
    let worst: Measure | null = null;
    const change = (curve: Curve, rows: readonly number[], channel: ChannelId) => {
      const runs = sampledRuns(curve, rows);
      if (runs.length === 0) left.push(channel);
      const values = curve.values.slice();
      const smoothed = new Set<number>();
      for (const run of runs) {
        const perSecond = framesPerSecond(shot.rate) / (curve.times[run[1]!]! - curve.times[run[0]!]!);
        if (given.method === 'lowPass' && given.cutoff >= perSecond / 2) {
          if (!tooFast.includes(channel)) tooFast.push(channel);
          least = Math.min(least, perSecond / 2);
          continue;
        }
        smoothRun(values, run, perSecond, given);
        for (const row of run) smoothed.add(row);
      }
      for (const row of rows) {
        const moved = Math.abs(values[row]! - curve.values[row]!);
        if (moved === 0) continue;
        changed += 1;
        if (moved > (worst?.value ?? 0))
          worst = {
            name: 'greatest change',
            value: moved,
            unit: unitOf(splitChannel(channel).name),
            where: { channel, frame: curve.times[row]! },
          };
      }
      return rebuild(curve, null, (columns) => {
        columns.values.set(values);
        for (const row of smoothed) calmTangents(columns, row, smoothed);
      });
    };
    const changes = changeTargets(straight.shot, selection, change);
    const findings = lockedKeysFinding(changes.lockedKeys);
    if (straight.touched.length > 0) findings.push(finding('wrapsUnwrapped', {}, straight.touched));
    if (straight.remaining.length > 0) findings.push(finding('stepRemains', {}, straight.remaining));
    if (tooFast.length > 0) findings.push(finding('cutoffTooHigh', {}, given.cutoff, least, tooFast));
    if (left.length > 0) findings.push(finding('unevenKeys', {}, left));
    return outcome(shot, changes.shot, selection, {
      touched: [...new Set([...straight.touched, ...changes.touched])],
      findings,
      measures: [{ name: 'keys changed', value: changed, unit: '' }, ...(worst ? [worst] : [])],
    });
  },
});

/** Runs of at least five neighbouring rows at even distances, a frame or two apart, that flow from one to the next. */
function sampledRuns(curve: Curve, rows: readonly number[]): number[][] {
  const runs: number[][] = [];
  let run: number[] = [];
  for (const row of rows) {
    const last = run[run.length - 1];
    if (last !== undefined) {
      const gap = curve.times[row]! - curve.times[last]!;
      const usual = run.length > 1 ? curve.times[run[1]!]! - curve.times[run[0]!]! : gap;
      const flows = row === last + 1 && curve.segments[last] !== SEGMENT.stepped && gap <= SAMPLE_GAP + 1e-6;
      if (!flows || Math.abs(gap - usual) > 1e-6) {
        runs.push(run);
        // A wider gap may itself begin an even run.
        run = flows ? [last] : [];
      }
    }
    run.push(row);
  }
  runs.push(run);
  return runs.filter((one) => one.length >= 5);
}

/** Slopes set for the jittering values would keep the jitter: inside a run they follow the smooth rule. */
function calmTangents(columns: Columns, row: number, run: ReadonlySet<number>): void {
  const inside = run.has(row - 1) && run.has(row + 1);
  const free = columns.tangentsIn[row] === TANGENT.free || columns.tangentsOut[row] === TANGENT.free;
  if (!inside || !free || columns.segments[row] !== SEGMENT.cubic) return;
  columns.tangentsIn[row] = columns.tangentsOut[row] = TANGENT.smooth;
  columns.flags[row]! &= ~(FLAG.broken | FLAG.weightedIn | FLAG.weightedOut);
}

/** @param perSecond keys in a second */
function smoothRun(values: Float64Array, run: readonly number[], perSecond: number, given: Options): void {
  const part = Float64Array.from(run, (row) => values[row]!);
  const half = Math.min(given.window >> 1, (run.length - 1) >> 1);
  const result =
    given.method === 'quadratic'
      ? savitzkyGolay(part, half)
      : given.method === 'spikes'
        ? withoutSpikes(part, half, given.threshold, 1e-9).values
        : filterBothWays(part, butterworth(cutoffOfEach(given.cutoff, perSecond), perSecond));
  const edge = given.keepEnds ? 1 : 0;
  for (let i = edge; i < run.length - edge; i += 1) values[run[i]!] = result[i]!;
}
