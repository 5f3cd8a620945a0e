/** Name, colour, mute, solo, lock and range of a pass. */
import { z } from 'zod';
import { defineEdit } from '../edit.ts';
import { setUp, setUpOptions } from '../shared/set-up.ts';
import { knownPass, passOption } from './pass-option.ts';

export const setPass = defineEdit({
  id: 'passes.set',
  title: 'Set up pass',
  summary: 'Names, colours, mutes, solos, locks or confines a pass.',
  words: 'layer mute solo colour name lock members range bookends ramps',
  group: 'passes',
  locks: 'none',
  options: z.object({ pass: passOption, ...setUpOptions }),
  run: (shot, selection, { pass, ...given }) => setUp(shot, selection, knownPass(shot, pass), given),
});
