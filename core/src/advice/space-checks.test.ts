import { expect, test } from '@jest/globals';
import { SEGMENT } from '../curve/curve.ts';
import { rebuild } from '../curve/rebuild.ts';
import { runEdit } from '../edits/run-edit.ts';
import { choose, curve, puppet } from '../testing/shot-literals.ts';
import { curveOf, withCurves } from '../document/shot.ts';
import { spaceChecks } from './space-checks.ts';

const made = runEdit(
  'spaces.add',
  puppet({ 'arm_l.rz': curve([0, 0, 24, 40]) }),
  choose({ nodes: ['hand_r'] }),
  { targets: ['hand_l', 'world'], frame: 0 },
).shot;
const [relation] = made.relations;

test('a switch that is keyed on its channel alone is told, by its frame; one made by the edit is not', () => {
  expect(spaceChecks(made, relation!)).toEqual([]);
  const switched = runEdit('spaces.switch', made, choose({}), {
    relation: relation!.id,
    frame: 9,
    to: 1,
  }).shot;
  expect(spaceChecks(switched, relation!)).toEqual([]);
  const byHand = withCurves(
    made,
    null,
    new Map([
      [
        relation!.switch!,
        rebuild(curve([0, 0, 9, 1]), null, (columns) => columns.segments.fill(SEGMENT.stepped)),
      ],
    ]),
  );
  const [found] = spaceChecks(byHand, relation!);
  expect([found!.code, found!.where.frame]).toEqual(['switchJumps', 9]);
  expect(found!.sentence).toMatch(/[1-9][0-9.]* mm/);
  // Keys that stand on every frame do not make it a match.
  const dense = runEdit('clean.resample', byHand, choose({ nodes: ['hand_r'] }), {}).shot;
  expect(spaceChecks(dense, dense.relations[0]!).map(({ code }) => code)).toEqual(['switchJumps']);
  // A switch whose key is taken elsewhere without its placement jumps there.
  const moved = withCurves(
    switched,
    null,
    new Map([
      [
        relation!.switch!,
        rebuild(curveOf(switched, null, relation!.switch!), null, (c) => (c.times[1] = 14)),
      ],
    ]),
  );
  expect(spaceChecks(moved, relation!).map(({ code, where }) => [code, where.frame])).toEqual([
    ['switchJumps', 14],
  ]);
});

test('what is turned by what stands above it already is told', () => {
  const turned = runEdit('spaces.add', puppet(), choose({ nodes: ['hand_l'] }), {
    kind: 'orientation',
    targets: ['arm_l'],
    frame: 0,
  }).shot;
  expect(spaceChecks(turned, turned.relations[0]!).map(({ code }) => code)).toEqual(['movedTwice']);
});
