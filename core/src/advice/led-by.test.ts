import { expect, test } from '@jest/globals';
import { DEMO_SHOTS } from '../demo/bakery.ts';
import { curve, puppet } from '../testing/shot-literals.ts';
import { ledBy } from './led-by.ts';
import { withCurves } from '../document/shot.ts';

const walk = DEMO_SHOTS[1]!.make();

test('legs whose reach is on are led by the control that carries their goal', () => {
  const led = ledBy(walk, 4);
  expect([led.get('thigh_l'), led.get('shin_l'), led.get('foot_r')]).toEqual([
    'foot_goal_l',
    'foot_goal_l',
    'foot_goal_r',
  ]);
  expect(led.has('hips')).toBe(false);
  expect(led.has('foot_goal_l')).toBe(false);
});

test('who is led changes with the switch, frame by frame', () => {
  const switched = withCurves(walk, null, new Map([['foot_goal_l.ik', curve([0, 0, 8, 1], 'linear')]]));
  expect(ledBy(switched, 3).has('shin_l')).toBe(false);
  expect(ledBy(switched, 4).has('shin_l')).toBe(true);
});

test('without limbs nobody is led', () => {
  expect(ledBy(puppet(), 0).size).toBe(0);
});
