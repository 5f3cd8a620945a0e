/** Forget a selection set; its controls stay as they are. */
import { z } from 'zod';
import { selectionSetsOf, withMarks } from '../../document/marks.ts';
import { defineEdit, outcome } from '../edit.ts';
import { knownSet } from './save-set.ts';

export const removeSet = defineEdit({
  id: 'sets.remove',
  title: 'Remove selection set',
  summary: 'Forgets a selection set; its controls stay as they are.',
  words: 'group quick select delete',
  group: 'keys',
  locks: 'none',
  promise: 'sameMotion',
  options: z.object({ set: z.string().meta({ title: 'Set', description: 'The id of the set.' }) }),
  run(shot, selection, { set: id }) {
    const gone = knownSet(shot, id);
    const left = selectionSetsOf(shot).filter((one) => one !== gone);
    return outcome(shot, withMarks(shot, 'selectionSets', left), selection);
  },
});
