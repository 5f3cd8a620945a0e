import { describe, expect, test } from '@jest/globals';
import { DEMO_SHOTS } from '../demo/bakery.ts';
import { writePose } from '../edits/poses/write-pose.ts';
import { curve, pass, puppet } from '../testing/shot-literals.ts';
import { placeIn, valuesAt, worldAt } from './evaluation.ts';
import { shownValues, solve } from './solve.ts';
import { rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';

const placeOf = (shot: Shot, frame: number, node: string) =>
  placeIn(worldAt(shot, frame), rigOf(shot).indexOf(node));
const reached = (shot: Shot, frame: number, node: string, place: [number, number, number]) =>
  writePose(
    shot,
    null,
    new Map(Object.entries(shownValues(shot, frame, { kind: 'place', node, place }))),
    frame,
  ).shot;

describe('bringing a point to a place', () => {
  const walk = DEMO_SHOTS[1]!.make();

  test.each([
    ['hips', [3, 80, 20]],
    ['hand_goal_l', [40, 100, 60]],
    ['hand_l', [28, 118, 52]],
    ['foot_r', [-14, 20, 30]],
    ['tray', [5, 130, 60]],
  ] as const)('%s, which can be moved or hangs on a goal, gets there', (node, place) => {
    const after = reached(walk, 8, node, [...place]);
    placeOf(after, 8, node).forEach((value, axis) => expect(value).toBeCloseTo(place[axis]!, 3));
  });

  test('a joint without positions turns its parent toward the place, at its own distance', () => {
    const toss = DEMO_SHOTS[0]!.make();
    const shoulder = placeOf(toss, 58, 'forearm_r');
    const wrist = placeOf(toss, 58, 'hand_r');
    const far = Math.hypot(...wrist.map((value, axis) => value - shoulder[axis]!));
    const after = reached(toss, 58, 'hand_r', [shoulder[0], shoulder[1] + 100, shoulder[2]]);
    const now = placeOf(after, 58, 'hand_r');
    expect(now[1]).toBeCloseTo(shoulder[1] + far, 3);
    expect(Math.hypot(now[0] - shoulder[0], now[2] - shoulder[2])).toBeLessThan(1e-3);
  });

  test('under a parent that is turned and scaled too', () => {
    const shot = puppet({ 'hips.ry': curve([0, 70]), 'hips.rx': curve([0, 20]) });
    const after = reached(shot, 0, 'hand_l', [10, 120, -30]);
    placeOf(after, 0, 'hand_l').forEach((value, axis) => expect(value).toBeCloseTo([10, 120, -30][axis]!, 6));
  });
});

describe('from a wish to what a layer must hold', () => {
  const lifted = {
    ...puppet({ 'hips.ry': curve([0, 70]), 'hips.rx': curve([0, 20]), 'arm_l.rz': curve([0, 15]) }),
    layers: [
      pass('half', {
        members: ['arm_l'],
        weight: curve([0, 0.5]),
        curves: [undefined, { rz: curve([0, 8]) }],
      }),
      pass('over', { members: ['arm_l'], kind: 'replace', curves: [undefined, { ry: curve([0, 30]) }] }),
    ],
  };

  test.each([null, 'half'])('an orientation in the world shows, keyed on %s', (layer) => {
    const i = rigOf(lifted).indexOf('arm_l');
    const turn = [0.2, -0.4, 0.1, Math.sqrt(1 - 0.21)] as [number, number, number, number];
    const free = { ...lifted, layers: lifted.layers.slice(0, 1) };
    const { keys } = solve(free, layer, 0, { kind: 'turn', node: 'arm_l', turn });
    const after = writePose(
      free,
      layer,
      new Map(Object.entries(shownValues(free, 0, { kind: 'turn', node: 'arm_l', turn }))),
      0,
    ).shot;
    const now = worldAt(after, 0).turns.subarray(i * 4, i * 4 + 4);
    const dot = turn.reduce((sum, part, k) => sum + part * now[k]!, 0);
    expect(Math.abs(dot)).toBeCloseTo(1, 9);
    expect(keys.size).toBe(3);
  });

  test('on a pass at half weight twice the way is held', () => {
    const { keys } = solve(lifted, 'half', 0, { kind: 'values', values: { 'arm_l.rz': 25 } });
    expect([...keys.keys()]).toEqual(['arm_l.rz']);
    expect(keys.get('arm_l.rz')!.value).toBeCloseTo(20, 9);
    expect(keys.get('arm_l.rz')!.frame).toBe(0);
  });

  test('what a layer above covers, what is locked and what there is not is said, not keyed', () => {
    const locked = { ...lifted, locked: ['hips.ty'] };
    const values = { 'arm_l.ry': 5, 'hips.ty': 3, 'arm_l.rz': valuesAt(lifted, 0)[0]!, 'nobody.rx': 1 };
    const { keys, hidden, locked: kept, unknown } = solve(locked, null, 0, { kind: 'values', values });
    expect([[...keys.keys()], hidden, kept, unknown]).toEqual([
      ['arm_l.rz'],
      ['arm_l.ry'],
      ['hips.ty'],
      ['nobody.rx'],
    ]);
  });
});
