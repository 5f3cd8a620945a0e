/** Add keys: on each selected channel at a frame, without changing the curve's shape. */
import { z } from 'zod';
import { frameOption } from '../shared/frame-option.ts';
import { finding } from '../../base/finding.ts';
import { addKeysKeepingShape } from '../../curve/split.ts';
import { keyPlace } from '../../curve/with-key.ts';
import { rowAtTime } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { selectedCurves } from '../../document/selection.ts';
import { constantCurve, curveOf, splitChannel, withCurves } from '../../document/shot.ts';
import type { ChannelId } from '../../document/shot.ts';
import { restValue } from '../../rig/node.ts';
import { RepeatNotes, repeatsOption } from '../shared/repeats-option.ts';
import { defineEdit, outcome } from '../edit.ts';

export const addKeys = defineEdit({
  id: 'keys.add',
  title: 'Add keys',
  summary: 'Adds a key on each selected channel; the curves keep their shape.',
  words: 'insert set key keyframe new pose',
  group: 'keys',
  needs: 'curves',
  locks: 'strip',
  choices: 'taken',
  options: z.object({
    frame: frameOption('Frame', 'Where the keys are added.'),
    repeats: repeatsOption,
  }),
  run(shot, selection, { frame, repeats }) {
    const notes = new RepeatNotes();
    const changed = new Map<ChannelId, Curve>();
    let there = 0;
    for (const channel of selectedCurves(shot, selection)) {
      const curve = curveOf(shot, selection.layer, channel);
      const place = keyPlace(curve, frame, repeats, shot.range);
      if (rowAtTime(place.curve, place.time) >= 0 && place.curve === curve) there += 1;
      else if (curve.times.length > 0) {
        changed.set(channel, addKeysKeepingShape(place.curve, [place.time]));
        notes.add(channel, place.way);
      } else
        changed.set(
          channel,
          constantCurve(selection.layer === null ? restValue(splitChannel(channel).name) : 0, frame),
        );
    }
    return outcome(shot, withCurves(shot, selection.layer, changed), selection, {
      touched: [...changed.keys()],
      measures: [{ name: 'keys added', value: changed.size, unit: '' }],
      findings: [...(there > 0 ? [finding('alreadyThere', { frame }, there)] : []), ...notes.findings()],
    });
  },
});
