/** Rename the shot: a step of the history like any other, so that undo and redo keep to what they say. */
import { z } from 'zod';
import { LIMITS } from '../../base/limits.ts';
import { defineEdit, outcome } from '../edit.ts';

export const renameShot = defineEdit({
  id: 'shot.rename',
  title: 'Rename the shot',
  summary: 'Gives the shot another name.',
  words: 'title call file',
  group: 'timing',
  locks: 'none',
  promise: 'sameMotion',
  options: z.object({
    name: z
      .string()
      .trim()
      .min(1)
      .max(LIMITS.name)
      .default('Untitled')
      .meta({ title: 'Name', description: 'What the shot is called from now on.' }),
  }),
  run: (shot, selection, { name }) => outcome(shot, name === shot.name ? shot : { ...shot, name }, selection),
});
