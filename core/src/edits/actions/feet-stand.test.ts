/** Feet of captured motion on a figure of another build: what stood there stands here, and how far it slid is said. */
import { readFileSync } from 'node:fs';
import { expect, test } from '@jest/globals';
import { nightRound } from '../../demo/night-round.ts';
import { constantCurve, newShot, rigOf, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { placeIn, worldAt } from '../../evaluation/evaluation.ts';
import { readBvh } from '../../interchange/bvh/read-bvh.ts';
import { standsOf, slideOf } from '../../motion/contacts.ts';
import type { Triple } from '../../math/euler.ts';
import { choose } from '../../testing/shot-literals.ts';
import { withZUp } from '../../testing/z-up-bvh.ts';
import { runEdit } from '../run-edit.ts';

const LAST = 320;
const captureOf = (name: string) =>
  readBvh(readFileSync(`/usr/share/assimp/models/BVH/${name}.bvh`, 'utf8'), name).shot;
const actionOf = (shot: Shot) => {
  const all = choose({ range: { start: 1, end: LAST }, nodes: shot.nodes.map(({ id }) => id) });
  return runEdit('actions.save', shot, all, { name: 'Walk' }).made;
};
const captured = captureOf('01_01');
const action = actionOf(captured);
const bram = (ik: number): Shot => {
  const { nodes, relations, characters } = nightRound();
  const bare = { ...newShot('Empty', nodes, relations, captured.rate, { start: 0, end: LAST }), characters };
  const weights = relations.flatMap(({ kind, weight }) =>
    kind === 'reach' && weight !== null ? [weight] : [],
  );
  return withCurves(bare, null, new Map(weights.map((id) => [id, constantCurve(ik)])));
};
const track = (shot: Shot, id: string, from = 0) =>
  Array.from(
    { length: LAST },
    (_, k) => [...placeIn(worldAt(shot, from + k), rigOf(shot).indexOf(id))] as Triple,
  );
const laid = (ik: number, feet: boolean) =>
  runEdit('actions.apply', bram(ik), choose({}), { action, match: 'both', frame: 0, feet });

const source = track(captured, 'LeftFoot', 1);
const stands = standsOf(source, 16, 120);
const others = standsOf(track(captured, 'RightFoot', 1), 16, 120);

test('the stands that are found are stands: low and slow, and most of a slow walk', () => {
  const frames = stands.reduce((sum, { first, last }) => sum + last - first, 0);
  expect(frames / LAST).toBeGreaterThan(0.5);
  const { speed } = slideOf(source, stands, 120);
  // Units of 5.6 cm: a foot that stands moves by some cm a second, one that swings by a metre and more.
  expect(speed).toBeLessThan(2);
  expect(stands.every(({ first, last }, k) => last > first && (k === 0 || first > stands[k - 1]!.last))).toBe(
    true,
  );
});

const slid = (shot: Shot, id = 'foot_l', when = stands) => slideOf(track(shot, id), when, 120).greatest;

test.each([
  ['goals', 1, 0.001],
  ['the joints of their legs', 0, 0.001],
])('held by %s they stand within 2 mm; without it they slide', (_, ik, most) => {
  const [held, free] = [laid(ik, true), laid(ik, false)];
  expect(slid(free.shot)).toBeGreaterThan(3);
  expect(slid(held.shot)).toBeLessThan(most);
  const said = held.report.findings.find(({ code }) => code === 'feetHeld');
  const [, before, after] = /by up to ([\d.]+) mm; held, by ([\d.]+) mm: .*foot_l/.exec(said!.sentence)!;
  const worst = (shot: Shot) => Math.max(slid(shot), slid(shot, 'foot_r', others)) * 10;
  expect(Number(before)).toBeCloseTo(worst(free.shot), 1);
  expect(Number(after)).toBeCloseTo(worst(held.shot), 1);
  expect(free.report.findings.some(({ code }) => code.startsWith('feet'))).toBe(false);
  // Between stands a foot goes where it went, and the knee bends as it did.
  const swing = Math.round((stands[0]!.last + stands[1]!.first) / 2);
  for (const id of ['foot_l', 'shin_l']) {
    const [a, b] = [held, free].map(({ shot }) => track(shot, id)[swing]!);
    expect(Math.abs(a![1] - b![1])).toBeLessThan(0.1);
  }
});

test('flipped, the other foot stands when this one did', () => {
  const { shot } = runEdit('actions.apply', bram(0), choose({}), {
    ...{ action, match: 'both', frame: 0, flipped: true },
  });
  expect(slid(shot, 'foot_r')).toBeLessThan(0.001);
  expect(slid(shot, 'foot_l', others)).toBeLessThan(0.001);
});

test('a block and an action of the figure’s own stand too', () => {
  const block = runEdit('actions.place', bram(0), choose({}), {
    ...{ action, match: 'both', frame: 0, rampIn: 0, rampOut: 0 },
  });
  expect(slid(block.shot)).toBeLessThan(0.001);
  const { made } = runEdit('actions.map', bram(0), choose({}), { action, match: 'both' });
  expect(slid(runEdit('actions.apply', bram(0), choose({}), { action: made, frame: 0 }).shot)).toBeLessThan(
    0.001,
  );
});

test('a locked leg is left, and the slide is said', () => {
  const shot = { ...bram(0), locked: ['thigh_l.rx', 'thigh_r.rx'] };
  const { report } = runEdit('actions.apply', shot, choose({}), { action, match: 'both', frame: 0 });
  expect(report.findings.find(({ code }) => code === 'feetSlide')?.sentence).toMatch(/foot_l/);
});

test('where a leg does not reach the hips give way, smoothly, and it is said by how much', () => {
  const strides = actionOf(captureOf('01_03'));
  const apply = (feet: boolean) =>
    runEdit('actions.apply', bram(0), choose({}), { action: strides, match: 'both', frame: 0, feet });
  const [held, free] = [apply(true), apply(false)];
  expect(held.report.findings.find(({ code }) => code === 'feetHeld')?.sentence).toMatch(/held, by 0 mm/);
  const given = track(held.shot, 'hips').map((p, k) => {
    const q = track(free.shot, 'hips')[k]!;
    return Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);
  });
  const said = held.report.findings.find(({ code }) => code === 'hipsGive')!;
  expect(Number(/by up to ([\d.]+) mm/.exec(said.sentence)![1])).toBeCloseTo(Math.max(...given) * 10, 0);
  const step = given.slice(1).map((value, k) => Math.abs(value - given[k]!));
  expect(Math.max(...step)).toBeLessThan(Math.max(...given) / 6);
});

test('onto the same figure nothing is held', () => {
  const again = runEdit('actions.apply', captured, choose({}), { action, frame: 1 });
  expect(again.report.findings.some(({ code }) => code.startsWith('feet'))).toBe(false);
});

test('a capture with z up, stood upright, comes onto him as the one with y up does', () => {
  const text = withZUp(readFileSync('/usr/share/assimp/models/BVH/01_01.bvh', 'utf8'));
  const upright = runEdit('clean.standUp', readBvh(text, 'lying').shot, choose({}), {}).shot;
  const options = { match: 'both', frame: 0, feet: false };
  const [mine, plain] = [actionOf(upright), action].map(
    (one) => runEdit('actions.apply', bram(0), choose({}), { ...options, action: one }).shot,
  ) as [Shot, Shot];
  for (const id of ['hips', 'foot_l', 'hand_r', 'head']) {
    const [a, b] = [track(mine, id), track(plain, id)];
    const off = a.map((at, k) => Math.hypot(...at.map((value, axis) => value - b[k]![axis]!)));
    expect([id, Math.max(...off) < 1e-6]).toEqual([id, true]);
  }
});
