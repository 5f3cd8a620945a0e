/**
 * Holds. On a key or pose column the pose is copied that many frames later and all that follows is pushed on; on the last one it
 * is appended; between keys the curves are keyed there first, so that nothing before or after bends. On passes it holds too. A moving hold drifts on a little in the way that it was going.
 */
import { z } from 'zod';
import { timePutIn } from '../../base/time-map.ts';
import { finding } from '../../base/finding.ts';
import type { RepeatWay } from '../../curve/with-key.ts';
import { retimeShot } from '../../document/retime.ts';
import type { Selection } from '../../document/selection.ts';
import { timedCurves } from '../../document/parts/parts.ts';
import type { Shot } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import type { Outcome } from '../edit.ts';
import { frameOption } from '../shared/frame-option.ts';
import { repeatsOption } from '../shared/repeats-option.ts';
import { channelsIn, frameIn, retimedFindings, scopeOption } from './scope.ts';
import type { Scope } from './scope.ts';

const frames = z.number().int().min(1).max(100000).default(4).meta({
  title: 'Frames',
  unit: 'frames',
  step: 1,
  description: 'How long the pose stays.',
});

export const addHold = defineEdit({
  id: 'timing.addHold',
  title: 'Insert a hold',
  summary: 'Holds the pose at a frame for some frames; everything later ripples.',
  words: 'freeze pause still pose longer',
  group: 'timing',
  locks: 'none',
  options: z.object({
    frame: frameOption('At frame', 'The pose that stays.'),
    frames,
    scope: scopeOption,
    repeats: repeatsOption,
  }),
  run: (shot, selection, { frame, frames: length, scope, repeats }) =>
    held(shot, selection, frame, length, { scope, repeats, drift: 0 }),
});

export const movingHold = defineEdit({
  id: 'timing.movingHold',
  title: 'Moving hold',
  summary: 'Holds the pose at a frame while it drifts on slightly; everything later ripples.',
  words: 'drift alive settle pause still pose ease',
  group: 'timing',
  locks: 'none',
  options: z.object({
    frame: frameOption('At frame', 'The pose that stays.'),
    frames,
    drift: z.number().min(0).max(1).default(0.08).meta({
      title: 'Drift',
      unit: '',
      step: 0.01,
      description: 'A part of the way from the key before to this one: so far it goes on in the hold.',
    }),
    scope: scopeOption,
    repeats: repeatsOption,
  }),
  run: (shot, selection, { frame, frames: length, ...given }) => held(shot, selection, frame, length, given),
});

function held(
  shot: Shot,
  selection: Selection,
  at: number,
  length: number,
  { scope, repeats, drift }: { scope: Scope; repeats: RepeatWay; drift: number },
): Outcome {
  const frame = frameIn(shot, at);
  const channels = channelsIn(shot, selection, scope);
  const held = retimeShot(shot, timePutIn(frame, length), { channels, repeats, drift });
  const keys = keysOf(held.shot) - keysOf(shot);
  return outcome(shot, held.shot, selection, {
    touched: held.touched,
    time: held.pieces,
    findings: [
      ...retimedFindings(held),
      ...(held.shot.range.end > shot.range.end ? [finding('rangeGrown', {}, held.shot.range.end)] : []),
    ],
    measures: [
      { name: 'keys added', value: keys, unit: '' },
      { name: 'held', value: length, unit: 'frames' },
    ],
  });
}

/** Keys on all layers, weights among them. */
function keysOf(shot: Shot): number {
  let count = 0;
  for (const { curve } of timedCurves(shot)) count += curve.times.length;
  return count;
}
