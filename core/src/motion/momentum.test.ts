/** Against the textbook: a thin rod about its middle, m l² ω / 12 (Halliday & Resnick, Fundamentals of Physics, table of rotational inertias; from memory); a point on a circle, m r² ω. */
import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Triple } from '../math/euler.ts';
import { angularMomentum, greatestChange } from './momentum.ts';

const RATE = 1000;
const frames = Array.from({ length: 40 }, (_, f) => f / RATE);
/** A rod of a length that turns at ω about the upright and flies as a stone does. */
const spinning = (length: number, omega: number, share = 1, centre = 0.5) => {
  const end = (sign: number) =>
    frames.map((t): Triple => {
      const reach = length * (sign < 0 ? -centre : 1 - centre);
      return [3 * t + reach * Math.cos(omega * t), 40 * t - 490 * t * t, 7 - reach * Math.sin(omega * t)];
    });
  return { share, centre, from: end(-1), to: end(1) };
};

test('a thin rod that spins and flies: m l² ω / 12 about the upright, and nothing else', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 1, max: 80, noNaN: true }),
      fc.double({ min: -9, max: 9, noNaN: true }),
      (length, omega) => {
        for (const [x, y, z] of angularMomentum([spinning(length, omega)], RATE)) {
          expect(y).toBeCloseTo((length * length * omega) / 12, 1);
          expect(Math.hypot(x, z)).toBeLessThan(1e-6 * (1 + length * length));
        }
      },
    ),
    { numRuns: 30 },
  );
});

test('two bobs on a circle about each other: m r² ω; what stands in the middle adds nothing', () => {
  const bob = (sign: number) =>
    frames.map((t): Triple => [5 * sign * Math.cos(4 * t), 0, -5 * sign * Math.sin(4 * t)]);
  const [one, other] = [bob(1), bob(-1)];
  const still = frames.map((): Triple => [0, 0, 0]);
  const point = (share: number, at: Triple[]) => ({ share, centre: 0, from: at, to: at });
  for (const [, y] of angularMomentum([point(2, one), point(2, other), point(4, still)], RATE))
    expect(y).toBeCloseTo(0.5 * 25 * 4, 2);
});

test('where it changes most: at the frame on which the spin changes, by how much of its greatest', () => {
  const momentum = [4, 4, 4, 1, 1].map((y): Triple => [0, y, 0]);
  expect(greatestChange(momentum)).toEqual({ place: 3, part: 0.75 });
  expect(greatestChange(momentum.map(() => [0, 0, 0] as Triple))).toBeNull();
  expect(greatestChange(angularMomentum([spinning(20, 3)], RATE))!.part).toBeLessThan(1e-3);
});
