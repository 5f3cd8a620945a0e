/** Keys set where a curve repeats: into the cycle, or on repeats turned into keys; nothing else changes. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { bakeLeads } from '../../curve/bake-lead.ts';
import type { Curve } from '../../curve/curve.ts';
import { differenceOf } from '../../curve/difference.ts';
import { evaluate } from '../../curve/evaluate.ts';
import { withValueAt } from '../../curve/with-key.ts';
import { copyKeys, readClip } from '../../evaluation/clip.ts';
import { curveOf } from '../../document/shot.ts';
import { anyCurve } from '../../testing/arbitrary-curves.ts';
import { choose, curve, keysOf, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

const LEADS = ['loop', 'loopCarry', 'swing'] as const;
const shown = { start: 0, end: 24 };
const closed = curve([0, 3, 3, 9, 5.5, -2, 8, 3]);
const repeating = (of: Curve, lead: (typeof LEADS)[number], count = 0): Curve => ({
  ...of,
  leadIn: lead,
  leadOut: lead,
  leadInCount: count,
  leadOutCount: count,
});

/** A curve and how far ahead of it or past it: whole frames, or any time where nothing steps. */
const placed = fc.oneof(
  fc.tuple(anyCurve({ whole: true }), fc.integer({ min: -60, max: 60 })),
  fc.tuple(anyCurve({ flowing: true }), fc.double({ min: -60, max: 60, noNaN: true })),
);

describe.each(LEADS)('%s', (lead) => {
  test('a value set on a repeat shows there and in every turn; the lead stays', () => {
    fc.assert(
      fc.property(placed, ([source, far]) => {
        const away = far + Math.sign(far || 1) * (Number.isInteger(far) ? 1 : 0.01);
        const one = repeating(source, lead);
        const frame = away < 0 ? source.times[0]! + away : source.times[source.times.length - 1]! + away;
        const { curve: after, way } = withValueAt(one, frame, 17, 'cycle', shown);
        expect(evaluate(after, frame)).toBeCloseTo(17, 6);
        expect([after.leadIn, after.leadOut]).toEqual([lead, lead]);
        expect(after.times[0]).toBe(one.times[0]);
        expect(after.times[after.times.length - 1]).toBe(one.times[one.times.length - 1]);
        expect(way === 'there').toBe(frame >= one.times[0]! && frame <= one.times[one.times.length - 1]!);
      }),
      { numRuns: 60 },
    );
  });

  test('or the repeats become keys first: then only this frame’s neighbourhood changes', () => {
    const { curve: after, way } = withValueAt(repeating(closed, lead), 19.5, 30, 'bake', shown);
    const baked = bakeLeads(repeating(closed, lead), 0, 24);
    expect([way, after.leadOut, evaluate(after, 19.5)]).toEqual(['bake', 'hold', 30]);
    // The two segments beside follow, since their tangents look at the new key.
    for (const frame of [0, 4, 8, 11, 14, 16, 24])
      expect(evaluate(after, frame)).toBeCloseTo(evaluate(baked, frame), 9);
  });

  test('beyond counted repeats there is no cycle to change: baked, whatever was asked', () => {
    const { curve: after, way } = withValueAt(repeating(closed, lead, 1), 20, 5, 'cycle', shown);
    expect([way, evaluate(after, 20)]).toEqual(['bake', 5]);
  });

  test('keys are added in the cycle without changing the curve, and that is said', () => {
    const shot = puppet({ 'hips.ty': repeating(closed, lead) });
    const { shot: after, report } = runEdit('keys.add', shot, choose({ channels: ['hips.ty'] }), {
      frame: 18.25,
    });
    const now = curveOf(after, null, 'hips.ty');
    expect(now.times).toHaveLength(5);
    expect(differenceOf(curveOf(shot, null, 'hips.ty'), now, { start: -20, end: 40 }).greatest).toBeLessThan(
      1e-9,
    );
    expect(report.findings.map(({ code }) => code)).toEqual(['cycleChangedAt']);
    const baked = runEdit('keys.add', shot, choose({ channels: ['hips.ty'] }), {
      frame: 18.25,
      repeats: 'bake',
    });
    expect(baked.report.findings.map(({ code }) => code)).toEqual(['repeatsBaked']);
    expect(curveOf(baked.shot, null, 'hips.ty').leadOut).toBe('hold');
  });

  test('pasting a pose past the keys changes the cycle or bakes, and says which', () => {
    const shot = puppet({ 'hips.ty': repeating(closed, lead) });
    for (const [repeats, code] of [
      ['cycle', 'cycleChangedAt'],
      ['bake', 'repeatsBaked'],
    ] as const) {
      const { shot: after, report } = runEdit('poses.paste', shot, choose({}), {
        pose: { format: 'kneader-pose', version: 1, values: { 'hips.ty': 12 } },
        frame: 21,
        repeats,
      });
      expect(report.findings.map(({ code }) => code)).toEqual([code]);
      expect(evaluate(curveOf(after, null, 'hips.ty'), 21)).toBeCloseTo(12, 9);
    }
  });

  test('copying a range on the repeats copies what shows, also where no key stands', () => {
    const one = repeating(closed, lead);
    const clip = readClip(
      copyKeys(puppet({ 'hips.ty': one }), choose({ nodes: ['hips'], range: { start: 11, end: 22 } })),
    );
    const part = clip.curves.get('hips.ty')!;
    for (let frame = 11; frame <= 22; frame += 1)
      expect(evaluate(part, frame - 11)).toBeCloseTo(evaluate(one, frame), 9);
  });
});

test('the seam of a closed loop is one pose: set on a repeat, both ends of the cycle take it', () => {
  const { curve: after } = withValueAt(repeating(closed, 'loop'), 16, -7, 'cycle', shown);
  expect(keysOf(after)).toBe('0:-7 3:9 5.5:-2 8:-7');
});

test('copying a range takes what holds or moves through it too, keys or none', () => {
  const shot = puppet({ 'hips.tx': curve([0, 0, 24, 48], 'linear'), 'hips.ty': curve([0, 5]) });
  const clip = readClip(copyKeys(shot, choose({ nodes: ['hips'], range: { start: 6, end: 10 } })));
  expect([...clip.curves].map(([id, part]) => [id, keysOf(part)])).toEqual([
    ['hips.tx', '0:12 4:20'],
    ['hips.ty', '0:5 4:5'],
  ]);
});

describe('offset in a loop', () => {
  test('a moved cycle goes on into the time that it left: over the shot it is the loop, later', () => {
    const loop: Curve = { ...curve([0, 1, 4, 8, 8, -3, 12, 1]), leadOut: 'loop' };
    const shot = puppet({ 'hips.ty': loop, 'arm_l.rz': loop });
    const { shot: after, report } = runEdit(
      'timing.offset',
      shot,
      choose({ channels: ['hips.ty', 'arm_l.rz'] }),
      {
        order: 'selection',
        step: 3,
      },
    );
    const moved = curveOf(after, null, 'arm_l.rz');
    for (let frame = 0; frame <= 24; frame += 0.5)
      expect(evaluate(moved, frame)).toBeCloseTo(evaluate({ ...loop, leadIn: 'loop' }, frame - 3), 9);
    expect(report.findings.map(({ code }) => code)).toEqual(['repeatsBothWays']);
  });

  test('a cycle that would get another length is said', () => {
    const loop: Curve = { ...curve([0, 1, 4, 8, 12, 1]), leadOut: 'loop' };
    const shot = puppet({ 'hips.ty': loop, 'arm_l.rz': loop });
    const { report } = runEdit(
      'timing.offset',
      shot,
      choose({ channels: ['hips.ty', 'arm_l.rz'], range: { start: 4, end: 12 } }),
      { order: 'selection', step: 2 },
    );
    expect(report.findings.map(({ code }) => code)).toEqual(['cycleChanged']);
  });
});
