/** Another place in the stack: what is above counts over what is below. */
import { z } from 'zod';
import { defineEdit, outcome } from '../edit.ts';
import { knownPass, passOption } from './pass-option.ts';

export const movePass = defineEdit({
  id: 'passes.move',
  title: 'Move pass',
  summary: 'Gives a pass another place in the stack; its keys stay what they are.',
  words: 'layer order stack up down reorder above below',
  group: 'passes',
  locks: 'none',
  options: z.object({
    pass: passOption,
    place: z
      .number()
      .int()
      .min(1)
      .max(10_000)
      .meta({ title: 'Place', step: 1, description: 'Counted from below: 1 is next to the base.' }),
  }),
  run(shot, selection, { pass: id, place }) {
    const pass = knownPass(shot, id);
    const others = shot.layers.filter((other) => other !== pass);
    const at = Math.min(place - 1, others.length);
    const before = shot.layers.indexOf(pass);
    if (at === before) return outcome(shot, shot, selection);
    const after = { ...shot, layers: [...others.slice(0, at), pass, ...others.slice(at)] };
    return outcome(shot, after, selection, {
      measures: [{ name: 'place from below', value: at + 1, unit: '', before: before + 1 }],
    });
  },
});
