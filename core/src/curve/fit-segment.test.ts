/** The fit of one segment against the normal equations solved another way, and its distances against looking at many places. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { hermiteAt } from '../testing/hermite-at.ts';
import { fitSlopes, segmentError, strayBetween } from './fit-segment.ts';
import type { Points } from './fit-segment.ts';

const points = (fewest: number, even: boolean) =>
  fc
    .tuple(
      fc.array(fc.double({ min: -50, max: 50, noNaN: true }), { minLength: fewest, maxLength: 14 }),
      fc.array(fc.double({ min: 0.3, max: 4, noNaN: true }), { minLength: 14, maxLength: 14 }),
      fc.double({ min: -100, max: 100, noNaN: true }),
    )
    .map(([values, gaps, start]): Points => {
      const times = Float64Array.from(values, (_, i) =>
        even ? Math.round(start) + i : start + gaps.slice(0, i).reduce((sum, gap) => sum + gap, 0),
      );
      return { times, values: Float64Array.from(values), even };
    });

const squares = (of: Points, from: number, to: number, out: number, into: number, weights?: Float64Array) => {
  let sum = 0;
  for (let i = from + 1; i < to; i += 1)
    sum += (weights?.[i] ?? 1) * (of.values[i]! - hermiteAt(of, from, to, out, into, of.times[i]!)) ** 2;
  return sum;
};

describe('one segment', () => {
  test.each([true, false])(
    'slopes of least squares: no other slopes are nearer, evenly spaced: %s',
    (even) => {
      fc.assert(
        fc.property(points(5, even), fc.boolean(), (of, weighted) => {
          const [from, to] = [1, of.times.length - 1];
          const weights = weighted ? Float64Array.from(of.times, (_, i) => 1 + (i % 3)) : undefined;
          const slopes = new Float64Array(2);
          fitSlopes(of, from, to, slopes, weights ?? null);
          const [out, into] = slopes as unknown as [number, number];
          const least = squares(of, from, to, out, into, weights);
          for (const [dx, dy] of [
            [1e-3, 0],
            [-1e-3, 0],
            [0, 1e-3],
            [0, -1e-3],
            [1e-3, 1e-3],
            [1e-3, -1e-3],
          ] as const)
            expect(squares(of, from, to, out + dx, into + dy, weights)).toBeGreaterThanOrEqual(least - 1e-7);
        }),
        { numRuns: 60 },
      );
    },
  );

  test('points of a cubic give its slopes back, whatever the spacing', () => {
    fc.assert(
      fc.property(
        points(4, false),
        fc.double({ min: -9, max: 9, noNaN: true }),
        fc.double({ min: -9, max: 9, noNaN: true }),
        (of, out, into) => {
          const last = of.times.length - 1;
          const values = of.times.map((time) => hermiteAt(of, 0, last, out, into, time));
          const slopes = new Float64Array(2);
          fitSlopes({ times: of.times, values }, 0, last, slopes);
          expect(slopes[0]).toBeCloseTo(out, 5);
          expect(slopes[1]).toBeCloseTo(into, 5);
        },
      ),
      { numRuns: 60 },
    );
  });

  test('with nothing between, both slopes are the chord’s; with one point, they meet it', () => {
    for (const even of [true, false]) {
      const of = { times: Float64Array.of(3, 4, 5), values: Float64Array.of(1, 8, 5), even };
      const slopes = new Float64Array(2);
      fitSlopes(of, 0, 1, slopes);
      expect([...slopes]).toEqual([7, 7]);
      fitSlopes(of, 0, 2, slopes);
      expect(hermiteAt(of, 0, 2, slopes[0]!, slopes[1]!, 4)).toBeCloseTo(8, 9);
    }
  });

  test('its error is the greatest distance from the points, and it stops at more than enough', () => {
    fc.assert(
      fc.property(points(4, false), fc.nat(8), (of, slope) => {
        const last = of.times.length - 1;
        const distances = Array.from(of.times).map((time, i) =>
          Math.abs(of.values[i]! - hermiteAt(of, 0, last, slope, -slope, time)),
        );
        expect(segmentError(of, 0, last, slope, -slope)).toBeCloseTo(Math.max(...distances), 8);
        const first = distances.findIndex((distance, i) => i > 0 && i < last && distance > 1);
        if (first > 0) expect(segmentError(of, 0, last, slope, -slope, 1)).toBeCloseTo(distances[first]!, 8);
      }),
      { numRuns: 60 },
    );
  });

  test('where it strays from the lines between points is where eight hundred places between each two say', () => {
    fc.assert(
      fc.property(points(3, false), fc.integer({ min: -30, max: 30 }), (of, slope) => {
        const last = of.times.length - 1;
        /** The distance from the line between the points around a time. */
        const away = (row: number, part: number) => {
          const time = of.times[row]! + part * (of.times[row + 1]! - of.times[row]!);
          const line = of.values[row]! + part * (of.values[row + 1]! - of.values[row]!);
          return Math.abs(line - hermiteAt(of, 0, last, slope, slope / 2, time));
        };
        let greatest = 0;
        for (let row = 0; row < last; row += 1)
          for (let i = 0; i <= 800; i += 1) greatest = Math.max(greatest, away(row, i / 800));
        const third = (of.times[last]! - of.times[0]!) / 3;
        const segment = {
          slopeOut: slope,
          slopeIn: slope / 2,
          lengthOut: third,
          lengthIn: third,
          weighted: false,
        };
        expect(strayBetween(of, 0, last, segment, greatest * 1.0001 + 1e-6)).toBeNull();
        const frame = strayBetween(of, 0, last, segment, greatest * 0.999 - 1e-6)!;
        const row = of.times.findLastIndex((time, i) => time <= frame && i < last);
        const part = (frame - of.times[row]!) / (of.times[row + 1]! - of.times[row]!);
        expect(away(row, part)).toBeGreaterThanOrEqual(greatest - 1e-6);
      }),
      { numRuns: 80 },
    );
  });
});
