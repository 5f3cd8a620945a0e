/** Set the shot: its first and last frame and its rate. Keys outside a shorter range stay; another rate keeps frames or seconds. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { MOST_FRAMES } from '../../base/frame-range.ts';
import { timeScaled } from '../../base/time-map.ts';
import { retimeShot } from '../../document/retime.ts';
import { timedCurves } from '../../document/parts/parts.ts';
import { framesPerSecond } from '../../document/shot.ts';
import type { Rate, Shot } from '../../document/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { retimedFindings, wholeFramesOption } from './scope.ts';

const frame = (title: string, description: string) =>
  z.number().int().min(-MOST_FRAMES).max(MOST_FRAMES).optional().meta({ title, step: 1, description });

/** Rates of film and video that are no whole numbers are fractions of 1001 (SMPTE ST 12-1, from memory). */
function rateOf(perSecond: number): Rate {
  const whole = Math.round(perSecond);
  const broadcast = (whole * 1000) / 1001;
  if (Math.abs(perSecond - whole) < 1e-9) return { numerator: whole, denominator: 1 };
  if (Math.abs(perSecond - broadcast) < 0.006) return { numerator: whole * 1000, denominator: 1001 };
  return { numerator: Math.round(perSecond * 1000), denominator: 1000 };
}

export const setShot = defineEdit({
  id: 'timing.setShot',
  title: 'First, last frame and rate',
  summary: 'Sets where the shot starts and ends and how many frames it has in a second.',
  words: 'fps duration length range start end speed trim settings timeline',
  group: 'timing',
  locks: 'none',
  options: z.object({
    start: frame('First frame', 'Keys before it stay and are not shown.'),
    end: frame('Last frame', 'Keys after it stay and are not shown.'),
    rate: z.number().min(1).max(240).optional().meta({
      title: 'Rate',
      unit: 'frames/s',
      step: 1,
      description: 'Frames in a second.',
    }),
    keep: z
      .enum(['frames', 'seconds'])
      .default('seconds')
      .meta({
        title: 'At another rate',
        labels: { frames: 'keys keep their frames', seconds: 'keys keep their seconds' },
        description:
          'Seconds: the motion plays as fast as before, on other frames. Frames: it plays faster or slower.',
      }),
    wholeFrames: wholeFramesOption,
  }),
  run(shot, selection, { start, end, rate, keep, wholeFrames }) {
    const before = framesPerSecond(shot.rate);
    const next = rate === undefined ? shot.rate : rateOf(rate);
    const factor = framesPerSecond(next) / before;
    const moves = keep === 'seconds' && Math.abs(factor - 1) > 1e-12;
    // By the exact ratio of the two rates everywhere; the shot itself has whole frames.
    const last = shot.range.start + (shot.range.end - shot.range.start) * factor;
    const map = timeScaled(everything(shot), shot.range.start, factor);
    const changes = moves ? retimeShot(shot, map, { channels: null, wholeFrames }) : null;
    const retimed = changes
      ? { ...changes.shot, range: { ...changes.shot.range, end: Math.round(last) } }
      : shot;
    const range = { start: start ?? retimed.range.start, end: end ?? retimed.range.end };
    if (!(range.end > range.start))
      return refused(shot, selection, finding('badRange', {}, range.start, range.end));
    const sameRange = range.start === retimed.range.start && range.end === retimed.range.end;
    const sameRate = Math.abs(factor - 1) < 1e-12;
    if (sameRange && sameRate) return outcome(shot, shot, selection);
    const after = { ...retimed, range: sameRange ? retimed.range : range, rate: sameRate ? shot.rate : next };
    const beyond = keysBeyond(after);
    return outcome(shot, after, selection, {
      touched: changes?.touched ?? [],
      ...(changes ? { time: changes.pieces } : {}),
      findings: [
        ...(changes ? retimedFindings(changes) : []),
        ...(!sameRate && !moves
          ? [finding('frameRateKept', {}, tidy(before), tidy(framesPerSecond(next)))]
          : []),
        ...(beyond > 0 ? [finding('keysBeyondRange', {}, beyond)] : []),
      ],
      measures: [
        { name: 'seconds', before: secondsOf(shot), value: secondsOf(after), unit: 's' },
        {
          name: 'frames',
          before: shot.range.end - shot.range.start + 1,
          value: range.end - range.start + 1,
          unit: '',
        },
      ],
    });
  },
});

/** From the first to the last frame of which the shot says anything, and a little more. */
function everything(shot: Shot): FrameRange {
  let { start, end } = shot.range;
  for (const { curve } of timedCurves(shot)) {
    start = Math.min(start, curve.times[0] ?? start);
    end = Math.max(end, curve.times[curve.times.length - 1] ?? end);
  }
  return { start: start - 1, end: end + 1 };
}

const tidy = (value: number) => Math.round(value * 1000) / 1000;
const secondsOf = ({ range, rate }: Shot) => (range.end - range.start + 1) / framesPerSecond(rate);

function keysBeyond(shot: Shot): number {
  const { start, end } = shot.range;
  let count = 0;
  for (const { channel, curve } of timedCurves(shot))
    if (channel !== null)
      count += curve.times.filter((time) => time < start - 1e-6 || time > end + 1e-6).length;
  return count;
}
