/** Reverse: a range played backward, in place, or appended to make a there-and-back. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { timeReversed, timeThereAndBack } from '../../base/time-pieces.ts';
import { SEGMENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { reverseRange } from '../../curve/reverse.ts';
import { bakeLeads } from '../../curve/bake-lead.ts';
import { hasLead } from '../../curve/lead.ts';
import { replacedWithin } from '../../curve/replaced-within.ts';
import { addKeysKeepingShape, withFrozenEnds } from '../../curve/split.ts';
import { bisectRight } from '../../base/bisect.ts';
import { appendPart, partOf } from '../shared/lay-part.ts';
import { changeLayers } from '../../document/change-layers.ts';
import { partsThroughTime } from '../../document/through-time.ts';
import type { ChannelId } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import { channelsIn, leftAlone, rangeIn, scopeOption } from './scope.ts';

export const reverse = defineEdit({
  id: 'timing.reverse',
  title: 'Reverse',
  summary: 'Plays the selected range, or the whole shot, backward.',
  words: 'backward mirror time play back',
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
    const channels = channelsIn(shot, selection, scope);
    const last = 2 * range.end - range.start;
    const end = append ? Math.max(shot.range.end, last) : shot.range.end;
    const whole = range.start <= shot.range.start && range.end >= shot.range.end;
    const baked = new Set<ChannelId>();
    let overwritten = 0;
    const turned = (curve: Curve, channel: ChannelId | null): Curve => {
      if (curve.times.length === 0) return curve;
      const covered =
        curve.times[0]! >= range.start - 1e-6 && curve.times[curve.times.length - 1]! <= range.end + 1e-6;
      // A curve that is turned as a whole turns its leads with it; repeats of a part of it must be keys first.
      if (hasLead(curve) && !append && covered && whole)
        return withLeadsTurned(reverseRange(curve, range.start, range.end));
      const ready = bakeLeads(curve, shot.range.start, end);
      if (ready !== curve && channel !== null) baked.add(channel);
      if (!append)
        return replacedWithin(ready, range, shot.range, (keyed) =>
          reverseRange(withHeldEnd(keyed, range), range.start, range.end),
        );
      // The last key of the way there is the first of the way back.
      const back = reverseRange(partOf(ready, range), 0, range.end - range.start);
      const laid = appendPart(ready, withFrozenEnds(back), range.end, 0, 'exact', shot.range.end);
      overwritten += laid.overwritten;
      return laid.curve;
    };
    const changes = changeLayers(shot, channels, range.start, turned);
    const grows = changes.shot !== shot && end > shot.range.end;
    let after = grows ? { ...changes.shot, range: { ...shot.range, end } } : changes.shot;
    const findings = leftAlone(changes);
    const time = append ? timeThereAndBack(range) : timeReversed(range);
    if (channels === null) {
      const loose = partsThroughTime(after, time, shot.range, (weight) => turned(weight, null));
      after = loose.shot;
      findings.push(...loose.findings);
    }
    if (baked.size > 0) findings.push(finding('repeatsBaked', {}, [...baked]));
    if (overwritten > 0) findings.push(finding('keysOverwritten', {}, overwritten));
    if (grows) findings.push(finding('rangeGrown', {}, end));
    return outcome(shot, after, selection, {
      touched: changes.touched,
      findings,
      ...(channels === null ? { time } : {}),
      measures: [
        { name: 'curves', value: changes.touched.length, unit: '' },
        { name: 'frames', value: range.end - range.start, unit: '' },
      ],
    });
  },
});

const withLeadsTurned = (curve: Curve): Curve => ({
  ...curve,
  leadIn: curve.leadOut,
  leadOut: curve.leadIn,
  leadInCount: curve.leadOutCount,
  leadOutCount: curve.leadInCount,
});

/** A hold that goes on past the range needs its key after it. */
function withHeldEnd(curve: Curve, { end }: FrameRange): Curve {
  const { times, segments } = curve;
  const row = bisectRight(times, end) - 1;
  const holds =
    row >= 0 && row + 1 < times.length && segments[row] === SEGMENT.stepped && times[row + 1]! > end + 1;
  return holds ? addKeysKeepingShape(curve, [end + 1]) : curve;
}
