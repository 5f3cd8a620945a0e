/** The transform box: keys on any number of curves scaled and moved in value and time about a pivot, tapered, or flipped. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import type { Curve } from '../../curve/curve.ts';
import { landingOf, transformKeys as transformCurve } from '../../curve/transform.ts';
import type { KeyTransform } from '../../curve/transform.ts';
import { targetsOf } from '../../document/selection.ts';
import type { Target } from '../../document/selection.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { MOST_FRAMES } from '../../base/frame-range.ts';
import { blockedFinding, changeTargets, freeOfLocked, lockedKeysFinding } from '../shared/targets.ts';

const scale = (title: string, description: string) =>
  z.number().min(-1000).max(1000).default(1).meta({ title, unit: '×', step: 0.05, description });

const options = z.object({
  scaleValue: scale('Scale value', '−1 flips in value about the pivot.'),
  scaleTime: scale('Scale time', '−1 flips in time about the pivot.'),
  moveValue: z.number().min(-1e9).max(1e9).default(0).meta({
    title: 'Move value',
    unit: '',
    step: 0.1,
    description: "In the channel's unit.",
  }),
  moveFrames: z.number().min(-MOST_FRAMES).max(MOST_FRAMES).default(0).meta({
    title: 'Move in time',
    unit: 'frames',
    step: 1,
    description: 'Later is more.',
  }),
  taper: z.enum(['none', 'start', 'end']).default('none').meta({
    title: 'Taper',
    description: 'The value scale holds fully at this end only and fades to 1 toward the other.',
  }),
  valuePivot: z.enum(['centre', 'zero', 'first', 'last', 'typed']).default('centre').meta({
    title: 'Pivot in value',
    description: 'centre: the middle of the selected keys of each curve; first, last: the value of that key.',
  }),
  pivotValue: z.number().min(-1e9).max(1e9).default(0).meta({
    title: 'Pivot value',
    unit: '',
    step: 0.1,
    description: 'For typed: where the pivot lies.',
  }),
  timePivot: z.enum(['centre', 'first', 'last', 'typed']).default('first').meta({
    title: 'Pivot in time',
    description: 'first, last, centre: of all selected keys together.',
  }),
  pivotFrame: z.number().min(-MOST_FRAMES).max(MOST_FRAMES).default(0).meta({
    title: 'Pivot frame',
    unit: 'frame',
    step: 1,
    description: 'For typed: the play-head, for example.',
  }),
  pivotByChannel: z.record(z.string(), z.number().min(-1e9).max(1e9)).default({}).meta({
    title: 'Pivot by channel',
    description: 'In place of the pivot in value, as a box over normalised curves has it.',
  }),
  moveByChannel: z
    .record(z.string(), z.number().min(-1e9).max(1e9))
    .default({})
    .meta({ title: 'Move by channel', description: 'In place of Move value.' }),
  wholeFrames: z.boolean().default(true).meta({
    title: 'Land on whole frames',
    description: 'Times are rounded after scaling.',
  }),
});
type Options = z.output<typeof options>;

export const transformKeys = defineEdit({
  id: 'keys.transform',
  title: 'Transform box',
  summary: 'Scales, moves, tapers or flips the selected keys about a pivot, on all curves at once.',
  words: 'scale stretch squash negate mirror values box exaggerate amplify dampen taper',
  group: 'keys',
  needs: 'keys',
  locks: 'strip',
  options,
  run(shot, selection, given) {
    if (given.scaleTime === 0) return refused(shot, selection, finding('noTimeLeft', {}));
    const box = boxAround(targetsOf(shot, selection));
    const moves = [given.moveValue, given.moveFrames, ...Object.values(given.moveByChannel)];
    if (given.scaleValue === 1 && given.scaleTime === 1 && moves.every((by) => by === 0))
      return outcome(shot, shot, selection);
    let keys = 0;
    let overwritten = 0;
    let blocked = 0;
    const changes = changeTargets(shot, selection, (curve, wanted, channel) => {
      const by: KeyTransform = {
        timeScale: given.scaleTime,
        timePivot: timePivotOf(given, box),
        timeMove: given.moveFrames,
        valuePivot: given.pivotByChannel[channel] ?? valuePivotOf(given, curve, wanted),
        valueMove: given.moveByChannel[channel] ?? given.moveValue,
        valueScaleStart: given.taper === 'end' ? 1 : given.scaleValue,
        valueScaleEnd: given.taper === 'start' ? 1 : given.scaleValue,
        boxStart: box.start,
        boxEnd: box.end,
        wholeFrames: given.wholeFrames && (given.scaleTime !== 1 || given.moveFrames !== 0),
      };
      const rows = freeOfLocked(curve, wanted, (row) => landingOf(curve.times[row]!, by));
      blocked += wanted.length - rows.length;
      if (rows.length === 0) return curve;
      const after = transformCurve(curve, rows, by);
      keys += rows.length;
      overwritten += after.overwritten;
      return after.curve;
    });
    const findings = [...lockedKeysFinding(changes.lockedKeys), ...blockedFinding(blocked)];
    if (overwritten > 0) findings.push(finding('keysOverwritten', {}, overwritten));
    return outcome(shot, changes.shot, selection, {
      touched: changes.touched,
      findings,
      measures: [{ name: 'keys transformed', value: keys, unit: '' }],
    });
  },
});

/** The frames of all keys that are meant. */
function boxAround(targets: readonly Target[]): { start: number; end: number } {
  let [start, end] = [Infinity, -Infinity];
  for (const { curve, rows } of targets) {
    const [first, last] = [rows.indexOf(1), rows.lastIndexOf(1)];
    if (first < 0) continue;
    start = Math.min(start, curve.times[first]!);
    end = Math.max(end, curve.times[last]!);
  }
  return { start, end };
}

function boxOf(times: readonly number[]): { start: number; end: number } {
  let [start, end] = [Infinity, -Infinity];
  for (const time of times) {
    start = Math.min(start, time);
    end = Math.max(end, time);
  }
  return { start, end };
}

function timePivotOf(
  { timePivot, pivotFrame }: Options,
  { start, end }: { start: number; end: number },
): number {
  return { first: start, last: end, centre: (start + end) / 2, typed: pivotFrame }[timePivot];
}

function valuePivotOf({ valuePivot, pivotValue }: Options, curve: Curve, rows: readonly number[]): number {
  const values = rows.map((row) => curve.values[row]!);
  const { start, end } = boxOf(values);
  return {
    centre: (start + end) / 2,
    zero: 0,
    first: values[0]!,
    last: values[values.length - 1]!,
    typed: pivotValue,
  }[valuePivot];
}
