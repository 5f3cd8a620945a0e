/** Root: a turn is one thing. What mixes rotations goes the short way, whatever their angles are called, and no turn is lost that was meant. */
import { describe, expect, test } from '@jest/globals';
import { seededRandom } from '../base/random.ts';
import { EULER_ORDERS } from '../math/euler.ts';
import type { Quaternion, Triple } from '../math/euler.ts';
import { angleBetween, multiply, slerp } from '../math/quaternion.ts';
import { worldAt } from '../evaluation/evaluation.ts';
import { rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { curve, pass, puppet } from '../testing/shot-literals.ts';
import { partOfTurn, turnedToward, turnOf } from './turns.ts';

const turnAt = (shot: Shot, frame: number): Quaternion =>
  [...worldAt(shot, frame).turns.subarray(0, 4)] as unknown as Quaternion;
const covered = (below: number, own: number, more: object = {}): Shot => ({
  ...puppet({ 'hips.rz': curve([0, below]) }),
  layers: [
    pass('r', {
      kind: 'replace',
      members: ['hips'],
      settings: { rotations: 'orientations' },
      weight: curve([0, 0, 24, 1], 'linear'),
      curves: [{ rz: curve([0, own]) }],
      ...more,
    }),
  ],
});

describe('a replace pass that comes in', () => {
  test('from 170° to −170° goes 20°, evenly, and not 340°', () => {
    const shot = covered(170, -170);
    for (let frame = 1; frame <= 24; frame += 1) {
      expect(angleBetween(turnAt(shot, frame), turnAt(shot, frame - 1))).toBeLessThan(1.6);
    }
    expect(rigOf(shot).channels).toBeDefined();
  });

  test('angle by angle where that is wished, and as files of before have it', () => {
    const shot = covered(170, -170, { settings: { rotations: 'channels' } });
    expect(angleBetween(turnAt(shot, 11), turnAt(shot, 13))).toBeGreaterThan(20);
  });

  test('two spellings of one orientation are one: nothing moves', () => {
    const { next: random } = seededRandom(3);
    for (const order of EULER_ORDERS)
      for (let i = 0; i < 40; i += 1) {
        const angles = [0, 1, 2].map(() => (random() - 0.5) * 360) as Triple;
        // The other solution of the same Euler angles, and whole turns.
        const middle = order[1] === 'x' ? 0 : order[1] === 'y' ? 1 : 2;
        const other = angles.map(
          (angle, axis) => (axis === middle ? 180 - angle : angle + 180) + 360,
        ) as Triple;
        for (const weight of [0.25, 0.5, 0.9]) {
          const mixed = turnedToward(angles, other, weight, order);
          expect(angleBetween(turnOf(mixed, order), turnOf(angles, order))).toBeLessThan(1e-5);
        }
      }
  });

  test('slerp as it is published (Shoemake 1985), and angles that do not jump', () => {
    const { next: random } = seededRandom(8);
    for (let i = 0; i < 60; i += 1) {
      const [below, own] = [0, 1].map(() => [0, 1, 2].map(() => (random() - 0.5) * 300) as Triple) as [
        Triple,
        Triple,
      ];
      let last = turnedToward(below, own, 0, 'zxy');
      expect(angleBetween(turnOf(last, 'zxy'), turnOf(below, 'zxy'))).toBeLessThan(1e-9);
      for (let weight = 0.02; weight < 0.99; weight += 0.02) {
        const now = turnedToward(below, own, weight, 'zxy');
        const wanted = slerp(turnOf(below, 'zxy'), turnOf(own, 'zxy'), weight);
        expect(angleBetween(turnOf(now, 'zxy'), wanted)).toBeLessThan(1e-5);
        last = now;
      }
    }
  });
});

describe('an offset beyond half a turn', () => {
  test('about one axis it is continuous, whatever its weight: 175, 185, 365', () => {
    for (const weight of [0.5, 0.7, 1]) {
      let last = partOfTurn([0, 0, 150], 'xyz', weight);
      for (let angle = 155; angle <= 800; angle += 5) {
        const now = partOfTurn([0, 0, angle], 'xyz', weight);
        expect(angleBetween(last, now)).toBeCloseTo(5 * weight, 6);
        last = now;
      }
    }
  });

  test('half of it, done twice, is all of it: about one axis, two and three', () => {
    const { next } = seededRandom(8);
    for (let i = 0; i < 300; i += 1) {
      const angles = [0, 1, 2].map((axis) => (axis <= i % 3 ? (next() - 0.5) * 700 : 0)) as Triple;
      const order = EULER_ORDERS[i % 6]!;
      const half = partOfTurn(angles, order, 0.5);
      expect([i, angleBetween(multiply(half, half), turnOf(angles, order)) < 1e-5]).toEqual([i, true]);
    }
  });

  test('about several it passes half a turn without a jump', () => {
    let last = partOfTurn([20, 10, 150], 'zyx', 0.5);
    for (let angle = 152; angle <= 230; angle += 2) {
      const now = partOfTurn([20, 10, angle], 'zyx', 0.5);
      expect(angleBetween(last, now)).toBeLessThan(2);
      last = now;
    }
  });
});
