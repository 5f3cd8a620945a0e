/** Time against time: properties of a monotone interpolation, on warps from seeds. */
import { describe, expect, test } from '@jest/globals';
import { seededRandom } from '../base/random.ts';
import { foldsAt, warpOf } from './warp.ts';
import type { WarpPoint } from './warp.ts';

function seeded(seed: number): WarpPoint[] {
  const random = seededRandom(seed);
  const points: [number, number][] = [[0, 0]];
  for (let i = 0; i < 5; i += 1) {
    const [from, to] = points[points.length - 1]!;
    points.push([from + random.whole(3, 15), to + random.whole(1, 25)]);
  }
  return points;
}

describe('a warp', () => {
  test.each(Array.from({ length: 40 }, (_, i) => i + 1))(
    'goes through its points and never runs backward, seed %i',
    (seed) => {
      const points = seeded(seed);
      const timeOf = warpOf(points);
      for (const [from, to] of points) expect(timeOf(from)).toBeCloseTo(to, 9);
      const [first, last] = [points[0]![0], points[points.length - 1]![0]];
      let before = -Infinity;
      for (let frame = first - 5; frame <= last + 5; frame += 0.25) {
        const now = timeOf(frame);
        expect(now).toBeGreaterThanOrEqual(before - 1e-9);
        before = now;
      }
      // Monotone interpolation stays between the points on either side (Fritsch & Carlson 1980).
      for (let k = 1; k < points.length; k += 1)
        for (let share = 0; share <= 1; share += 0.1) {
          const frame = points[k - 1]![0] + share * (points[k]![0] - points[k - 1]![0]);
          expect(timeOf(frame)).toBeGreaterThanOrEqual(points[k - 1]![1] - 1e-9);
          expect(timeOf(frame)).toBeLessThanOrEqual(points[k]![1] + 1e-9);
        }
    },
  );

  test('outside its points time goes on at its own pace', () => {
    const timeOf = warpOf([
      [0, 10],
      [10, 40],
    ]);
    expect([timeOf(-5), timeOf(13)]).toEqual([5, 43]);
  });

  test('a fold is found where it is', () => {
    expect(
      foldsAt([
        [0, 0],
        [5, 9],
        [8, 7],
        [10, 20],
      ]),
    ).toBe(8);
    expect(
      foldsAt([
        [0, 0],
        [5, 5],
        [8, 5],
      ]),
    ).toBe(8);
    expect(foldsAt(seeded(3))).toBeNull();
  });
});
