import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { foldsAt } from '../../curve/warp.ts';
import { warpToMarks } from './warp-to-marks.ts';

const RANGE = { start: 0, end: 60 };
const frames = (most: number) =>
  fc
    .uniqueArray(fc.integer({ min: 0, max: 60 }), { maxLength: most })
    .map((all) => all.sort((a, b) => a - b));

/** All ways to give each of the few one of the many, in order. */
function* ways(few: readonly number[], many: readonly number[]): Generator<number> {
  if (few.length === 0) {
    yield 0;
    return;
  }
  for (let j = 0; j <= many.length - few.length; j += 1)
    for (const rest of ways(few.slice(1), many.slice(j + 1))) yield rest + Math.abs(few[0]! - many[j]!);
}

describe('the points of a warp to marks', () => {
  test('bring a pose to each mark, and the ends stay', () => {
    expect(warpToMarks([0, 8, 20, 33, 60], [11, 30.4], RANGE)).toEqual([
      [0, 0],
      [8, 11],
      [33, 30],
      [60, 60],
    ]);
    expect(warpToMarks([0, 20, 60], [58, 3, 21, 40], RANGE)).toEqual([
      [0, 3],
      [20, 21],
      [60, 58],
    ]);
    expect(warpToMarks([], [12], RANGE)).toEqual([
      [0, 0],
      [60, 60],
    ]);
    expect(warpToMarks([30], [-5, 99], RANGE)).toEqual([
      [0, 0],
      [60, 60],
    ]);
  });

  test('rise, fold nowhere, and move the poses least', () => {
    fc.assert(
      fc.property(frames(8), frames(8), (columns, marks) => {
        const points = warpToMarks(columns, marks, RANGE);
        points.slice(1).forEach(([old, now], i) => {
          expect(old).toBeGreaterThan(points[i]![0]);
          expect(now).toBeGreaterThan(points[i]![1]);
        });
        expect(foldsAt(points)).toBe(null);
        const [few, many] = columns.length < marks.length ? [columns, marks] : [marks, columns];
        const moved = points.reduce((sum, [old, now]) => sum + Math.abs(old - now), 0);
        expect(moved).toBe(Math.min(...ways(few, many)));
      }),
      { numRuns: 300 },
    );
  });
});
