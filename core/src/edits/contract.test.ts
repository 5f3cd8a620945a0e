/**
 * What every edit of the catalogue must keep, on every kind of shot and selection below: purity, identity, determinism,
 * undo, validity, locks, sentences. There is no list of exceptions; an edit without an example fails.
 */
import { describe, expect, test } from '@jest/globals';
import type { z } from 'zod';
import { FLAG, SEGMENT } from '../curve/curve.ts';
import type { Curve } from '../curve/curve.ts';
import { rebuild } from '../curve/rebuild.ts';
import { brokenRule } from '../curve/validate.ts';
import { readShotFile } from '../interchange/shot-file/read-shot.ts';
import { writeShotFile } from '../interchange/shot-file/write-shot.ts';
import { openSession, perform, redo, select, undo } from '../session/session.ts';
import type { Selection } from '../shot/selection.ts';
import { constantCurve, curvesIn } from '../shot/shot.ts';
import type { Shot } from '../shot/shot.ts';
import { EXAMPLES } from '../testing/edit-examples.ts';
import { choose, curve, pass, puppet } from '../testing/shot-literals.ts';
import { EDITS } from './catalogue.ts';
import type { Edit } from './edit.ts';
import { findEdit, runEdit } from './run-edit.ts';

const swing = curve([0, 10, 4, 12, 8, -6, 12, 3, 16, 8, 20, 10, 24, 10]);
const jitter = curve(
  Array.from({ length: 25 }, (_, i) => [i, 10 * Math.sin(i / 4) + ((i * 7) % 5) / 9]).flat(),
  'linear',
);
const weighted = rebuild(swing, null, (columns) => {
  columns.flags.fill(FLAG.weightedIn | FLAG.weightedOut);
  columns.lengthsIn.fill(0.4);
  columns.lengthsOut.fill(3.1);
});
const partLocked = rebuild(swing, null, (columns) => (columns.flags[2] = FLAG.locked));
const held = (keys: readonly number[]) =>
  rebuild(curve(keys), null, (columns) => columns.segments.fill(SEGMENT.stepped));
const offset = pass('lift', {
  members: ['arm_l'],
  curves: [undefined, { rz: curve([6, 0, 12, 20, 18, 0]) }],
});
const plain = puppet({
  'hips.ty': jitter,
  'arm_l.rz': swing,
  'hand_l.rx': curve([0, 1, 12, 5], 'flat'),
  'arm_r.rz': weighted,
  'arm_l.ry': curve([0, 170, 8, -175, 16, 20, 24, 380]),
  'arm_l.rx': curve([0, 0, 6, 3, 12, 6, 24, 9], 'linear'),
});

const SHOTS: Readonly<Record<string, Shot>> = {
  'a plain shot': plain,
  'a shot without keys': puppet(),
  'one key on each curve': puppet({ 'hips.ty': constantCurve(4, 12), 'arm_l.rz': constantCurve(-20, 3) }),
  'keys between frames and a hair apart': puppet({
    'hips.ty': curve([0.25, 1, 3.5, 2, 3.50001, 2, 9.75, 8]),
    'arm_l.rz': rebuild(
      curve([0, 1, 0.00001, 1, 7, 4, 30, -2]),
      null,
      (columns) => (columns.flags[2] = FLAG.locked),
    ),
  }),
  'huge and tiny values': puppet({
    'hips.ty': { ...curve([0, 1e9, 8, -1e9, 20, 1e9]), leadOut: 'swing' },
    'arm_l.rz': curve([0, 1e-9, 8, -1e-9, 24, 1e-9]),
  }),
  'stepped blocking': {
    ...puppet({
      'hips.ty': held([0, 3, 8, 5, 16, -2, 24, 6]),
      'arm_l.rz': { ...held([0, 10, 8, 40, 16, 10]), leadOut: 'loop' },
      'arm_r.rz': held([0, -10, 8, -40, 16, 0, 24, 20]),
    }),
    poseColumns: { share: 0.5, added: [12], removed: [] },
  },
  'curves that repeat': puppet({
    'hips.ty': { ...swing, leadOut: 'loop', leadIn: 'swing' },
    'arm_l.rz': { ...swing, leadOut: 'loopCarry', leadOutCount: 2, leadIn: 'slope' },
  }),
  'a locked channel': { ...plain, locked: ['arm_l.rz'] },
  'a locked key': puppet({ 'hips.ty': jitter, 'arm_l.rz': partLocked }),
  'a pass': { ...plain, passes: [offset] },
  'a locked pass': { ...plain, passes: [{ ...offset, locked: true }] },
};

const SELECTIONS: Readonly<Record<string, Selection>> = {
  'keys of the pass in a range': choose({
    channels: ['arm_l.rz'],
    range: { start: 5, end: 19 },
    pass: 'lift',
  }),
  nothing: choose({}),
  'two controls': choose({ nodes: ['hips', 'arm_l'] }),
  'a channel in a range': choose({ channels: ['arm_l.rz'], range: { start: 3, end: 17 } }),
  'single keys': choose({ keys: { 'arm_l.rz': [1, 3] } }),
  'what is not there': choose({ nodes: ['tail'], channels: ['tail.tx'], keys: { 'tail.tx': [4] } }),
  'a control on the pass': choose({ nodes: ['arm_l'], pass: 'lift' }),
  'a range turned round': choose({ nodes: ['arm_l'], range: { start: 9, end: 2 } }),
};

/** Runs that changed something, and those of them with a pass chosen, over repeats or over locked keys. */
const tally = { changed: 0, odd: 0 };

const shapeOf = (edit: Edit) => edit.options.shape as Readonly<Record<string, z.ZodType>>;

/** All curves of a shot by layer and channel. */
function layersOf(shot: Shot): Map<string, Curve> {
  const all = new Map<string, Curve>();
  for (const [id, one] of curvesIn(shot.curves, shot.nodes)) all.set(id, one);
  for (const one of shot.passes) {
    all.set(`${one.id} weight`, one.weight);
    for (const [id, own] of curvesIn(one.curves, shot.nodes)) all.set(`${one.id} ${id}`, own);
  }
  return all;
}

const cases = Object.keys(SHOTS).flatMap((shot) =>
  Object.keys(SELECTIONS).map((selection) => [shot, selection] as const),
);

describe.each(EDITS.map((edit) => edit.id))('%s', (id) => {
  const examples = EXAMPLES[id];

  test('has an example that changes a shot, and is described', () => {
    expect(examples).toBeDefined();
    const edit = findEdit(id)!;
    expect(edit.summary).toMatch(/^[A-Z].*\.$/);
    for (const [name, option] of Object.entries(shapeOf(edit)))
      expect([name, option.meta()?.title]).not.toContain(undefined);
    const changing = cases.some(([shot, selection]) =>
      examples!.some((options) => {
        const result = runEdit(id, SHOTS[shot]!, SELECTIONS[selection]!, options);
        return result.report.status === 'changed' || result.made !== undefined;
      }),
    );
    expect(changing).toBe(true);
  });

  test.each(cases)('on %s, with %s', (shotName, selectionName) => {
    const shot = SHOTS[shotName]!;
    const selection = SELECTIONS[selectionName]!;
    const asItCame = writeShotFile(shot);
    for (const options of examples ?? []) {
      const given = JSON.stringify(options);
      const result = runEdit(id, shot, selection, options);
      const { report } = result;

      // Pure: what went in is what it was.
      expect(writeShotFile(shot)).toBe(asItCame);
      expect(JSON.stringify(options)).toBe(given);
      // Deterministic.
      const again = runEdit(id, shot, selection, options);
      expect([writeShotFile(again.shot), again.report, again.selection]).toEqual([
        writeShotFile(result.shot),
        report,
        result.selection,
      ]);
      // Not changed means the same object; refused says why.
      if (report.status !== 'changed') expect(result.shot).toBe(shot);
      else expect(writeShotFile(result.shot)).not.toBe(asItCame);
      if (report.status === 'refused') expect(report.findings.length).toBeGreaterThan(0);
      for (const { sentence } of report.findings) {
        expect(sentence).toMatch(/^[^a-z].*\.$/s);
        expect(sentence).not.toMatch(/undefined|NaN|Infinity|\[object/);
      }
      for (const measure of report.measures) expect(Number.isFinite(measure.value)).toBe(true);
      // Valid, and the file holds it.
      const after = layersOf(result.shot);
      for (const one of after.values()) expect(brokenRule(one)).toBeNull();
      expect(writeShotFile(readShotFile(writeShotFile(result.shot)))).toBe(writeShotFile(result.shot));
      // What is not reported as touched is shared, to the object.
      const before = layersOf(shot);
      for (const [name, one] of after) {
        const channel = name.split(' ').pop()!;
        if (before.has(name) && channel !== 'weight' && !report.touched.includes(channel))
          expect(one).toBe(before.get(name));
      }
      // Locks hold.
      for (const channel of shot.locked) expect(after.get(channel)).toBe(before.get(channel));
      for (const [name, was] of before) {
        if (id === 'keys.lock' || id === 'clean.rescale') continue;
        was.flags.forEach((flag, row) => {
          if ((flag & FLAG.locked) === 0) return;
          const now = after.get(name)!;
          const at = now.ids.indexOf(was.ids[row]!);
          expect([name, now.times[at], now.values[at]]).toEqual([name, was.times[row], was.values[row]]);
        });
      }
      if (report.status === 'changed') {
        tally.changed += 1;
        const touched = [...before].filter(([name]) => report.touched.includes(name.split(' ').pop()!));
        const odd = touched.some(
          ([, one]) =>
            one.leadIn !== 'hold' ||
            one.leadOut !== 'hold' ||
            one.flags.some((flag) => (flag & FLAG.locked) !== 0),
        );
        if (odd || selection.pass !== null) tally.odd += 1;
      }
      for (const one of shot.passes)
        if (one.locked && id !== 'passes.set') expect(result.shot.passes).toContain(one);
      // The selection that comes back holds only keys that are there.
      for (const [channel, ids] of Object.entries(result.selection.keys)) {
        const layer = after.get(
          result.selection.pass === null ? channel : `${result.selection.pass} ${channel}`,
        );
        if (report.status === 'changed' && layer)
          for (const key of ids) expect(Array.from(layer.ids)).toContain(key);
      }
      // One step of the history, and back to the very same object.
      const session = select(openSession(shot), selection);
      const done = perform(session, id, options).session;
      expect(done.steps.length).toBe(report.status === 'changed' ? 2 : 1);
      expect(undo(done).shot).toBe(shot);
      expect(redo(undo(done)).shot).toBe(done.shot);
    }
  });

  test.each([
    ['an option that it does not have', { nonsense: 1 }],
    ['no object', 'all'],
    ['a list', [1, 2]],
  ])('refuses %s with a sentence', (_, options) => {
    const result = runEdit(id, plain, SELECTIONS['two controls']!, options);
    expect(result.report.status).toBe('refused');
    expect(result.report.findings[0]!.code).toBe('badOption');
    expect(result.shot).toBe(plain);
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
        const result = runEdit(id, plain, SELECTIONS['two controls']!, { ...examples![0], [name]: bad });
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
