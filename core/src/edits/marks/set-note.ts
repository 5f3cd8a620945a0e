/** Say something about a frame or a range, or change what was said. */
import { z } from 'zod';
import { finding, refuse } from '../../base/finding.ts';
import { LIMITS } from '../../base/limits.ts';
import { freshMarkId, notesOf, withMarks } from '../../document/marks.ts';
import type { Note } from '../../document/marks.ts';
import type { Shot } from '../../document/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { frameOption } from '../shared/frame-option.ts';

export const setNote = defineEdit({
  id: 'notes.set',
  title: 'Write a note',
  summary: 'Puts a sentence on a frame or a range, or changes, moves or ticks one off.',
  words: 'comment review remark feedback todo done sign off annotate',
  group: 'timing',
  locks: 'none',
  promise: 'sameMotion',
  options: z.object({
    note: z
      .string()
      .optional()
      .meta({ title: 'Note', description: 'Which one is changed; left out, a new one is written.' }),
    text: z
      .string()
      .trim()
      .max(LIMITS.noteText)
      .optional()
      .meta({ title: 'Says', description: 'The sentence.' }),
    frame: frameOption('First frame', '').optional().meta({
      title: 'First frame',
      unit: 'frame',
      description: 'Left out: of the marked range; of a note that is there, it stays.',
    }),
    end: frameOption('Last frame', '').optional().meta({
      title: 'Last frame',
      unit: 'frame',
      description: 'Left out: of the marked range, or the first alone.',
    }),
    by: z.string().trim().max(LIMITS.name).optional().meta({ title: 'By', description: 'Who says it.' }),
    done: z.boolean().optional().meta({ title: 'Done', description: 'Ticked off.' }),
  }),
  run(shot, selection, { note: id, text, frame, end, by, done }) {
    const notes = notesOf(shot);
    const { range } = selection;
    const was = id === undefined ? null : knownNote(shot, id);
    if (was === null && !text) return refused(shot, selection, finding('noteWhat', {}));
    const start = frame ?? was?.start ?? range?.start;
    if (start === undefined) return refused(shot, selection, finding('noteWhere', {}));
    // One that is moved by its first frame alone keeps its length.
    const last = end ?? (was ? start + was.end - was.start : frame === undefined ? range!.end : start);
    if (last < start) refuse('badRange', {}, start, last);
    if (was === null && notes.length >= LIMITS.marks)
      refuse('badOption', {}, 'notes', `there are ${LIMITS.marks} already`);
    const now: Note = {
      ...(was ?? { id: freshMarkId('note', new Set(notes.map((one) => one.id))) }),
      text: text || was!.text,
      start,
      end: last,
      by: by ?? was?.by ?? '',
      done: done ?? was?.done ?? false,
    };
    const same =
      was !== null &&
      was.text === now.text &&
      was.start === start &&
      was.end === last &&
      was.by === now.by &&
      was.done === now.done;
    if (same) return outcome(shot, shot, selection);
    const all = was === null ? [...notes, now] : notes.map((one) => (one === was ? now : one));
    const { range: whole } = shot;
    const isOutside = last < whole.start || start > whole.end;
    return outcome(shot, withNotes(shot, all), selection, {
      findings: isOutside ? [finding('noteOutside', {}, whole.start, whole.end)] : [],
    });
  },
});

export const knownNote = (shot: Shot, id: string): Note =>
  notesOf(shot).find((one) => one.id === id) ?? refuse('unknownNote', {}, id);

export const withNotes = (shot: Shot, notes: readonly Note[]): Shot =>
  withMarks(
    shot,
    'notes',
    [...notes].sort((a, b) => a.start - b.start),
  );
