/**
 * Holds. On a key or pose column the pose is copied that many frames later and all that follows is pushed on; on the last one it
 * is appended; between keys a plain pose is added first. A moving hold drifts on a little in the way that it was going.
 */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { FLAG, rowAtTime, SEGMENT, TANGENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { allRows, rebuild } from '../../curve/rebuild.ts';
import { addKeysKeepingShape } from '../../curve/split.ts';
import { rippleShot } from '../../shot/gaps.ts';
import { changeLayers } from '../../shot/layers.ts';
import type { Selection } from '../../shot/selection.ts';
import type { Shot } from '../../shot/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import type { Outcome } from '../edit.ts';
import { frameOption } from '../frame-option.ts';
import { channelsIn, frameIn, leftAlone, scopeOption } from './scope.ts';
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
  summary: 'Lets the pose at a frame stay for some frames; everything later ripples.',
  group: 'timing',
  locks: 'none',
  options: z.object({ frame: frameOption('At frame', 'The pose that stays.'), frames, scope: scopeOption }),
  run: (shot, selection, { frame, frames: length, scope }) => held(shot, selection, frame, length, scope, 0),
});

export const movingHold = defineEdit({
  id: 'timing.movingHold',
  title: 'Moving hold',
  summary: 'Lets the pose at a frame stay and drift on slightly; everything later ripples.',
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
  }),
  run: (shot, selection, { frame, frames: length, drift, scope }) =>
    held(shot, selection, frame, length, scope, drift),
});

function held(
  shot: Shot,
  selection: Selection,
  at: number,
  length: number,
  scope: Scope,
  drift: number,
): Outcome {
  const frame = frameIn(shot, at);
  const channels = channelsIn(shot, selection, scope);
  const rippled = rippleShot(shot, channels, frame, length);
  let keys = 0;
  const changes = changeLayers(rippled.shot, channels, frame, (curve) => {
    const after = withHold(curve, frame, length, drift);
    keys += after.times.length - curve.times.length;
    return after;
  });
  // On the last key nothing ripples: the shot grows so that the hold is seen.
  const end = Math.max(changes.shot.range.end, frame + length);
  const after =
    changes.touched.length > 0 && end > changes.shot.range.end
      ? { ...changes.shot, range: { ...changes.shot.range, end } }
      : changes.shot;
  const done = keys > 0 ? after : shot;
  const findings = leftAlone({
    ...rippled,
    lockedKeys: [...new Set([...rippled.lockedKeys, ...changes.lockedKeys])],
  });
  if (done.range.end > shot.range.end) findings.push(finding('rangeGrown', {}, done.range.end));
  return outcome(shot, done, selection, {
    touched: [...new Set([...rippled.touched, ...changes.touched])],
    findings,
    measures: [
      { name: 'keys added', value: keys, unit: '' },
      { name: 'held', value: length, unit: 'frames' },
    ],
  });
}

/** The curve, already rippled, with the value at `frame` held; a flat stretch, or one that drifts on. */
function withHold(curve: Curve, frame: number, length: number, drift: number): Curve {
  if (curve.times.length < 2) return curve;
  const whole = rowAtTime(curve, frame) >= 0 ? curve : addKeysKeepingShape(curve, [frame]);
  const row = rowAtTime(whole, frame);
  if ((whole.flags[row]! & FLAG.locked) !== 0) return curve;
  const stepped = whole.segments[row] === SEGMENT.stepped;
  const before = row > 0 ? whole.values[row]! - whole.values[row - 1]! : 0;
  const onward = stepped ? 0 : drift * before;
  return rebuild(whole, [...allRows(whole), -1], (columns) => {
    const at = whole.times.length;
    columns.times[at] = frame + length;
    columns.values[at] = whole.values[row]! + onward;
    columns.segments[at] = whole.segments[row]!;
    columns.tangentsOut[at] = whole.tangentsOut[row]!;
    columns.slopesOut[at] = whole.slopesOut[row]!;
    columns.flags[at] = FLAG.broken;
    columns.tangentsIn[at] = drift > 0 ? TANGENT.steady : TANGENT.flat;
    if (stepped) return;
    columns.segments[row] = SEGMENT.cubic;
    columns.tangentsOut[row] = drift > 0 ? TANGENT.steady : TANGENT.flat;
    columns.flags[row] = (columns.flags[row]! & ~FLAG.weightedOut) | FLAG.broken;
  });
}
