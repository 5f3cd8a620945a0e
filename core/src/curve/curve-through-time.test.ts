/** Curves carried along by maps of time: what is outside stays, what is inside goes where its time goes, of whatever kind they are. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { timeBent, timeMoved, timePutIn, timeReader, timeTakenOut, timeThrough } from '../base/time-map.ts';
import type { TimeMap } from '../base/time-map.ts';
import { anyCurve } from '../testing/arbitrary-curves.ts';
import { curve } from '../testing/shot-literals.ts';
import { curveThroughTime } from './curve-through-time.ts';
import { TANGENT } from './curve.ts';
import type { Curve } from './curve.ts';
import { evaluate } from './evaluate.ts';
import { rebuild } from './rebuild.ts';
import { retimeCurve } from './retime-keys.ts';
import { ratesOf, warpOf } from './warp.ts';

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const any = anyCurve({ weighted: true, fewest: 2 });
const sizeOf = ({ values }: Curve) => Math.max(...values) - Math.min(...values) + 1;

/** Every place strictly between keys, cuts kept off by a hair: what is seen from one side. */
function looks(from: number, to: number, keys: Curve): number[] {
  return Array.from({ length: 24 }, (_, i) => from + ((to - from) * (i + 0.5)) / 24).filter((time) =>
    keys.times.every((key) => Math.abs(key - time) > 1e-5),
  );
}

function expectSame(
  before: Curve,
  after: Curve,
  from: number,
  to: number,
  timeOf: (time: number) => number,
): void {
  for (const time of looks(from, to, before))
    expect(Math.abs(evaluate(after, timeOf(time)) - evaluate(before, time))).toBeLessThan(
      1e-8 * sizeOf(before),
    );
}

const place = (source: Curve, share: number) =>
  source.times[0]! + share * (source.times[source.times.length - 1]! - source.times[0]!);

describe('time put in', () => {
  test('the value at the frame holds, and nothing before or after bends', () => {
    fc.assert(
      fc.property(any, number(-0.2, 1.2), number(0.5, 9), (source, share, by) => {
        const frame = place(source, share);
        if (source.times.some((key) => key !== frame && Math.abs(key - frame) < 1e-4)) return;
        const { curve: after } = curveThroughTime(source, timePutIn(frame, by));
        expectSame(source, after, source.times[0]! - 5, frame, (time) => time);
        expectSame(source, after, frame, source.times[source.times.length - 1]! + 5, (time) => time + by);
        for (const part of [0.1, 0.5, 0.93])
          expect(evaluate(after, frame + part * by)).toBeCloseTo(evaluate(source, frame), 7);
      }),
      { numRuns: 200 },
    );
  });

  test('a line from 0 to 20 over 16 frames, held at 8 between its keys, holds 10', () => {
    const { curve: after } = curveThroughTime(curve([0, 0, 16, 20], 'linear'), timePutIn(8, 6));
    for (const frame of [8, 9, 11.3, 14]) expect(evaluate(after, frame)).toBeCloseTo(10, 12);
  });

  test('it drifts on by a part of the way from the key before; only then', () => {
    const { curve: after } = curveThroughTime(curve([0, 0, 8, 20, 16, 0], 'flat'), timePutIn(8, 4), {
      drift: 0.1,
    });
    expect([evaluate(after, 8), evaluate(after, 12), evaluate(after, 20)]).toEqual([20, 22, 0]);
  });

  test('a locked key keeps its lock, and the key that is put in has none', () => {
    const locked = rebuild(curve([0, 0, 8, 20, 16, 0]), null, (columns) => (columns.flags[1]! |= 2));
    expect([...curveThroughTime(locked, timePutIn(8, 4)).curve.flags].map((flag) => flag & 2)).toEqual([
      0, 2, 0, 0,
    ]);
  });
});

describe('a range at another place', () => {
  test.each([true, false])(
    'stretched by any factor it is f(t/k), outside nothing moves; later keys follow: %s',
    (follows) => {
      fc.assert(
        fc.property(any, number(0, 0.5), number(0.55, 1), number(0.15, 4), (source, a, b, factor) => {
          const range = { start: place(source, a), end: place(source, b) };
          const close = (edge: number) =>
            source.times.some((key) => key !== edge && Math.abs(key - edge) < 1e-4);
          if (close(range.start) || close(range.end) || (!follows && factor > 1)) return;
          const end = range.start + factor * (range.end - range.start);
          const { curve: after } = curveThroughTime(
            source,
            timeMoved(range, { start: range.start, end }, follows),
          );
          expectSame(source, after, source.times[0]! - 5, range.start, (time) => time);
          expectSame(
            source,
            after,
            range.start,
            range.end,
            (time) => range.start + factor * (time - range.start),
          );
          const shift = follows ? end - range.end : 0;
          expectSame(
            source,
            after,
            range.end,
            source.times[source.times.length - 1]! + 5,
            (time) => time + shift,
          );
        }),
        { numRuns: 200 },
      );
    },
  );

  test('about its end it holds from where it was up to where it begins', () => {
    const source = curve([0, 0, 4, 8, 8, 2, 12, 6]);
    const { curve: after } = curveThroughTime(
      source,
      timeMoved({ start: 4, end: 8 }, { start: 6, end: 8 }, false),
    );
    expect([evaluate(after, 4), evaluate(after, 5), evaluate(after, 6)]).toEqual([8, 8, 8]);
    expectSame(source, after, 4, 8, (time) => 6 + (time - 4) / 2);
    expectSame(source, after, 8, 15, (time) => time);
  });
});

describe('gaps of other lengths', () => {
  test('each gap keeps its shape, whatever the kinds', () => {
    fc.assert(
      fc.property(
        any,
        fc.array(number(0.5, 8), { minLength: 2, maxLength: 5 }),
        number(0, 0.4),
        (source, gaps, share) => {
          const start = place(source, share);
          const old = [start, ...gaps.map((_, k) => start + 2.5 * (k + 1))];
          if (old.some((cut) => source.times.some((key) => key !== cut && Math.abs(key - cut) < 1e-4)))
            return;
          const now = gaps.reduce((all, gap) => [...all, all[all.length - 1]! + gap], [start]);
          const { curve: after } = curveThroughTime(source, timeThrough(old, now));
          old.slice(1).forEach((to, k) => {
            const rate = (now[k + 1]! - now[k]!) / (to - old[k]!);
            expectSame(source, after, old[k]!, to, (time) => now[k]! + rate * (time - old[k]!));
          });
        },
      ),
      { numRuns: 120 },
    );
  });

  test('by their rules smooth tangents look at the new neighbours, and stay joined', () => {
    const source = curve([0, 0, 4, 10, 8, 14, 12, 0]);
    const map = timeThrough([0, 4, 8, 12], [0, 8, 10, 14]);
    const [kept, ruled] = [
      curveThroughTime(source, map).curve,
      curveThroughTime(source, map, { rules: true }).curve,
    ];
    expect([...ruled.tangentsIn]).toEqual([...source.tangentsIn]);
    expect(ruled.slopesIn[1]).toBe(ruled.slopesOut[1]);
    expect(kept.slopesIn[1]).toBeCloseTo(source.slopesIn[1]! / 2, 12);
    expect(kept.slopesOut[1]).toBeCloseTo(source.slopesOut[1]! * 2, 12);
  });

  test('keys on whole frames land on whole ones, others where they come; those that meet are counted', () => {
    const source = curve([0, 0, 1, 3, 2, 5, 2.5, 6, 4, 9]);
    const { curve: after, merged } = curveThroughTime(source, timeThrough([0, 4], [0, 2]), {
      wholeFrames: true,
    });
    expect([[...after.times], merged]).toEqual([[0, 1, 1.25, 2], 1]);
  });
});

describe('time taken out', () => {
  test('what was before stays up to a frame ahead of the cut, what was after follows exactly', () => {
    fc.assert(
      fc.property(any, number(0.05, 0.6), number(0.5, 6), (source, share, length) => {
        const start = place(source, share);
        const end = start + length;
        const close = (edge: number) =>
          source.times.some((key) => key !== edge && Math.abs(key - edge) < 1e-4);
        if (close(start) || close(end) || close(start - 1)) return;
        const { curve: after } = curveThroughTime(source, timeTakenOut({ start, end }));
        const meets = Math.abs(evaluate(source, start) - evaluate(source, end)) < 1e-9;
        expectSame(source, after, source.times[0]! - 5, meets ? start : start - 1, (time) => time);
        expectSame(
          source,
          after,
          end,
          Math.max(end, source.times[source.times.length - 1]!) + 5,
          (time) => time - length,
        );
      }),
      { numRuns: 200 },
    );
  });

  test('a hold is shortened without a key more; time out of a segment closes up', () => {
    const held = curve([0, 0, 6, 10, 18, 10, 24, 0], 'flat');
    const { curve: after, gone } = curveThroughTime(held, timeTakenOut({ start: 8, end: 14 }));
    expect([[...after.times], gone]).toEqual([[0, 6, 12, 18], 0]);
    const line = curveThroughTime(curve([0, 0, 20, 20], 'linear'), timeTakenOut({ start: 5, end: 15 })).curve;
    [4, 15, 20].forEach((value, i) => expect(evaluate(line, [4, 5, 10][i]!)).toBeCloseTo(value, 12));
  });
});

describe('bent time', () => {
  test('keys lie where the curve of time says, with slopes by its rate', () => {
    fc.assert(
      fc.property(anyCurve({ flowing: true, fewest: 3 }), number(0.3, 4), number(0.3, 4), (source, a, b) => {
        const [start, end] = [source.times[0]! - 1, source.times[source.times.length - 1]! + 1];
        const points = [
          [start, start],
          [(start + end) / 2, start + a * (end - start)],
          [end, start + (a + b) * (end - start)],
        ] as const;
        const timeOf = warpOf(points);
        const { curve: after } = curveThroughTime(source, timeBent(points, ratesOf(points)));
        source.times.forEach((time, row) => {
          const now = [...after.times].findIndex((at) => Math.abs(at - timeOf(time)) < 1e-6);
          expect(after.values[now]).toBe(source.values[row]);
          // Linear tangents keep pointing at their neighbours, wherever those are.
          if (source.tangentsOut[row] === TANGENT.linear) return;
          const rate = (timeOf(time + 1e-5) - timeOf(time - 1e-5)) / 2e-5;
          expect(after.slopesOut[now]! * rate).toBeCloseTo(source.slopesOut[row]!, 2);
        });
      }),
      { numRuns: 80 },
    );
  });
});

test('a map says where frames, and both sides of a cut, come to lie', () => {
  const places = (map: TimeMap, frames: readonly number[]) => {
    const { at, isGone } = timeReader(map);
    return frames.map((frame) => (isGone(frame) ? 'gone' : [at(frame, -1), at(frame, 1)]));
  };
  expect(places(timePutIn(8, 3), [7, 8, 9])).toEqual([
    [7, 7],
    [8, 11],
    [12, 12],
  ]);
  expect(places(timeTakenOut({ start: 4, end: 9 }), [3, 4, 6, 9, 10])).toEqual([
    [3, 3],
    [4, 4],
    'gone',
    [4, 4],
    [5, 5],
  ]);
  expect(places(timeThrough([2, 4, 8], [2, 8, 10]), [0, 3, 6, 9])).toEqual([
    [0, 0],
    [5, 5],
    [9, 9],
    [11, 11],
  ]);
  const { at, rate, cuts } = timeReader(timeThrough([2, 4, 8], [2, 8, 10]));
  expect([rate(1, 1), rate(2, 1), rate(4, -1), rate(4, 1), rate(9, -1), at(4, 1)]).toEqual([
    1, 3, 3, 0.5, 1, 8,
  ]);
  expect(cuts).toEqual([2, 4, 8]);
});

test('what no time of a curve changes, is the very same curve', () => {
  const source = curve([0, 1, 8, 2]);
  expect(curveThroughTime(source, timePutIn(9, 5)).curve).toBe(source);
  expect(curveThroughTime(source, timeTakenOut({ start: 10, end: 12 })).curve).toBe(source);
  expect(curveThroughTime(source, timeThrough([10, 12], [10, 20])).curve).toBe(source);
});

test('keys moved by a function keep values and ids; the later of two that meet stays, and is counted', () => {
  const before = curve([0, 1, 4, 2, 5, 3, 9, 4]);
  const { curve: after, merged } = retimeCurve(before, (time) => Math.floor(time / 4) * 4);
  expect([[...after.times], [...after.values], merged]).toEqual([[0, 4, 8], [1, 3, 4], 1]);
  expect(retimeCurve(before, (time) => time).curve).toBe(before);
});
