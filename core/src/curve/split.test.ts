/** Adding keys never changes a curve, whatever its handles and leads; and parts stand on their own. */
import { describe, expect, test } from '@jest/globals';
import { Bezier } from 'bezier-js';
import fc from 'fast-check';
import { anyCurve } from '../testing/arbitrary-curves.ts';
import { curve } from '../testing/shot-literals.ts';
import { bakeLeads } from './bake-lead.ts';
import { FLAG, LEADS, rowAtTime, SEGMENT } from './curve.ts';
import type { Curve } from './curve.ts';
import { evaluate } from './evaluate.ts';
import { isRepeated, placeOfKey } from './lead.ts';
import { partOf } from './part.ts';
import { rebuild } from './rebuild.ts';
import { retangent } from './retangent.ts';
import { rowsOf } from './rows-of.ts';
import { addKeysKeepingShape } from './split.ts';
import { brokenRule } from './validate.ts';

const size = (of: Curve) => Math.max(...of.values, 1) - Math.min(...of.values, 0);
/** The greatest distance at places that avoid the keys themselves, where a stepped segment jumps. */
function apart(a: Curve, b: Curve, start: number, end: number): number {
  let greatest = 0;
  for (let i = 0; i < 700; i += 1) {
    const time = start + ((end - start) * (i + 0.4142)) / 700;
    const near = [...a.times, ...b.times].some((key) => Math.abs(key - time) < 1e-7);
    if (!near) greatest = Math.max(greatest, Math.abs(evaluate(a, time) - evaluate(b, time)));
  }
  return greatest;
}
const times = fc.array(fc.double({ min: -6, max: 60, noNaN: true }), { minLength: 1, maxLength: 9 });

describe('adding keys', () => {
  test('keeps the shape to 1e-9 of the range for any handles, many keys at once or one after another', () => {
    fc.assert(
      fc.property(anyCurve({ weighted: true }), times, (before, at) => {
        const once = addKeysKeepingShape(before, at);
        const oneByOne = at.reduce((known, time) => addKeysKeepingShape(known, [time]), before);
        for (const after of [once, oneByOne]) {
          expect(brokenRule(after)).toBeNull();
          expect(apart(before, after, -8, 70)).toBeLessThan(1e-9 * size(before));
          for (const time of at) expect(rowAtTime(after, time)).toBeGreaterThanOrEqual(0);
        }
      }),
      { numRuns: 150, seed: 11 },
    );
  });

  test('long handles: a key at 7 of an eased hop, against bezier-js’s split', () => {
    const eased = retangent(curve([0, 0, 13, 44, 27, 3]), new Uint8Array(3).fill(1), 'ease', 0.95);
    const after = addKeysKeepingShape(eased, [7]);
    expect(apart(eased, after, 0, 27)).toBeLessThan(1e-9 * 44);
    const whole = new Bezier(0, 0, 13 * 0.95, 0, 13 * 0.05, 44, 13, 44);
    // Halving finds the parameter of frame 7 without any code of ours.
    let [low, high] = [0, 1];
    for (let i = 0; i < 60; i += 1) {
      const middle = (low + high) / 2;
      if (whole.get(middle).x < 7) low = middle;
      else high = middle;
    }
    const { left, right } = whole.split(low);
    expect(after.lengthsIn[1]).toBeCloseTo(7 - left.points[2]!.x, 9);
    expect(after.lengthsOut[1]).toBeCloseTo(right.points[1]!.x - 7, 9);
    expect(after.values[1]).toBeCloseTo(whole.get(low).y, 9);
  });

  test('a handle may be longer than its segment beside a short one, and a key where the curve stands upright', () => {
    const upright = rebuild(curve([0, 0, 10, 20]), null, (columns) => {
      columns.flags.fill(FLAG.weightedIn | FLAG.weightedOut);
      columns.lengthsOut[0] = columns.lengthsIn[1] = 10;
      columns.tangentsIn.fill(1);
      columns.tangentsOut.fill(1);
    });
    for (const at of [2, 3, 5, 8.5]) {
      const after = addKeysKeepingShape(upright, [at]);
      expect(apart(upright, after, 0, 10)).toBeLessThan(1e-9 * 20);
      expect(brokenRule(after)).toBeNull();
    }
  });

  test('past a hold the level goes on, past a slope the slope', () => {
    const slope: Curve = { ...curve([0, 3, 8, 11, 12, 4]), leadIn: 'slope', leadOut: 'slope' };
    const after = addKeysKeepingShape(slope, [-5, 20, 31]);
    expect(after.times.length).toBe(6);
    expect(apart(slope, after, -40, 60)).toBeLessThan(1e-9);
  });
});

describe('repeats', () => {
  const cycle = curve([3, 1, 9, 14, 14, -5, 21, 1]);
  test('a key past a loop goes into the cycle, and every repeat stays what it was', () => {
    fc.assert(
      fc.property(
        anyCurve({ weighted: true }),
        fc.constantFrom(...LEADS),
        fc.constantFrom(...LEADS),
        times,
        (source, leadIn, leadOut, at) => {
          const led: Curve = { ...source, leadIn, leadOut };
          const after = addKeysKeepingShape(led, at);
          expect(apart(led, after, -90, 150)).toBeLessThan(1e-8 * size(led));
          for (const time of at)
            if (isRepeated(led, time))
              expect(rowAtTime(after, placeOfKey(led, time)!)).toBeGreaterThanOrEqual(0);
        },
      ),
      { numRuns: 120, seed: 4 },
    );
  });

  test('of a loop of 18 frames, frame 50 is frame 14; its seams are its ends', () => {
    const loop: Curve = { ...cycle, leadIn: 'loop', leadOut: 'loop' };
    expect([50, 39, 57, -15, -4].map((time) => placeOfKey(loop, time))).toEqual([14, 21, 21, 3, 14]);
    expect(placeOfKey({ ...loop, leadOutCount: 1 }, 60)).toBeNull();
    expect(placeOfKey({ ...cycle, leadIn: 'loop' }, 30)).toBeNull();
    expect(placeOfKey(cycle, 30)).toBe(30);
  });

  test('a counted loop ends on the value of its end, wherever its keys stand', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -50, max: 50, noNaN: true }),
        fc.double({ min: 0.3, max: 40, noNaN: true }),
        fc.integer({ min: 1, max: 9 }),
        (start, length, count) => {
          const loop: Curve = { ...curve([start, 2, start + length, 7]), leadOut: 'loop', leadIn: 'loop' };
          const counted = { ...loop, leadOutCount: count, leadInCount: count };
          const end = counted.times[1]!;
          for (const past of [0, 1e-9, 0.01, 1000])
            expect(evaluate(counted, end + count * (end - start) + past)).toBe(7);
          expect(evaluate(counted, start - count * (end - start) - 1e-9)).toBe(2);
        },
      ),
      { numRuns: 400, seed: 8 },
    );
  });
});

describe('parts', () => {
  test('what shows over any range, repeats and all, and its own ends held', () => {
    fc.assert(
      fc.property(
        anyCurve({ weighted: true }),
        fc.constantFrom('hold' as const, 'slope' as const, 'loopCarry' as const),
        fc.double({ min: -30, max: 40, noNaN: true }),
        fc.double({ min: 0.5, max: 60, noNaN: true }),
        (source, lead, start, length) => {
          const led: Curve = { ...source, leadIn: lead, leadOut: lead };
          const part = partOf(led, { start, end: start + length });
          expect(part.times[0]).toBeCloseTo(0, 5);
          expect(part.times[part.times.length - 1]).toBeCloseTo(length, 5);
          for (let i = 0; i < 80; i += 1) {
            const time = (length * (i + 0.5)) / 80;
            const near = part.times.some((key) => Math.abs(key - time) < 1e-7);
            if (!near)
              expect(Math.abs(evaluate(part, time) - evaluate(led, start + time))).toBeLessThan(1e-7);
          }
        },
      ),
      { numRuns: 150, seed: 2 },
    );
  });

  test('baking a stepped lead-in shows on every frame what showed: loops and swings', () => {
    const stepped = rebuild(curve([4, 0, 9, 40, 15, 7, 20, 0]), null, (columns) =>
      columns.segments.fill(SEGMENT.stepped),
    );
    for (const lead of ['loop', 'swing', 'loopCarry'] as const) {
      const led: Curve = { ...stepped, leadIn: lead, leadOut: lead };
      const baked = bakeLeads(led, -40, 60);
      for (let frame = -40; frame <= 60; frame += 1)
        expect([lead, frame, evaluate(baked, frame)]).toEqual([lead, frame, evaluate(led, frame)]);
    }
  });

  test('some rows of a curve keep the slopes that rules gave them', () => {
    const source = curve([0, 0, 5, 8, 9, -3, 16, 4]);
    const some = rowsOf(source, [0, 1, 2]);
    expect(some.slopesIn[2]).toBe(source.slopesIn[2]);
    for (const time of [1, 4, 6.5, 8.9]) expect(evaluate(some, time)).toBeCloseTo(evaluate(source, time), 12);
  });
});
