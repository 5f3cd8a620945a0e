/** Take notes away. */
import { z } from 'zod';
import { notesOf } from '../../document/marks.ts';
import { defineEdit, outcome } from '../edit.ts';
import { knownNote, withNotes } from './set-note.ts';

export const removeNotes = defineEdit({
  id: 'notes.remove',
  title: 'Remove notes',
  summary: 'Takes one note away, or all that are done.',
  words: 'comment review clear delete done',
  group: 'timing',
  locks: 'none',
  promise: 'sameMotion',
  options: z.object({
    note: z.string().optional().meta({ title: 'Note', description: 'Left out: all that are done.' }),
  }),
  run(shot, selection, { note: id }) {
    const notes = notesOf(shot);
    const one = id === undefined ? null : knownNote(shot, id);
    const left = notes.filter((note) => (one === null ? !note.done : note !== one));
    if (left.length === notes.length) return outcome(shot, shot, selection);
    return outcome(shot, withNotes(shot, left), selection, {
      measures: [{ name: 'notes', value: left.length, unit: '', before: notes.length }],
    });
  },
});
