import { describe, expect, test } from '@jest/globals';
import BezierEasing from 'bezier-easing';
import { Euler, MathUtils, Quaternion as ThreeQuaternion } from 'three';
import { seededRandom } from '../base/random.ts';
import { bezierParameter } from './bezier-time.ts';
import { EULER_ORDERS, eulerFromQuat, quatFromEuler } from './euler.ts';
import type { Quaternion } from './euler.ts';
import { hermite } from './hermite.ts';
import { angleBetween, mirrorX, rotate, rotationBetween, slerp } from './quaternion.ts';
import { solveTridiagonal } from './tridiagonal.ts';

const bezier = (a: number, b: number, u: number) =>
  3 * (1 - u) ** 2 * u * a + 3 * (1 - u) * u * u * b + u ** 3;

describe('Hermite basis', () => {
  // Any text on cubic Hermite interpolation.
  test.each([
    [[1, 0, 0, 0], 0.84375],
    [[0, 1, 0, 0], 0.140625],
    [[0, 0, 1, 0], 0.15625],
    [[0, 0, 0, 1], -0.046875],
  ])('%j at u = 0.25', ([v0, d0, v1, d1], expected) => {
    expect(hermite(v0!, d0!, v1!, d1!, 0.25)).toBeCloseTo(expected, 15);
  });
});

describe('the time of a weighted segment', () => {
  test('CSS ease at one half (CSS Easing Functions)', () => {
    const u = bezierParameter(0.25, 0.25, 0.5, -1);
    expect(bezier(0.1, 1, u)).toBeCloseTo(0.802403387584857, 12);
  });

  test('is what bezier-easing finds, and solves time to 1e-12', () => {
    const random = seededRandom(7);
    for (let i = 0; i < 500; i += 1) {
      const [p, q, y1, y2, x] = [
        random.next(),
        random.next(),
        random.next(),
        random.next(),
        random.next(),
      ] as const;
      const u = bezierParameter(p, q, x, random.next());
      expect(Math.abs(bezier(p, q, u) - x)).toBeLessThan(1e-12);
      // bezier-easing reads float32 tables: it is a second opinion to about 1e-5.
      expect(Math.abs(BezierEasing(p, y1, q, y2)(x) - bezier(y1, y2, u))).toBeLessThan(2e-4);
    }
  });

  test('handles of the whole length meet in one vertical point and are still solved', () => {
    expect(bezier(1, 0, bezierParameter(1, 0, 0.5, -1))).toBeCloseTo(0.5, 12);
  });
});

describe('Euler angles', () => {
  test('ZXY by 10, 20, 30 degrees (Shoemake, Graphics Gems IV; value recomputed)', () => {
    const q: Quaternion = [0, 0, 0, 1];
    quatFromEuler(q, 0, 10, 20, 30, 'zxy');
    expect(q.map((part) => Number(part.toFixed(10)))).toEqual([
      0.0381345765, 0.1893078574, 0.2685358228, 0.9437143641,
    ]);
  });

  test.each(EULER_ORDERS)('%s agrees with three in both directions', (order) => {
    const random = seededRandom(11);
    for (let i = 0; i < 200; i += 1) {
      const angles = [0, 1, 2].map(() => random.next() * 720 - 360) as [number, number, number];
      const q: Quaternion = [0, 0, 0, 1];
      quatFromEuler(q, 0, ...angles, order);
      const radians = angles.map(MathUtils.degToRad) as [number, number, number];
      const other = new ThreeQuaternion().setFromEuler(new Euler(...radians, order.toUpperCase() as 'XYZ'));
      expect(angleBetween(q, other.toArray())).toBeLessThan(1e-6);
      const back: Quaternion = [0, 0, 0, 1];
      quatFromEuler(back, 0, ...eulerFromQuat(q, order), order);
      expect(angleBetween(q, back)).toBeLessThan(1e-5);
      // Near the angles that made it, those very angles come back.
      eulerFromQuat(q, order, angles).forEach((angle, axis) => expect(angle).toBeCloseTo(angles[axis]!, 4));
    }
  });

  test.each(EULER_ORDERS)('%s at a middle angle of 90 degrees keeps the orientation', (order) => {
    const angles: [number, number, number] = [20, 20, 20];
    angles['xyz'.indexOf(order[1]!)] = 90;
    const q: Quaternion = [0, 0, 0, 1];
    quatFromEuler(q, 0, ...angles, order);
    const back: Quaternion = [0, 0, 0, 1];
    quatFromEuler(back, 0, ...eulerFromQuat(q, order, [1, 2, 3]), order);
    expect(angleBetween(q, back)).toBeLessThan(1e-4);
  });
});

describe('quaternions', () => {
  test('slerp a quarter of the way to 90 degrees about z (Shoemake 1985)', () => {
    const half = Math.SQRT1_2;
    const [x, y, z, w] = slerp([0, 0, 0, 1], [0, 0, half, half], 0.25);
    expect([x, y]).toEqual([0, 0]);
    expect(z).toBeCloseTo(0.195090322, 9);
    expect(w).toBeCloseTo(0.98078528, 9);
  });

  test('mirroring turns as a mirror does (reflection of a rotation)', () => {
    const q = rotationBetween([1, 0, 0], [0, 0.6, 0.8]);
    const [x, y, z] = rotate(q, 1, 2, 3);
    const seen = rotate(mirrorX(q), -1, 2, 3);
    expect(seen[0]).toBeCloseTo(-x, 12);
    expect(seen[1]).toBeCloseTo(y, 12);
    expect(seen[2]).toBeCloseTo(z, 12);
  });

  test('the shortest rotation, opposite vectors too', () => {
    const random = seededRandom(3);
    const unit = () => {
      const v = [random.gaussian(), random.gaussian(), random.gaussian()];
      const length = Math.hypot(...v);
      return v.map((part) => part / length);
    };
    for (let i = 0; i < 100; i += 1) {
      const [a, b] = [unit(), i < 10 ? null : unit()];
      const target = b ?? a.map((part) => -part);
      rotate(rotationBetween(a, target), a[0]!, a[1]!, a[2]!).forEach((part, axis) =>
        expect(part).toBeCloseTo(target[axis]!, 9),
      );
    }
  });
});

test('a tridiagonal system gives back what it was made from', () => {
  const x = [1, -2, 3, 0.5, 4];
  const [below, diagonal, above] = [
    [0, 1, -1, 2, 0.5],
    [4, 5, 6, 5, 4],
    [1, 0.5, 2, -1, 0],
  ];
  const right = x.map(
    (_, i) => below[i]! * (x[i - 1] ?? 0) + diagonal[i]! * x[i]! + above[i]! * (x[i + 1] ?? 0),
  );
  const solved = solveTridiagonal(
    Float64Array.from(below),
    Float64Array.from(diagonal),
    Float64Array.from(above),
    Float64Array.from(right),
  );
  solved.forEach((value, i) => expect(value).toBeCloseTo(x[i]!, 12));
});
