/** Root: jumps. What is written as keys from what shows is cut where that jumps: no slope runs across, and whole frames are exact. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { SEGMENT } from '../../curve/curve.ts';
import type { Curve, Lead } from '../../curve/curve.ts';
import { rebuild } from '../../curve/rebuild.ts';
import type { Layer } from '../../layers/layer.ts';
import { rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { stackOf, worldAt } from '../../evaluation/evaluation.ts';
import { angleBetween } from '../../math/quaternion.ts';
import { anyCurve } from '../../testing/arbitrary-curves.ts';
import { choose, curve, filter, pass, puppet } from '../../testing/shot-literals.ts';
import { shotFromJson } from '../../interchange/shot-file/read-shot.ts';
import { runEdit } from '../run-edit.ts';

const stepped = (of: Curve) => rebuild(of, null, (columns) => columns.segments.fill(SEGMENT.stepped));
const led = (of: Curve, leadOut: Lead, leadIn: Lead = 'hold'): Curve => ({ ...of, leadOut, leadIn });
const STEPS = stepped(curve([0, 0, 9, 8, 21, -4, 40, 2]));

const shown = (shot: Shot, frame: number, channel = 'hips.tx') =>
  stackOf(shot).top[rigOf(shot).channelIndex(channel)]!.at(frame);
const over = (base: Curve, layer: Layer, end = 48): Shot => ({
  ...puppet({ 'hips.tx': base }),
  range: { start: 0, end },
  layers: [layer],
});
const run = (shot: Shot, edit: string, options: object) => {
  const made = runEdit(edit, shot, choose({ channels: ['hips.tx'], layer: null }), options);
  expect(made.report.status).toBe('changed');
  return made;
};
/** The greatest difference on whole frames, and on fifths where nothing jumps within a frame. */
function differences(before: Shot, after: Shot) {
  const c = rigOf(before).channelIndex('hips.tx');
  const signal = stackOf(before).top[c]!;
  let [on, between, wildest] = [0, 0, 0];
  for (let i = 0; i <= (before.range.end - before.range.start) * 5; i += 1) {
    const frame = before.range.start + i / 5;
    const off = Math.abs(shown(after, frame) - signal.at(frame));
    if (i % 5 === 0) on = Math.max(on, off);
    else if (signal.jumps({ start: Math.floor(frame), end: Math.ceil(frame) }).length === 0)
      between = Math.max(between, off);
    wildest = Math.max(wildest, off);
  }
  return { on, between, wildest };
}

const lift = pass('lift', { members: ['hips'], curves: [{ tx: curve([0, 1, 12, 3, 40, 5]) }] });
const once = pass('once', { members: ['hips'], curves: [{ tx: curve([0, 3]) }] });

describe('a stepped base under an offset pass', () => {
  test.each(['union', 'every', 'needed'])('merged, keys %s: whole frames exact, nowhere wild', (keys) => {
    const before = over(STEPS, lift);
    const { on, between, wildest } = differences(
      before,
      run(before, 'passes.merge', { which: 'all', keys }).shot,
    );
    expect(on).toBeLessThan(keys === 'needed' ? 0.1 : keys === 'every' ? 1e-6 : 0.7);
    expect(between).toBeLessThan(keys === 'union' ? 0.7 : 0.1);
    // At most what it jumps by, held for a frame.
    expect(wildest).toBeLessThan(13);
  });
});

test('twos over a moving curve, baked on every frame: the drawings, and nothing between them', () => {
  const moving = curve([0, 0, 10, 30, 24, -8, 48, 3]);
  const before = over(moving, filter('step', ['hips'], { pattern: [2] }));
  const { shot } = run(before, 'filters.bake', { filter: 'step', keys: 'every' });
  expect(differences(before, shot)).toEqual({
    on: expect.closeTo(0, 9),
    between: expect.closeTo(0, 9),
    wildest: expect.closeTo(0, 9),
  });
});

test('stepped keys under a stretch of 1.1 are on their frames, not one late', () => {
  const steps = stepped(curve([0, 0, 10, 5, 20, 9, 30, 2]));
  const shot = over(steps, filter('stretch', ['hips'], { factor: 1.1, pivot: 0 }));
  expect([11, 22, 33].map((frame) => shown(shot, frame))).toEqual([5, 9, 2]);
  expect([10, 21, 32].map((frame) => shown(shot, frame))).toEqual([0, 5, 9]);
});

describe('loops', () => {
  const cycle = led(curve([0, 0, 6, 5, 12, 0]), 'loop');

  test('one offset key over a loop, merged: the loop goes on, moved', () => {
    const before = over(cycle, once);
    const { shot } = run(before, 'passes.merge', { which: 'all' });
    const made = shot.curves[0]!['tx']!;
    expect([...made.times]).toEqual([0, 6, 12]);
    expect(made.leadOut).toBe('loop');
    for (const frame of [0, 3.3, 20, 47.6, 600])
      expect(shown(shot, frame)).toBeCloseTo(shown(before, frame), 9);
  });

  test.each(['union', 'every', 'needed'])('keyed over a loop, merged, keys %s: no turn is lost', (keys) => {
    const before = over(cycle, lift);
    const made = run(before, 'passes.merge', { which: 'all', keys });
    const { on, between } = differences(before, made.shot);
    expect(on).toBeLessThan(0.1);
    expect(between).toBeLessThan(0.1);
    expect(made.report.findings.map(({ code }) => code)).toContain('repeatsBaked');
  });

  test('baked out: the loop goes on as well', () => {
    const before = over(cycle, once);
    const { made } = runEdit('passes.bakeOut', before, choose({}), {});
    expect(shotFromJson(made).curves[0]!['tx']).toMatchObject({ leadOut: 'loop' });
  });

  test('a wheel under a pass, on every frame: every whole frame exact', () => {
    const wheel = led(
      rebuild(curve([0, 0, 12, 360]), null, (c) => c.segments.fill(SEGMENT.linear)),
      'loop',
    );
    const before = over(wheel, lift);
    const { on, between } = differences(
      before,
      run(before, 'passes.merge', { which: 'all', keys: 'every' }).shot,
    );
    expect(on).toBeLessThan(1e-9);
    expect(between).toBeLessThan(0.05);
  });
});

test('anything under anything, merged on every frame: whole frames are exact', () => {
  fc.assert(
    fc.property(
      anyCurve({ weighted: true }),
      anyCurve({ weighted: true }),
      fc.constantFrom<Lead>('hold', 'slope', 'loop', 'loopCarry', 'swing'),
      fc.constantFrom('offset', 'replace'),
      fc.constantFrom(
        null,
        { start: 3, end: 17, rampIn: 0, rampOut: 4 },
        { start: 5, end: 9, rampIn: 0, rampOut: 0 },
      ),
      (base, own, lead, kind, range) => {
        const layer = pass('p', { kind, members: ['hips'], curves: [{ tx: own }], range });
        const before = over(led(base, lead, lead), layer, 30);
        const after = run(before, 'passes.merge', { which: 'all', keys: 'every' }).shot;
        const size = Math.max(...base.values.map(Math.abs), ...own.values.map(Math.abs), 1);
        const { on } = differences(before, after);
        expect(on / size).toBeLessThan(1e-6);
      },
    ),
    { numRuns: 150 },
  );
});

test('a pass that comes in by orientations, baked: the shot goes the short way between keys too', () => {
  const shot: Shot = {
    ...puppet({ 'hips.rz': curve([0, 170]), 'hips.rx': curve([0, 0, 48, 10]), 'hips.ry': curve([0, 4]) }),
    range: { start: 0, end: 48 },
    layers: [
      pass('turned', {
        kind: 'replace',
        members: ['hips'],
        settings: { rotations: 'orientations' },
        weight: curve([6, 0, 18, 1, 30, 1, 42, 0]),
        curves: [{ rz: curve([0, -170]), rx: curve([0, 0]), ry: curve([0, 0]) }],
      }),
    ],
  };
  for (const keys of ['every', 'needed', 'union']) {
    const after = run(shot, 'passes.merge', { which: 'all', keys }).shot;
    let worst = 0;
    for (let frame = 0; frame < 48; frame += 0.2)
      worst = Math.max(
        worst,
        angleBetween(worldAt(shot, frame).turns.subarray(0, 4), worldAt(after, frame).turns.subarray(0, 4)),
      );
    expect([keys, worst < (keys === 'union' ? 3 : 0.5)]).toEqual([keys, true]);
  }
});

test('a constant that takes over from a curve which is nearly always the same: what shows stays', () => {
  const blink = curve([0, 0, 19.9, 0, 20.3, 5, 20.8, 0, 48, 0]);
  const before = over(
    blink,
    pass('r', { kind: 'replace', members: ['hips'], curves: [{ tx: curve([0, 0]) }] }),
  );
  const { shot } = run(before, 'passes.merge', { which: 'all' });
  for (let frame = 0; frame <= 48; frame += 0.1) expect(Math.abs(shown(shot, frame))).toBeLessThan(1e-9);
});
