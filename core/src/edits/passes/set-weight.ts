/** Set the weight of a pass: for all of the shot, or keyed at a frame. */
import { z } from 'zod';
import { constantCurve, withLayer } from '../../shot/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import { rowAtTime } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { allRows, rebuild } from '../../curve/rebuild.ts';
import { withKey } from '../../curve/with-key.ts';
import { MOST_FRAMES } from '../../base/frame-range.ts';
import { openPass, passOption } from './pass-option.ts';

export const setWeight = defineEdit({
  id: 'passes.setWeight',
  title: 'Set weight',
  summary: 'Dials how much of a pass shows, for the whole shot or keyed at a frame.',
  words: 'layer influence strength opacity fade percent',
  group: 'passes',
  locks: 'none',
  options: z.object({
    pass: passOption,
    weight: z.number().min(-2).max(3).meta({
      title: 'Weight',
      unit: '',
      step: 0.01,
      description: '0 is nothing of it, 1 all of it; beyond 1 exaggerates.',
    }),
    frame: z.number().min(-MOST_FRAMES).max(MOST_FRAMES).nullable().default(null).meta({
      title: 'Keyed at',
      unit: 'frame',
      description: 'Null sets one weight for the whole shot, replacing its keys.',
    }),
    from: z.number().min(-MOST_FRAMES).max(MOST_FRAMES).nullable().default(null).meta({
      title: 'Moved from',
      unit: 'frame',
      description: 'The frame of a key of the weight that goes to the other frame.',
    }),
  }),
  run(shot, selection, { pass: id, weight, frame, from }) {
    const pass = openPass(shot, id);
    const before = pass.weight;
    const still = before.times.length === 1 && before.values[0] === weight;
    const after =
      frame === null
        ? still
          ? before
          : constantCurve(weight, shot.range.start)
        : withKey(from === null || from === frame ? before : withoutKeyAt(before, from), frame, weight);
    const measures = [{ name: 'weight', value: weight, unit: '' }];
    if (after === before) return outcome(shot, shot, selection, { measures });
    return outcome(
      shot,
      withLayer(shot, id, (was) => ({ ...was, weight: after })),
      selection,
      { measures },
    );
  },
});

/** The curve without its key on a frame; a single key stays. */
function withoutKeyAt(curve: Curve, frame: number): Curve {
  const row = rowAtTime(curve, frame);
  return row < 0 || curve.times.length < 2
    ? curve
    : rebuild(
        curve,
        allRows(curve).filter((one) => one !== row),
      );
}
