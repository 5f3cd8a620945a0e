/**
 * What every edit of the catalogue must keep, on every kind of shot and selection below: purity, identity, determinism,
 * undo, validity, locks, sentences. There is no list of exceptions; an edit without an example fails.
 *
 * Each example is run twice on each shot, once bare and once in a session; a shot that comes out is written once, and read back where no other run
 * of the edit gave the same file.
 */
import { isDeepStrictEqual } from 'node:util';
import { afterAll, describe, expect, test } from '@jest/globals';
import type { z } from 'zod';
import { FLAG } from '../curve/curve.ts';
import type { Curve } from '../curve/curve.ts';
import { brokenRule } from '../curve/validate.ts';
import { readShotFile } from '../interchange/shot-file/read-shot.ts';
import { writeShotFile } from '../interchange/shot-file/write-shot.ts';
import { openSession, perform, redo, select, undo } from '../session/session.ts';
import { curvesIn } from '../document/shot.ts';
import type { Selection } from '../document/selection.ts';
import type { Shot } from '../document/shot.ts';
import { PLAIN, SELECTIONS, SHOTS, WEIGHTS } from '../testing/contract-shots.ts';
import { EXAMPLES } from '../testing/edit-examples.ts';
import { EDITS } from './catalogue.ts';
import type { Edit, Outcome } from './edit.ts';
import { findEdit, runEdit } from './run-edit.ts';

/** Runs that changed something, and those of them with a pass chosen, over repeats or over locked keys. */
const tally = { changed: 0, odd: 0 };

/** What the shots are before any edit ran. */
const CAME = new Map(Object.values(SHOTS).map((shot) => [shot, copyOf(shot)]));

function copyOf<Value>(value: Value): Value {
  if (typeof value !== 'object' || value === null) return value;
  if (ArrayBuffer.isView(value)) return (value as unknown as Float64Array).slice() as unknown as Value;
  if (Array.isArray(value)) return value.map(copyOf) as Value;
  return Object.fromEntries(Object.entries(value).map(([name, held]) => [name, copyOf(held)])) as Value;
}
const WRITTEN = new Map(Object.values(SHOTS).map((shot) => [shot, writeShotFile(shot)]));

const shapeOf = (edit: Edit) => edit.options.shape as Readonly<Record<string, z.ZodType>>;

/** All curves of a shot by layer and channel. */
function layersOf(shot: Shot): Map<string, Curve> {
  const all = new Map<string, Curve>();
  for (const [id, one] of curvesIn(shot.curves, shot.nodes)) all.set(id, one);
  for (const one of shot.layers) {
    all.set(`${one.id}: weight`, one.weight);
    for (const [id, own] of curvesIn(one.curves, shot.nodes)) all.set(`${one.id}: ${id}`, own);
  }
  return all;
}

/** What is refused, or meant, alike on every shot, is tried on these. */
const ALIKE: Readonly<Record<string, readonly string[]>> = {
  'a range turned round': ['a plain shot', 'passes, filters and a variant'],
  'what is not there': [
    'a plain shot',
    'a locked key',
    'passes, filters and a variant',
    'relations and a limb',
  ],
};
const cases = Object.keys(SHOTS)
  .flatMap((shot) =>
    Object.keys(SELECTIONS)
      .filter((selection) => ALIKE[selection]?.includes(shot) ?? true)
      .map((selection) => [shot, selection] as const),
  )
  .concat(Object.keys(WEIGHTS).map((selection) => ['passes, filters and a variant', selection] as const));
const selectionOf = (name: string) => SELECTIONS[name] ?? WEIGHTS[name]!;

describe.each(EDITS.map((edit) => edit.id))('%s', (id) => {
  const examples = EXAMPLES[id];
  /** The first test looks for a run that changes something; the others look closer at the same run. */
  const runs = new Map<string, Outcome>();
  const runOnce = (shot: string, selection: string, at: number, chosen: Selection): Outcome => {
    const key = `${at} ${shot} ${selection}`;
    const known = runs.get(key) ?? runEdit(id, SHOTS[shot]!, chosen, examples![at]!);
    runs.set(key, known);
    return known;
  };
  const filesRead = new Set<string>();
  afterAll(() => {
    runs.clear();
    filesRead.clear();
  });

  test('has an example that changes a shot, and is described', () => {
    expect(examples).toBeDefined();
    const edit = findEdit(id)!;
    expect(edit.summary).toMatch(/^[A-Z].*\.$/);
    for (const [name, option] of Object.entries(shapeOf(edit)))
      expect([name, option.meta()?.title]).not.toContain(undefined);
    const changing = cases.some(([shot, selection]) =>
      examples!.some((_, at) => {
        const result = runOnce(shot, selection, at, selectionOf(selection));
        return result.report.status === 'changed' || result.made !== undefined;
      }),
    );
    expect(changing).toBe(true);
  });

  test.each(cases)('on %s, with %s', (shotName, selectionName) => {
    const shot = SHOTS[shotName]!;
    const selection = selectionOf(selectionName);
    for (const [at, options] of (examples ?? []).entries()) {
      const given = JSON.stringify(options);
      const result = runOnce(shotName, selectionName, at, selection);
      const { report } = result;
      const isChanged = report.status === 'changed';
      // One expectation for each run: each makes an error with its stack, and there are hundreds of thousands of things to look at.
      const faults: unknown[] = [];
      const must = (holds: boolean, ...fault: unknown[]) => {
        if (!holds) faults.push(fault);
      };

      // One step of the history where something was changed or made, and back to the very same object.
      const session = select(openSession(shot), selection);
      const { session: done, outcome: again } = perform(session, id, options);
      const steps = isChanged || result.made !== undefined ? 2 : 1;
      must(done.steps.length === steps, 'steps', done.steps.length, steps);
      must(undo(done).shot === shot, 'undo gives another shot');
      must(redo(undo(done)).shot === done.shot, 'redo gives another shot');
      // Deterministic: the session ran it anew.
      must(isDeepStrictEqual(again.shot, result.shot), 'a second run gives another shot');
      must(
        isDeepStrictEqual([again.report, again.selection], [report, result.selection]),
        'a second run says something else',
      );
      // Pure: what went in is what it was.
      must(isDeepStrictEqual(shot, CAME.get(shot)), 'the shot was written to');
      must(JSON.stringify(options) === given, 'the options were written to');
      // Not changed means the same object; refused says why.
      if (!isChanged) must(result.shot === shot, 'unchanged, and another shot');
      else {
        const file = writeShotFile(result.shot);
        must(file !== WRITTEN.get(shot), 'changed, and the same file');
        // The file holds it.
        if (!filesRead.has(file))
          must(writeShotFile(readShotFile(file)) === file, 'the file reads otherwise');
        filesRead.add(file);
      }
      if (report.status === 'refused') must(report.findings.length > 0, 'refused, and no word why');
      for (const { sentence } of report.findings) {
        must(/^[^a-z].*\.$/s.test(sentence), 'no sentence', sentence);
        must(!/undefined|NaN|Infinity|\[object/.test(sentence), 'no sentence', sentence);
      }
      for (const measure of report.measures) must(Number.isFinite(measure.value), 'no number', measure);
      // Valid.
      const after = layersOf(result.shot);
      for (const [name, one] of after) {
        const broken = brokenRule(one);
        must(broken === null, name, broken);
      }
      // What is not reported as touched is shared, to the object.
      const before = layersOf(shot);
      for (const [name, one] of after) {
        const channel = name.split(': ').pop()!;
        if (before.has(name) && channel !== 'weight' && !report.touched.includes(channel))
          must(one === before.get(name), 'not touched, and another', name);
      }
      // Locks hold.
      for (const channel of shot.locked)
        must(after.get(channel) === before.get(channel), 'locked, and another', channel);
      for (const [name, was] of before) {
        if (id === 'keys.lock') continue;
        was.flags.forEach((flag, row) => {
          if ((flag & FLAG.locked) === 0) return;
          const now = after.get(name)!;
          const to = now.ids.indexOf(was.ids[row]!);
          must(
            now.times[to] === was.times[row] && now.values[to] === was.values[row],
            'a locked key is another',
            name,
            was.times[row],
          );
        });
      }
      if (isChanged) {
        tally.changed += 1;
        const touched = [...before].filter(([name]) => report.touched.includes(name.split(': ').pop()!));
        const odd = touched.some(
          ([, one]) =>
            one.leadIn !== 'hold' ||
            one.leadOut !== 'hold' ||
            one.flags.some((flag) => (flag & FLAG.locked) !== 0),
        );
        if (odd || selection.layer !== null) tally.odd += 1;
      }
      for (const one of shot.layers)
        if (one.locked && id !== 'passes.set')
          must(result.shot.layers.includes(one), 'a locked layer is another', one.id);
      // The selection that comes back holds only keys that are there.
      for (const [channel, ids] of Object.entries(result.selection.keys)) {
        const layer = after.get(
          result.selection.layer === null ? channel : `${result.selection.layer} ${channel}`,
        );
        if (isChanged && layer)
          for (const key of ids) must(layer.ids.includes(key), 'chosen, and gone', channel, key);
      }
      expect([given, ...faults]).toEqual([given]);
    }
  });

  test.each([
    ['an option that it does not have', { nonsense: 1 }],
    ['no object', 'all'],
    ['a list', [1, 2]],
  ])('refuses %s with a sentence', (_, options) => {
    const result = runEdit(id, PLAIN, SELECTIONS['two controls']!, options);
    expect(result.report.status).toBe('refused');
    expect(result.report.findings[0]!.code).toBe('badOption');
    expect(result.shot).toBe(PLAIN);
  });

  test('refuses numbers that are none, and numbers out of range, in each of its options', () => {
    const edit = findEdit(id)!;
    const numbers = Object.keys(shapeOf(edit)).filter(
      (name) =>
        shapeOf(edit)[name]!.safeParse(Infinity).success === false &&
        shapeOf(edit)[name]!.safeParse(1).success,
    );
    for (const name of numbers) {
      for (const bad of [NaN, Infinity, -Infinity, 1e300, 'many']) {
        const result = runEdit(id, PLAIN, SELECTIONS['two controls']!, { ...examples![0], [name]: bad });
        expect([name, bad, result.report.status]).toEqual([name, bad, 'refused']);
      }
    }
  });
});

test('a third of the runs that changed something had a pass chosen, or went over repeats or locked keys', () => {
  // Alone, without the runs above, there is nothing to count.
  if (tally.changed < 100) return;
  expect(tally.odd / tally.changed).toBeGreaterThan(1 / 3);
});
