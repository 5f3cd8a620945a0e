/** Reverse: a range played backward, in place, or appended to make a there-and-back. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { SEGMENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { reverseRange } from '../../curve/reverse.ts';
import { addKeysKeepingShape } from '../../curve/split.ts';
import { bisectRight } from '../../base/bisect.ts';
import { appendPart, partOf } from '../lay-part.ts';
import { changeLayers } from '../../shot/layers.ts';
import { defineEdit, outcome } from '../edit.ts';
import { channelsIn, leftAlone, rangeIn, scopeOption } from './scope.ts';

export const reverse = defineEdit({
  id: 'timing.reverse',
  title: 'Reverse',
  summary: 'Plays the selected range, or the whole shot, backward.',
  group: 'timing',
  locks: 'none',
  options: z.object({
    append: z.boolean().default(false).meta({
      title: 'There and back',
      description: 'The reversed range follows the range itself; off, it takes its place.',
    }),
    scope: scopeOption,
  }),
  run(shot, selection, { append, scope }) {
    const range = rangeIn(shot, selection);
    let overwritten = 0;
    const changes = changeLayers(shot, channelsIn(shot, selection, scope), range.start, (curve) => {
      if (curve.times.length === 0) return curve;
      if (!append) return reverseRange(withEnds(curve, range), range.start, range.end);
      // The last key of the way there is the first of the way back.
      const back = reverseRange(partOf(curve, range), 0, range.end - range.start);
      const laid = appendPart(curve, back, range.end, 0, 'exact');
      overwritten += laid.overwritten;
      return laid.curve;
    });
    const end = append ? Math.max(shot.range.end, 2 * range.end - range.start) : shot.range.end;
    const grows = changes.shot !== shot && end > shot.range.end;
    const after = grows ? { ...changes.shot, range: { ...shot.range, end } } : changes.shot;
    const findings = leftAlone(changes);
    if (overwritten > 0) findings.push(finding('keysOverwritten', {}, overwritten));
    if (grows) findings.push(finding('rangeGrown', {}, end));
    return outcome(shot, after, selection, {
      touched: changes.touched,
      findings,
      measures: [
        { name: 'curves', value: changes.touched.length, unit: '' },
        { name: 'frames', value: range.end - range.start, unit: '' },
      ],
    });
  },
});

/** Keys where the range cuts a segment, so that nothing outside moves. */
function withEnds(curve: Curve, { start, end }: FrameRange): Curve {
  const { times, segments } = curve;
  const cuts: number[] = [];
  const [first, last] = [times[0]!, times[times.length - 1]!];
  if (start > first && start < last) cuts.push(start);
  if (end > first && end < last) {
    // A hold that goes on past the range needs its key after it.
    const row = bisectRight(times, end) - 1;
    if (segments[row] !== SEGMENT.stepped) cuts.push(end);
    else if (times[row + 1]! > end + 1) cuts.push(end + 1);
  }
  return cuts.length > 0 ? addKeysKeepingShape(curve, cuts) : curve;
}
