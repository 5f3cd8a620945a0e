/** Smooth: takes jitter or spikes out of dense keys. Keys stay on their frames; their values change. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import type { Curve } from '../../curve/curve.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { butterworth, filterBothWays, savitzkyGolay, withoutSpikes } from '../../curve/smooth.ts';
import { unitOf } from '../../rig/node.ts';
import { framesPerSecond, splitChannel } from '../../shot/shot.ts';
import type { ChannelId, Rate } from '../../shot/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import type { Measure } from '../edit.ts';
import { changeTargets, lockedKeysFinding, needsKeys } from '../targets.ts';

const options = z.object({
  method: z.enum(['quadratic', 'lowPass', 'spikes']).default('quadratic').meta({
    title: 'Method',
    description:
      'quadratic: local quadratics (Savitzky–Golay); low pass: Butterworth both ways, nothing is delayed; spikes: only values that stand out.',
  }),
  window: z.number().int().min(3).max(101).default(7).meta({
    title: 'Window',
    unit: 'frames',
    step: 2,
    description: 'For quadratic and spikes: how many keys are looked at together; odd.',
  }),
  cutoff: z.number().min(0.1).max(1000).default(6).meta({
    title: 'Cut-off',
    unit: 'Hz',
    step: 0.5,
    description: 'For low pass: faster than this is taken out.',
  }),
  threshold: z.number().min(1).max(50).default(5).meta({
    title: 'Threshold',
    unit: '',
    step: 0.5,
    description: 'For spikes: how many times the usual spread a value must stand out.',
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
  group: 'clean',
  acts: 'on the selection',
  options,
  accepts: needsKeys,
  run(shot, selection, given) {
    const short: string[] = [];
    let changed = 0;
    let worst: Measure | null = null;
    const change = (curve: Curve, rows: readonly number[], channel: ChannelId) => {
      const values = curve.values.slice();
      let smoothed = 0;
      for (const run of evenRuns(curve, rows)) {
        smoothed += run.length;
        smoothRun(values, run, curve.times[run[1]!]! - curve.times[run[0]!]!, given, shot.rate);
      }
      if (smoothed === 0) short.push(channel);
      const unit = unitOf(splitChannel(channel).name);
      rows.forEach((row) => {
        const moved = Math.abs(values[row]! - curve.values[row]!);
        if (moved > 0) changed += 1;
        if (moved > (worst?.value ?? 0))
          worst = {
            name: 'greatest change',
            value: moved,
            unit,
            where: { channel, frame: curve.times[row]! },
          };
      });
      return rebuild(curve, null, (columns) => columns.values.set(values));
    };
    const changes = changeTargets(shot, selection, change);
    const findings = lockedKeysFinding(changes.lockedKeys);
    if (given.method === 'lowPass' && given.cutoff >= framesPerSecond(shot.rate) / 2)
      findings.push(finding('cutoffTooHigh', {}, given.cutoff, framesPerSecond(shot.rate) / 2));
    if (short.length > 0) findings.push(finding('unevenKeys', {}, short));
    return outcome(shot, changes.shot, selection, {
      touched: changes.touched,
      findings,
      measures: [{ name: 'keys changed', value: changed, unit: '' }, ...(worst ? [worst] : [])],
    });
  },
});

/** Runs of at least five neighbouring rows at even distances. */
function evenRuns(curve: Curve, rows: readonly number[]): number[][] {
  const runs: number[][] = [];
  let run: number[] = [];
  for (const row of rows) {
    const last = run[run.length - 1];
    const gap = last === undefined ? 0 : curve.times[row]! - curve.times[last]!;
    const usual = run.length > 1 ? curve.times[run[1]!]! - curve.times[run[0]!]! : gap;
    if (last !== undefined && (row !== last + 1 || Math.abs(gap - usual) > 1e-6)) {
      runs.push(run);
      // A wider gap may itself begin an even run.
      run = row === last + 1 ? [last] : [];
    }
    run.push(row);
  }
  runs.push(run);
  return runs.filter((one) => one.length >= 5);
}

/** @param gap frames between keys */
function smoothRun(
  values: Float64Array,
  run: readonly number[],
  gap: number,
  given: Options,
  rate: Rate,
): void {
  const part = Float64Array.from(run, (row) => values[row]!);
  const half = Math.min(given.window >> 1, (run.length - 1) >> 1);
  const perSecond = framesPerSecond(rate) / gap;
  const result =
    given.method === 'quadratic'
      ? savitzkyGolay(part, half)
      : given.method === 'spikes'
        ? withoutSpikes(part, half, given.threshold, 1e-9).values
        : // Beyond half the rate there is nothing to take out.
          given.cutoff < perSecond / 2
          ? filterBothWays(part, butterworth(given.cutoff, perSecond))
          : part;
  const edge = given.keepEnds ? 1 : 0;
  for (let i = edge; i < run.length - edge; i += 1) values[run[i]!] = result[i]!;
}
