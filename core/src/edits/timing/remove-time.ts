/** Remove time: a range goes, and what comes after it follows what came before. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { removeTime as cutCurve } from '../../curve/ripple.ts';
import { retimeShot } from '../../shot/retime.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { channelsIn, leftAlone, rangeIn, scopeOption } from './scope.ts';

export const removeTime = defineEdit({
  id: 'timing.removeTime',
  title: 'Remove time',
  summary: 'Takes the selected range out; what comes after it moves up.',
  group: 'timing',
  locks: 'none',
  options: z.object({ scope: scopeOption }),
  run(shot, selection, { scope }) {
    if (!selection.range)
      return refused(shot, selection, finding('nothingSelected', {}, 'a range on the ruler'));
    const { start, end } = rangeIn(shot, selection);
    let lost = 0;
    const changes = retimeShot(shot, {
      channels: channelsIn(shot, selection, scope),
      from: start + 1e-3,
      grow: scope === 'everything' ? start - end : 0,
      shrink: true,
      frame: (frame) => (frame >= end ? frame - (end - start) : Math.min(frame, start)),
      curve: (curve) => {
        const after = cutCurve(curve, start, end);
        lost += curve.times.length - after.times.length;
        return after;
      },
    });
    const findings = leftAlone(changes);
    if (lost > 0) findings.push(finding('keysGone', {}, lost, 'the time that is removed'));
    return outcome(
      shot,
      changes.shot,
      { ...selection, range: null },
      {
        touched: changes.touched,
        findings,
        measures: [
          { name: 'frames removed', value: end - start, unit: '' },
          { name: 'keys that go', value: lost, unit: '' },
          { name: 'shot ends at', before: shot.range.end, value: changes.shot.range.end, unit: 'frame' },
        ],
      },
    );
  },
});
