/** Set the weight of a pass: for all of the shot, or keyed at a frame. */
import { z } from 'zod';
import { defineEdit } from '../edit.ts';
import { weigh, weighOptions } from '../shared/weigh.ts';
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
    ...weighOptions,
  }),
  run: (shot, selection, { pass, weight, ...when }) =>
    weigh(shot, selection, openPass(shot, pass), 'weight', weight, when),
});
