/**
 * Pattern: a run of gaps gets a rhythm. Slow away from a pose, fast in the middle, slow into the next (common practice, no
 * source); whole frames always.
 */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { inRange } from '../../base/frame-range.ts';
import { timeThrough } from '../../base/time-map.ts';
import { retimeShot } from '../../document/retime.ts';
import { poseColumns } from '../../document/pose-columns.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { repeatsOption } from '../shared/repeats-option.ts';
import {
  channelsIn,
  rangeIn,
  retimedFindings,
  scopeOption,
  tangentsOption,
  wholeFramesOption,
} from './scope.ts';

export const PATTERNS = ['easeOut', 'easeIn', 'both', 'even'] as const;

export const pattern = defineEdit({
  id: 'timing.pattern',
  title: 'Pattern of gaps',
  summary: 'Gives the gaps between the selected pose columns a rhythm: slow away, slow into, or both.',
  words: 'twos threes ones retime spacing rhythm even',
  group: 'timing',
  locks: 'none',
  options: z.object({
    shape: z
      .enum(PATTERNS)
      .default('both')
      .meta({
        title: 'Rhythm',
        labels: { easeOut: 'slow away', easeIn: 'slow into', both: 'both ends' },
        description: 'slow away: long gaps first; slow into: long gaps last; both ends; even: all alike.',
      }),
    amount: z
      .number()
      .min(0)
      .max(1)
      .default(0.5)
      .meta({
        title: 'Amount',
        when: { shape: ['easeOut', 'easeIn', 'both'] },
        unit: '',
        step: 0.05,
        description: '0 is even, 1 makes the longest gap four times the shortest.',
      }),
    total: z.number().int().min(1).max(1e6).optional().meta({
      title: 'Total',
      unit: 'frames',
      step: 1,
      description: 'Frames from the first column to the last; left out, as it is.',
    }),
    scope: scopeOption,
    wholeFrames: wholeFramesOption,
    tangents: tangentsOption,
    repeats: repeatsOption,
  }),
  run(shot, selection, { shape, amount, total, scope, wholeFrames, tangents, repeats }) {
    const range = rangeIn(shot, selection);
    const channels = channelsIn(shot, selection, scope);
    const columns = poseColumns(shot, channels).frames.filter((frame) => inRange(range, frame));
    if (columns.length < 3) return refused(shot, selection, finding('tooFewColumns', {}, columns.length));
    const count = columns.length - 1;
    const length = total ?? columns[count]! - columns[0]!;
    if (length < count) return refused(shot, selection, finding('gapTooShort', {}, length / count));
    const gaps = wholeGaps(weightsOf(count, shape, amount), length);
    const frames = [columns[0]!];
    for (const gap of gaps) frames.push(frames[frames.length - 1]! + gap);
    const changes = retimeShot(shot, timeThrough(columns, frames), {
      channels,
      repeats,
      wholeFrames,
      rules: tangents === 'rules',
    });
    const findings = retimedFindings(changes);
    const old = columns.slice(1).map((frame, k) => frame - columns[k]!);
    findings.push(finding('gapsAre', {}, old, gaps));
    return outcome(shot, changes.shot, selection, {
      touched: changes.touched,
      time: changes.pieces,
      findings,
      measures: [
        { name: 'columns', value: columns.length, unit: '' },
        { name: 'total', before: columns[count]! - columns[0]!, value: length, unit: 'frames' },
      ],
    });
  },
});

/** Relative gaps; the longest is 1 + 3·amount times the shortest. */
export function weightsOf(count: number, shape: (typeof PATTERNS)[number], amount: number): number[] {
  return Array.from({ length: count }, (_, k) => {
    const u = count > 1 ? k / (count - 1) : 0;
    const slow = { easeOut: 1 - u, easeIn: u, both: Math.abs(2 * u - 1), even: 0 }[shape];
    return 1 + 3 * amount * slow;
  });
}

/** Whole gaps of one frame or more with this total, as near to the weights as that allows (largest remainders). */
export function wholeGaps(weights: readonly number[], total: number): number[] {
  const sum = weights.reduce((a, b) => a + b, 0);
  const exact = weights.map((weight) => 1 + ((total - weights.length) * weight) / sum);
  const gaps = exact.map(Math.floor);
  const order = exact
    .map((value, k) => [value - gaps[k]!, k] as const)
    .sort((a, b) => b[0] - a[0] || a[1] - b[1]);
  let left = total - gaps.reduce((a, b) => a + b, 0);
  for (const [, k] of order) {
    if (left < 1) break;
    gaps[k]! += 1;
    left -= 1;
  }
  return gaps;
}
