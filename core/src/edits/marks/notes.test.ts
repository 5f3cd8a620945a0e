/** Notes: written, ticked off, carried through time, never lost. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { notesOf } from '../../document/marks.ts';
import type { Shot } from '../../document/shot.ts';
import { FORMATS } from '../../interchange/formats.ts';
import { readShotFile } from '../../interchange/shot-file/read-shot.ts';
import { writeShotFile } from '../../interchange/shot-file/write-shot.ts';
import { choose, curve, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

const base: Shot = { ...puppet({ 'hips.ty': curve([0, 1, 60, 5]) }), range: { start: 0, end: 60 } };
const run = (shot: Shot, id: string, options: object, range?: [number, number]) =>
  runEdit(id, shot, choose(range ? { range: { start: range[0], end: range[1] } } : {}), options);
const said = (shot: Shot) => notesOf(shot).map(({ text, start, end }) => [text, start, end]);

const noted = run(run(base, 'notes.set', { text: 'Too even', by: 'Ada' }, [40, 60]).shot, 'notes.set', {
  text: ' Wrist late ',
  frame: 24,
}).shot;

describe('notes', () => {
  test('stand on a frame or the marked range, in the order of time, and come back from a file', () => {
    expect(notesOf(noted)).toEqual([
      { id: 'note-2', text: 'Wrist late', start: 24, end: 24, by: '', done: false },
      { id: 'note-1', text: 'Too even', start: 40, end: 60, by: 'Ada', done: false },
    ]);
    expect(notesOf(readShotFile(writeShotFile(noted)))).toEqual(notesOf(noted));
  });

  test('are ticked off, reworded and moved one at a time; a moved one keeps its length', () => {
    const done = run(noted, 'notes.set', { note: 'note-1', done: true }).shot;
    expect(notesOf(done).map((one) => one.done)).toEqual([false, true]);
    const moved = run(done, 'notes.set', { note: 'note-1', frame: 10, text: 'Uneven now' }).shot;
    expect(said(moved)).toEqual([
      ['Uneven now', 10, 30],
      ['Wrist late', 24, 24],
    ]);
    expect(run(moved, 'notes.set', { note: 'note-1', done: true }).report.status).toBe('unchanged');
    expect(said(run(moved, 'notes.remove', {}).shot)).toEqual([['Wrist late', 24, 24]]);
    expect(run(moved, 'notes.remove', { note: 'note-2' }).shot.notes).toHaveLength(1);
  });

  test.each([
    [{ frame: 3 }, 'A new note needs a sentence.'],
    [{ text: 'Where?' }, 'A new note needs a frame, or a marked range.'],
    [{ text: 'Turned round', frame: 9, end: 3 }, 'The range 9 to 3 is empty or turned round.'],
    [{ note: 'note-9', done: true }, 'The shot has no note “note-9”: it may have been removed.'],
  ])('%j is refused', (options, sentence) => {
    const { shot, report } = run(noted, 'notes.set', options);
    expect(report.status).toBe('refused');
    expect(report.findings.map((one) => one.sentence)).toContain(sentence);
    expect(shot).toBe(noted);
  });

  test('go with their frames through a stretch and backward', () => {
    expect(said(run(noted, 'timing.stretch', { factor: 2 }).shot)).toEqual([
      ['Wrist late', 48, 48],
      ['Too even', 80, 120],
    ]);
    expect(said(run(noted, 'timing.reverse', {}).shot)).toEqual([
      ['Too even', 0, 20],
      ['Wrist late', 36, 36],
    ]);
  });

  test('what was said about frames that are taken out stands where they were, and that is said', () => {
    const { shot, report } = run(noted, 'timing.removeTime', {}, [20, 30]);
    const [wrist, even] = notesOf(shot);
    expect([wrist!.text, wrist!.start]).toEqual(['Wrist late', wrist!.end]);
    expect(wrist!.start).toBeGreaterThanOrEqual(19);
    expect(wrist!.start).toBeLessThanOrEqual(21);
    expect(even!.end - even!.start).toBe(20);
    expect(report.findings.map(({ sentence }) => sentence)).toContain(
      '1 note was about frames that are gone and stands where they were: “Wrist late”.',
    );
  });

  test('one about frames into which time is put goes on over it', () => {
    expect(said(run(noted, 'timing.addHold', { frame: 50, frames: 6 }).shot)).toEqual([
      ['Wrist late', 24, 24],
      ['Too even', 40, 66],
    ]);
  });

  test('no change of time loses one', () => {
    const edits = ['timing.removeTime', 'timing.reverse', 'timing.stretch', 'timing.addHold'] as const;
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(
            fc.constantFrom(...edits),
            fc.integer({ min: 0, max: 50 }),
            fc.integer({ min: 1, max: 12 }),
          ),
          {
            minLength: 1,
            maxLength: 5,
          },
        ),
        (steps) => {
          let shot = noted;
          for (const [id, from, length] of steps) {
            const start = shot.range.start + from;
            const options =
              id === 'timing.addHold'
                ? { frame: start, frames: length }
                : id === 'timing.stretch'
                  ? { factor: 1 + length / 8 }
                  : {};
            shot = run(shot, id, options, [start, start + length]).shot;
          }
          expect(new Set(notesOf(shot).map(({ text }) => text))).toEqual(new Set(['Wrist late', 'Too even']));
          for (const { start, end } of notesOf(shot)) expect(end).toBeGreaterThanOrEqual(start);
        },
      ),
      { seed: 27, numRuns: 60 },
    );
  });

  test.each(['.bvh', '.glb', '.csv'])('%s says that it leaves them behind', (ending) => {
    const format = FORMATS.find((one) => one.ending === ending)!;
    const sentences = format.lost(noted).map(({ sentence }) => sentence);
    expect(sentences).toContain('Only a shot file keeps these: 2 notes.');
  });
});
