/** The words by which a shot is found among others. */
import { z } from 'zod';
import { LIMITS } from '../../base/limits.ts';
import { tagsOf, withMarks } from '../../document/marks.ts';
import { defineEdit, outcome } from '../edit.ts';

export const tagShot = defineEdit({
  id: 'shot.tag',
  title: 'Tag the shot',
  summary: 'Gives the shot other tags, by which it is found among the shots.',
  words: 'folder label group sort category',
  group: 'timing',
  locks: 'none',
  promise: 'sameMotion',
  options: z.object({
    tags: z
      .array(z.string().trim().min(1).max(60))
      .max(LIMITS.tags)
      .default([])
      .meta({ title: 'Tags', description: 'All of its tags from now on.' }),
  }),
  run(shot, selection, { tags }) {
    const now = [...new Set(tags)];
    const same = JSON.stringify(now) === JSON.stringify(tagsOf(shot));
    return outcome(shot, same ? shot : withMarks(shot, 'tags', now), selection);
  },
});
