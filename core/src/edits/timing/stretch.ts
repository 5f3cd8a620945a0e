/** Stretch: a range of time made longer or shorter about a pivot; whatever follows ripples, or stays. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { timeMoved } from '../../base/time-map.ts';
import { retimeShot } from '../../document/retime.ts';
import { timedCurves } from '../../document/parts/parts.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { repeatsOption } from '../shared/repeats-option.ts';
import { channelsIn, rangeIn, retimedFindings, scopeOption, wholeFramesOption } from './scope.ts';

export const stretch = defineEdit({
  id: 'timing.stretch',
  title: 'Stretch',
  summary: 'Makes the selected range, or the whole shot, longer or shorter.',
  words: 'retime scale slower faster duration speed longer shorter',
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
      description:
        'What comes after the range moves with its end; off, it stays, and a shorter range holds up to it.',
    }),
    wholeFrames: wholeFramesOption,
    scope: scopeOption,
    repeats: repeatsOption,
  }),
  run(shot, selection, { factor, pivot, ripple, wholeFrames, scope, repeats }) {
    const range = rangeIn(shot, selection);
    if (factor === 1) return outcome(shot, shot, selection);
    const { start, end } = range;
    const channels = channelsIn(shot, selection, scope);
    const fixed = { start, middle: (start + end) / 2, end }[pivot];
    const landing = (frame: number) => {
      const moved = fixed + (frame - fixed) * factor;
      return wholeFrames && Number.isInteger(frame) ? Math.round(moved) : moved;
    };
    const place = { start: landing(start), end: landing(end) };
    // Nothing may come to lie over what is keyed before or after, nor ahead of the shot.
    const early =
      place.start < start - 1e-6 &&
      (place.start < shot.range.start - 1e-6 || isKeyedIn(shot, channels, -Infinity, start));
    const late = !ripple && place.end > end + 1e-6 && isKeyedIn(shot, channels, end, Infinity);
    if (early || late || !(place.end > place.start))
      return refused(shot, selection, finding('stretchOverlaps', {}, place.start, place.end));
    const follows = ripple || place.end > end;
    const map = timeMoved(range, place, follows);
    const changes = retimeShot(shot, map, { channels, repeats, wholeFrames });
    const findings = retimedFindings(changes);
    return outcome(shot, changes.shot, selection, {
      touched: changes.touched,
      time: changes.pieces,
      findings,
      measures: [{ name: 'frames', before: end - start, value: place.end - place.start, unit: '' }],
    });
  },
});

/** Whether any curve that moves has a key strictly between two frames. */
function isKeyedIn(shot: Shot, channels: ReadonlySet<ChannelId> | null, from: number, to: number): boolean {
  for (const { channel, curve } of timedCurves(shot)) {
    const moves = channel !== null && (channels === null || channels.has(channel));
    if (moves && curve.times.some((time) => time > from + 1e-6 && time < to - 1e-6)) return true;
  }
  return false;
}
