/** Another place in the stack: what is above counts over what is below. */
import { z } from 'zod';
import { defineEdit } from '../edit.ts';
import { placeOption, putInPlace } from '../shared/put-in-place.ts';
import { knownPass, passOption } from './pass-option.ts';

export const movePass = defineEdit({
  id: 'passes.move',
  title: 'Move pass',
  summary: 'Gives a pass another place in the stack; its keys stay what they are.',
  words: 'layer order stack up down reorder above below',
  group: 'passes',
  locks: 'none',
  options: z.object({ pass: passOption, place: placeOption }),
  run: (shot, selection, { pass, place }) => putInPlace(shot, selection, knownPass(shot, pass), place),
});
