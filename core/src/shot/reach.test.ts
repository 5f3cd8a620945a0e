import { describe, expect, test } from '@jest/globals';
import { DEMO_SHOTS } from '../demo/bakery.ts';
import { writePose } from '../edits/poses/write-pose.ts';
import { curve, puppet } from '../testing/shot-literals.ts';
import { placeIn, worldAt } from './evaluation.ts';
import { reach } from './reach.ts';
import { rigOf } from './shot.ts';
import type { Shot } from './shot.ts';

const placeOf = (shot: Shot, frame: number, node: string) =>
  placeIn(worldAt(shot, frame), rigOf(shot).indexOf(node));
const reached = (shot: Shot, frame: number, node: string, place: [number, number, number]) =>
  writePose(shot, null, new Map(Object.entries(reach(shot, frame, node, place))), frame).shot;

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
