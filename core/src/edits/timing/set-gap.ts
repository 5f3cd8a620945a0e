/** Set gap: the frames from a key or pose column to the next; whatever follows ripples, or the pose slides between its neighbours. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { poseColumns } from '../../document/pose-columns.ts';
import { curveOf } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { timeThrough } from '../../base/time-map.ts';
import { retimeShot } from '../../document/retime.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { frameOption } from '../shared/frame-option.ts';
import { MOST_FRAMES } from '../../base/frame-range.ts';
import { repeatsOption } from '../shared/repeats-option.ts';
import { channelsIn, retimedFindings, scopeOption, tangentsOption, wholeFramesOption } from './scope.ts';

export const setGap = defineEdit({
  id: 'timing.setGap',
  title: 'Set gap',
  summary:
    'Sets the frames from a pose column or key to the next, or to the end of the shot; everything later ripples, or the pose alone slides.',
  words: 'retime spacing ripple timing pose distance frames between slide neighbours',
  group: 'timing',
  locks: 'none',
  options: z.object({
    frame: frameOption('At frame', 'The gap that begins here, or that this frame lies in.'),
    gap: z.number().int().min(-MOST_FRAMES).max(MOST_FRAMES).optional().meta({
      title: 'Gap',
      unit: 'frames',
      step: 1,
      description: 'Frames to the next column or key, one or more.',
    }),
    by: z.number().int().min(-MOST_FRAMES).max(MOST_FRAMES).optional().meta({
      title: 'Longer by',
      unit: 'frames',
      step: 1,
      description: 'In place of Gap: frames that it gains, or loses.',
    }),
    scope: scopeOption,
    ripples: z.boolean().default(true).meta({
      title: 'What is later follows',
      description:
        'Off, the pose at the end of the gap slides between its neighbours, and nothing else moves.',
    }),
    shrink: z.boolean().default(true).meta({
      title: 'Shot ends earlier too',
      description: 'Where a gap gets shorter the end of the shot follows.',
    }),
    wholeFrames: wholeFramesOption,
    tangents: tangentsOption,
    repeats: repeatsOption,
  }),
  run(shot, selection, { frame, gap, by, scope, ripples, shrink, wholeFrames, tangents, repeats }) {
    const channels = channelsIn(shot, selection, scope);
    const found = gapAt(shot, channels, selection.layer, frame);
    if (found === null) return refused(shot, selection, finding('noGapHere', { frame }, frame));
    const wanted = gap ?? found.length + (by ?? 0);
    if (wanted < 1) return refused(shot, selection, finding('gapTooShort', { frame: found.start }, wanted));
    const end = found.start + found.length;
    const to = found.start + wanted;
    const next = ripples ? null : gapAt(shot, channels, selection.layer, end);
    // The tail has nothing after it: asked at its end, it is found again.
    if (!ripples && (next === null || next.length <= 0 || next.start < end - 1e-6))
      return refused(shot, selection, finding('nothingToSlide', { frame: end }, end));
    const last = next && next.start + next.length;
    if (last !== null && to > last - 1)
      return refused(
        shot,
        selection,
        finding('slidesTooFar', { frame: last }, wanted, last - 1 - found.start),
      );
    const map =
      last === null
        ? timeThrough([found.start, end], [found.start, to])
        : timeThrough([found.start, end, last], [found.start, to, last]);
    const changes = retimeShot(shot, map, {
      channels,
      repeats,
      wholeFrames,
      rules: tangents === 'rules',
      shrink: shrink && ripples,
    });
    const findings = retimedFindings(changes);
    return outcome(shot, changes.shot, selection, {
      touched: changes.touched,
      time: changes.pieces,
      findings,
      measures: [
        { name: `gap at ${found.start}`, before: found.length, value: wanted, unit: 'frames' },
        { name: 'shot ends at', before: shot.range.end, value: changes.shot.range.end, unit: 'frame' },
      ],
    });
  },
});

/** The gap that a frame lies in: between pose columns, or between keys of the channels. */
function gapAt(
  shot: Shot,
  channels: ReadonlySet<ChannelId> | null,
  pass: string | null,
  frame: number,
): { start: number; length: number } | null {
  const frames =
    channels === null
      ? poseColumns(shot).frames
      : [...new Set([...channels].flatMap((id) => [...curveOf(shot, pass, id).times]))].sort((a, b) => a - b);
  // The last pose has a gap too: to the end of the shot.
  const last = frames[frames.length - 1];
  if (last !== undefined && frame >= last - 1e-6 && frame <= shot.range.end + 1e-6) {
    const length = shot.range.end - last;
    return { start: last, length };
  }
  for (let k = frames.length - 2; k >= 0; k -= 1)
    if (frames[k]! <= frame + 1e-6)
      return frame < frames[k + 1]! - 1e-6
        ? { start: frames[k]!, length: frames[k + 1]! - frames[k]! }
        : null;
  return null;
}
