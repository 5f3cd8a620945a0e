/** Set the weight of a pass: for all of the shot, or keyed at a frame. */
import { z } from 'zod';
import { constantCurve, withPass } from '../../shot/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
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
  }),
  run(shot, selection, { pass: id, weight, frame }) {
    const pass = openPass(shot, id);
    const before = pass.weight;
    const still = before.times.length === 1 && before.values[0] === weight;
    const after =
      frame === null
        ? still
          ? before
          : constantCurve(weight, shot.range.start)
        : withKey(before, frame, weight);
    const measures = [{ name: 'weight', value: weight, unit: '' }];
    if (after === before) return outcome(shot, shot, selection, { measures });
    return outcome(
      shot,
      withPass(shot, id, (was) => ({ ...was, weight: after })),
      selection,
      { measures },
    );
  },
});
