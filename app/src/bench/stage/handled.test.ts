import { describe, expect, test } from '@jest/globals';
import { Quaternion, Vector3 } from 'three';
import { DEMO_SHOTS, placeIn, runEdit, worldAt } from '@kneader/core';
import type { Shot } from '@kneader/core';
import { choose } from '../../../../core/src/testing/shot-literals.ts';
import { canDo, doingOf, ledNodes, ledValues, standOf } from './handled.ts';

const shot = DEMO_SHOTS.find(({ id }) => id === 'first-tray')!.make();
const FRAME = 24;
const nodesOf = (...ids: string[]) => ledNodes(shot.nodes, ids);
const placeOf = (of: Shot, id: string) =>
  new Vector3(
    ...placeIn(
      worldAt(of, FRAME),
      of.nodes.findIndex((node) => node.id === id),
    ),
  );
/** The shot after a hand took the handle from where it stands. */
function taken(
  ids: string[],
  does: 'move' | 'turn',
  to: (place: Vector3, turn: Quaternion) => void,
  about: 'middle' | 'each' = 'middle',
) {
  const nodes = nodesOf(...ids);
  const from = standOf(shot, FRAME, nodes);
  const now = { place: from.place.clone(), turn: from.turn.clone() };
  to(now.place, now.turn);
  const values = ledValues(shot, FRAME, nodes, from, now, does, about);
  return runEdit('poses.paste', shot, choose({ nodes: ids }), { pose: { name: '', values }, frame: FRAME })
    .shot;
}

test('what hangs on something else that is selected comes along, and is not led itself', () => {
  expect(nodesOf('hips', 'chest', 'head').map(({ id }) => id)).toEqual(['hips']);
  expect(nodesOf('hand_goal_l', 'hand_goal_r')).toHaveLength(2);
});

test('a joint that hangs on a joint is turned, all else is moved, and what is wished goes where it can', () => {
  const doing = (id: string, wished: 'move' | 'turn' | null = null) =>
    doingOf(nodesOf(id), wished, shot.nodes);
  expect([doing('head'), doing('hips'), doing('hand_goal_l')]).toEqual(['turn', 'move', 'move']);
  expect([doing('head', 'move'), doing('hips', 'turn'), doing('elbow_pole_l', 'turn')]).toEqual([
    ...['move', 'turn', 'move'],
  ]);
  expect(canDo([])).toEqual({ move: false, turn: false });
});

describe('several controls', () => {
  const GOALS = ['hand_goal_l', 'hand_goal_r'];

  test('go by the same way when they are moved', () => {
    const after = taken(GOALS, 'move', (place) => place.add(new Vector3(3, -2, 5)));
    for (const id of GOALS)
      expect(placeOf(after, id).distanceTo(placeOf(shot, id).add(new Vector3(3, -2, 5)))).toBeLessThan(1e-6);
  });

  const quarter = new Quaternion().setFromAxisAngle(new Vector3(0, 1, 0), Math.PI / 2);
  test('turn about their middle: each as far from it as it was, on its other side', () => {
    const after = taken(GOALS, 'turn', (_, turn) => turn.premultiply(quarter));
    const middle = standOf(shot, FRAME, nodesOf(...GOALS)).place;
    for (const id of GOALS) {
      const wanted = placeOf(shot, id).sub(middle).applyQuaternion(quarter).add(middle);
      expect(placeOf(after, id).distanceTo(wanted)).toBeLessThan(1e-6);
    }
  });

  test('or each about itself: none leaves its place', () => {
    const after = taken(GOALS, 'turn', (_, turn) => turn.premultiply(quarter), 'each');
    const turned = (of: Shot) => standOf(of, FRAME, nodesOf('hand_goal_l')).turn;
    for (const id of GOALS) expect(placeOf(after, id).distanceTo(placeOf(shot, id))).toBeLessThan(1e-6);
    expect(turned(after).angleTo(quarter.clone().multiply(turned(shot)))).toBeLessThan(1e-6);
  });
});
