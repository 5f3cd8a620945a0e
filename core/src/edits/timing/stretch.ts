/** Stretch: a range of time made longer or shorter about a pivot; whatever follows ripples, or stays. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { retimeCurve } from '../../curve/ripple.ts';
import { retimeShot } from '../../shot/retime.ts';
import { defineEdit, outcome } from '../edit.ts';
import { channelsIn, leftAlone, rangeIn, scopeOption } from './scope.ts';

export const stretch = defineEdit({
  id: 'timing.stretch',
  title: 'Stretch',
  summary: 'Makes the selected range, or the whole shot, longer or shorter.',
  group: 'timing',
  locks: 'none',
  options: z.object({
    factor: z.number().min(0.01).max(100).default(1).meta({
      title: 'Factor',
      unit: '×',
      step: 0.05,
      description: 'How many times as long.',
    }),
    pivot: z.enum(['start', 'middle', 'end']).default('start').meta({
      title: 'Pivot',
      description: 'Which place of the range stays.',
    }),
    ripple: z.boolean().default(true).meta({
      title: 'Later keys follow',
      description: 'For a pivot at the start: what comes after the range moves with its end.',
    }),
    wholeFrames: z.boolean().default(true).meta({
      title: 'Land on whole frames',
      description: 'Times are rounded after stretching.',
    }),
    scope: scopeOption,
  }),
  run(shot, selection, { factor, pivot, ripple, wholeFrames, scope }) {
    const { start, end } = rangeIn(shot, selection);
    if (factor === 1) return outcome(shot, shot, selection);
    const fixed = { start, middle: (start + end) / 2, end }[pivot];
    const follows = ripple && pivot === 'start';
    const pushed = wholeFrames ? Math.round((end - start) * (factor - 1)) : (end - start) * (factor - 1);
    const timeOf = (time: number): number => {
      if (time < start - 1e-6) return time;
      if (time > end + 1e-6) return follows ? time + pushed : time;
      const moved = fixed + (time - fixed) * factor;
      return wholeFrames && Number.isInteger(time) ? Math.round(moved) : moved;
    };
    let merged = 0;
    const changes = retimeShot(shot, {
      channels: channelsIn(shot, selection, scope),
      from: start,
      grow: follows || end >= shot.range.end ? timeOf(end) - end : 0,
      shrink: scope === 'everything',
      frame: timeOf,
      curve: (curve) => {
        const moved = retimeCurve(curve, timeOf);
        merged += moved.merged;
        return moved.curve;
      },
    });
    const findings = leftAlone(changes);
    if (merged > 0) findings.push(finding('keysMerged', {}, merged));
    return outcome(
      shot,
      changes.shot,
      selection.range ? { ...selection, range: { start: timeOf(start), end: timeOf(end) } } : selection,
      {
        touched: changes.touched,
        findings,
        measures: [{ name: 'frames', before: end - start, value: timeOf(end) - timeOf(start), unit: '' }],
      },
    );
  },
});
