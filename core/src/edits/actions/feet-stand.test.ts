/** Feet of captured motion on a figure of another build: what stood there stands here, and how far it slid is said. */
import { readFileSync } from 'node:fs';
import { expect, test } from '@jest/globals';
import { nightRound } from '../../demo/night-round.ts';
import { constantCurve, newShot, rigOf, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { placeIn, worldAt } from '../../evaluation/evaluation.ts';
import { readBvh } from '../../interchange/bvh/read-bvh.ts';
import { contactsOf, slideOf } from '../../mapping/contacts.ts';
import type { Triple } from '../../math/euler.ts';
import { choose } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

const LAST = 420;
const captured = readBvh(readFileSync('/usr/share/assimp/models/BVH/01_01.bvh', 'utf8'), '01_01').shot;
const action = runEdit(
  'actions.save',
  captured,
  choose({ range: { start: 1, end: LAST }, nodes: captured.nodes.map(({ id }) => id) }),
  {
    name: 'Walk',
  },
).made;
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
const stands = contactsOf(source, 16, 120);

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

test('held by their goals they stand within 2 mm; without it they slide', () => {
  const [held, free] = [laid(1, true), laid(1, false)];
  const slid = (shot: Shot) => slideOf(track(shot, 'foot_l'), stands, 120).greatest;
  expect(slid(free.shot)).toBeGreaterThan(3);
  expect(slid(held.shot)).toBeLessThan(0.001);
  const said = held.report.findings.find(({ code }) => code === 'feetHeld');
  expect(said?.sentence).toMatch(/foot_l/);
  expect(free.report.findings.some(({ code }) => code.startsWith('feet'))).toBe(false);
  // Between stands a foot goes where it went.
  const swing = Math.round((stands[0]!.last + stands[1]!.first) / 2);
  const [a, b] = [held, free].map(({ shot }) => track(shot, 'foot_l')[swing]!);
  expect(Math.abs(a![1] - b![1])).toBeLessThan(0.1);
});

test('of limbs that their joints lead the slide is said', () => {
  const { shot, report } = laid(0, true);
  const said = report.findings.find(({ code }) => code === 'feetSlide');
  expect(said?.sentence).toMatch(/foot_l/);
  const [, mm] = /up to ([\d.]+) mm/.exec(said!.sentence)!;
  const most = Math.max(...['foot_l'].map((id) => slideOf(track(shot, id), stands, 120).greatest * 10));
  expect(Number(mm)).toBeGreaterThan(most - 1);
});

test('onto the same figure nothing is held', () => {
  const again = runEdit('actions.apply', captured, choose({}), { action, frame: 1 });
  expect(again.report.findings.some(({ code }) => code.startsWith('feet'))).toBe(false);
});
