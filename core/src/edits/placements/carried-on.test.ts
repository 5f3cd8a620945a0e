/** Placements that carry on: whatever is done to what lies before them, they begin where the figure stands. */
import { describe, expect, test } from '@jest/globals';
import { readShotFile } from '../../interchange/shot-file/read-shot.ts';
import { writeShotFile } from '../../interchange/shot-file/write-shot.ts';
import { worldAt } from '../../evaluation/evaluation.ts';
import type { Selection } from '../../document/selection.ts';
import type { Shot } from '../../document/shot.ts';
import { runEdit } from '../run-edit.ts';
import { EXAMPLES } from '../../testing/edit-examples.ts';
import { choose, curve, puppet } from '../../testing/shot-literals.ts';
import { actionOf, block, codes, placed, run, walkOf } from '../../testing/placed-actions.ts';

describe('carried on, whatever becomes of what lies before', () => {
  /** Two walks, the second going on from the first, the first from keys. */
  const two = () => {
    const base = puppet({ 'hips.tx': curve([0, 30, 4, 38]), 'hips.ry': curve([0, 15, 6, 40]) });
    const first = placed(base, walkOf(70, 'First'), 4, { carryOn: true });
    return placed(first, walkOf(-20, 'Second'), 14, { carryOn: true });
  };
  const ids = () => two().layers.map(({ id }) => id) as [string, string];
  const hips = (shot: Shot, frame: number) => worldAt(shot, frame).matrices.slice(0, 16);
  /** How far the hips jump where a block begins, cm and in axes. */
  const jump = (shot: Shot, i: number) => {
    const { start } = block(shot, i).range;
    const bare = { ...shot, layers: shot.layers.slice(0, i) };
    const [was, is] = [hips(bare, start), hips(shot, start)];
    return Math.max(...is.map((value, k) => Math.abs(value - was[k]!)));
  };
  const [first, second] = ids();
  const changes: Record<string, readonly [string, object, Selection?]> = {
    'the first is stretched': ['actions.setPlacement', { placement: first, stretch: 1.35, end: 18.5 }],
    'the first is cut at its end': ['actions.setPlacement', { placement: first, end: 11.3 }],
    'the first shows a part of it': ['actions.setPlacement', { placement: first, from: 3, end: 14 }],
    'the first weighs half': ['actions.setPlacement', { placement: first, weight: 0.5 }],
    'the second is moved': ['actions.movePlacement', { placement: second, frame: 9.4 }],
    'its beginning is cut off': ['actions.setPlacement', { placement: second, start: 16.7 }],
    'they cross': ['actions.cross', { placement: second, frames: 4.5 }],
    'the first is muted': ['filters.set', { filter: first, muted: true }],
    'the first is gone': ['filters.remove', { filter: first }],
    'keys below both are moved': ['keys.setValue', { value: 90 }, choose({ channels: ['hips.tx'] })],
  };

  test('laid after each other there is no jump, and the second goes the way that the first came to', () => {
    const shot = two();
    for (const i of [0, 1]) expect(jump(shot, i)).toBeLessThan(1e-9);
    const [was, is] = [hips(shot, 14), hips(shot, 13.9999)];
    was.forEach((value, k) => expect(Math.abs(value - is[k]!)).toBeLessThan(0.01));
  });

  test.each(Object.entries(changes))(
    '%s: what begins later begins where the figure stands',
    (_, [edit, options, selection]) => {
      const result = run(two(), edit, options, selection);
      expect(result.report.status).toBe('changed');
      const { shot } = result;
      expect(codes(result)).toContain('carriedAnew');
      for (const i of shot.layers.keys()) expect([i, jump(shot, i) < 1e-6]).toEqual([i, true]);
    },
  );

  test('the sentence says how far the beginning went; one that is locked stays, and says so', () => {
    const result = run(two(), 'actions.setPlacement', { placement: first, stretch: 1.35 });
    const before = block(two(), 1).settings.carry!;
    const after = block(result.shot, 1).settings.carry!;
    const said = result.report.findings.find(({ code }) => code === 'carriedAnew')!;
    const cm = Math.hypot(after.x - before.x, after.z - before.z);
    expect(cm).toBeGreaterThan(1);
    expect(said.sentence).toContain(`${Number(cm.toFixed(2))} cm`);
    const locked = run(two(), 'filters.set', { filter: second, locked: true }).shot;
    const left = run(locked, 'actions.setPlacement', { placement: first, stretch: 1.35 });
    expect(codes(left)).toContain('carryLocked');
    expect(block(left.shot, 1).settings.carry).toEqual(before);
  });

  test('through time it goes as it was: stretched as a whole it still carries on, bent it does so no more', () => {
    for (const [edit, options, still] of [
      ['timing.stretch', { factor: 1.7 }, true],
      ['timing.addHold', { frame: 8, frames: 3 }, true],
      ['timing.addHold', { frame: 17, frames: 3 }, false],
    ] as const) {
      const result = run(two(), edit, options, choose({ range: { start: 0, end: 24 } }));
      expect(block(result.shot, 1).settings.carriesOn).toBe(still);
      expect(jump(result.shot, 1)).toBeLessThan(1e-6);
    }
  });

  test('turned off it stays where it lies; turned on again it begins where the figure stands; written and read it goes on so', () => {
    const off = run(two(), 'actions.setPlacement', { placement: second, carriesOn: false }).shot;
    for (const frame of [14, 17.3, 24]) expect(hips(off, frame)).toEqual(hips(two(), frame));
    const moved = run(off, 'actions.setPlacement', { placement: first, stretch: 1.35 }).shot;
    expect(jump(moved, 1)).toBeGreaterThan(1);
    const on = run(moved, 'actions.setPlacement', { placement: second, carriesOn: true }).shot;
    expect(jump(on, 1)).toBeLessThan(1e-6);
    const again = readShotFile(writeShotFile(on));
    const last = run(again, 'actions.setPlacement', { placement: first, stretch: 0.7 }).shot;
    expect(jump(last, 1)).toBeLessThan(1e-6);
    const nod = placed(two(), actionOf({ 'arm_l.rz': curve([0, 0, 9, 5]) }, 9), 2);
    expect(codes(run(nod, 'actions.setPlacement', { placement: block(nod).id, carriesOn: true }))).toEqual([
      'nothingTravels',
    ]);
  });

  test('after any edit, over a loop, under a spring, at 23.976, backward and in part: they begin where the figure stands, and a file holds it', () => {
    const base = {
      ...puppet({
        'hips.tx': { ...curve([0, 30, 4, 38]), leadOut: 'loop' as const },
        'hips.ry': curve([0, 15, 6, 40]),
        'arm_l.rz': curve([0, 5, 9, 60, 24, 3]),
      }),
      rate: { numerator: 24000, denominator: 1001 },
    };
    const first = placed(base, walkOf(70, 'First'), 4, { carryOn: true });
    const both = placed(first, walkOf(-20, 'Second'), 14, { carryOn: true, backward: true, repeats: 1.5 });
    const nodes = choose({ nodes: ['hips', 'arm_l'] });
    const shot = run(both, 'filters.add', { kind: 'spring' }, nodes).shot;
    /** By which frame it goes: 23.976 ends the first a hundredth ahead of the second. */
    const standsAt = (of: Shot, i: number) => {
      const { start } = block(of, i).range;
      const ends = of.layers
        .slice(0, i)
        .filter(({ kind }) => kind === 'placement')
        .map(({ range }) => range!.end)
        .filter((end) => end <= start && end >= start - 1);
      return Math.max(...(ends.length > 0 ? ends : [start]));
    };
    let moved = 0;
    for (const [edit, list] of Object.entries(EXAMPLES))
      for (const options of list)
        for (const selection of [nodes, choose({ nodes: ['hips'], range: { start: 6, end: 17 } })]) {
          const { shot: after, report } = runEdit(edit, shot, selection, options);
          if (after.layers.some(({ muted, solo }) => muted || solo)) continue;
          if (report.findings.some(({ code }) => code === 'carriedAnew')) moved += 1;
          for (const [i, { settings }] of after.layers.entries()) {
            if (settings['carriesOn'] !== true) continue;
            const [was, is] = [
              hips({ ...after, layers: after.layers.slice(0, i) }, standsAt(after, i)),
              hips({ ...after, layers: after.layers.slice(0, i + 1) }, block(after, i).range.start),
            ];
            for (const axis of [12, 14])
              expect([edit, options, Math.abs(is[axis]! - was[axis]!) < 1e-6]).toEqual([edit, options, true]);
          }
          const again = readShotFile(writeShotFile(after));
          expect(again.layers.map(({ settings }) => settings)).toEqual(
            after.layers.map(({ settings }) => settings),
          );
        }
    expect(moved).toBeGreaterThan(50);
  });
});
