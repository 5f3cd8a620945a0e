/** What may go without a trace, and what may not. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { anyCurve } from '../testing/arbitrary-curves.ts';
import { curve } from '../testing/shot-literals.ts';
import { byteLength, COLUMN_NAMES, FLAG, SEGMENT } from './curve.ts';
import { evaluate, slopeAt } from './evaluate.ts';
import { allRows, buildCurve, rebuild } from './rebuild.ts';
import { withoutRedundant } from './redundant.ts';
import { addKeysKeepingShape } from './split.ts';
import { brokenRule, isFinite } from './validate.ts';

const any = () => true;
/** A straight-line or stepped curve with a key on each frame. */
const dense = (values: readonly number[], segment: number) =>
  rebuild(
    curve(
      values.flatMap((value, frame) => [frame, value]),
      'linear',
    ),
    null,
    (columns) => columns.segments.fill(segment),
  );

describe('keys that a curve does not need', () => {
  test('what was put in without changing the shape goes again, and the curve is what it was', () => {
    fc.assert(
      fc.property(
        anyCurve({ flowing: true, fewest: 3 }),
        fc.array(fc.double({ min: 0.02, max: 0.98, noNaN: true }), { minLength: 1, maxLength: 6 }),
        (before, parts) => {
          const [first, last] = [before.times[0]!, before.times.at(-1)!];
          const times = parts.map((part) => first + part * (last - first));
          const added = addKeysKeepingShape(
            before,
            times.filter((time) => before.times.every((known) => Math.abs(known - time) > 0.05)),
          );
          const after = withoutRedundant(added, (row) => !before.ids.includes(added.ids[row]!));
          expect(after.times.length).toBeGreaterThanOrEqual(before.times.length);
          // Added keys a hair apart leave too little between them to tell; all others are gone.
          if (new Set(times.map((time) => Math.round(time * 4))).size === times.length)
            expect([...after.times]).toEqual([...before.times]);
          for (let part = 0.013; part < 1; part += 0.03)
            expect(evaluate(after, first + part * (last - first))).toBeCloseTo(
              evaluate(before, first + part * (last - first)),
              6,
            );
        },
      ),
      { numRuns: 80, seed: 12 },
    );
  });

  test('keys that were put into weighted segments go too, and the handles are as long as they were', () => {
    let gone = 0;
    fc.assert(
      fc.property(
        anyCurve({ flowing: true, weighted: true, fewest: 2, most: 5 }),
        fc.array(fc.double({ min: 0.05, max: 0.95, noNaN: true }), { minLength: 1, maxLength: 4 }),
        (before, parts) => {
          const [first, last] = [before.times[0]!, before.times.at(-1)!];
          const times = [...parts].sort((a, b) => a - b).map((part) => first + part * (last - first));
          const apart = times.filter(
            (time, i) =>
              before.times.every((known) => Math.abs(known - time) > 0.2) &&
              (i === 0 || time - times[i - 1]! > 0.2),
          );
          const added = addKeysKeepingShape(before, apart);
          const after = withoutRedundant(added, (row) => !before.ids.includes(added.ids[row]!));
          gone += added.times.length - after.times.length;
          if (apart.length === added.times.length - before.times.length && apart.length > 0)
            expect(after.times.length - before.times.length).toBeLessThanOrEqual(apart.length / 2);
          const size = 1 + Math.max(...before.values.map(Math.abs), ...before.slopesOut.map(Math.abs));
          for (let part = 0.013; part < 1; part += 0.03)
            expect(
              Math.abs(
                evaluate(after, first + part * (last - first)) -
                  evaluate(before, first + part * (last - first)),
              ),
            ).toBeLessThan(1e-5 * size);
        },
      ),
      { numRuns: 120 },
    );
    expect(gone).toBeGreaterThan(100);
  });

  test('of straight lines only corners stay, of steps only changes', () => {
    const line = dense([0, 1, 2, 3, 4, 4, 4, 1, -2, -5, -5.5], SEGMENT.linear);
    expect([...withoutRedundant(line, any).times]).toEqual([0, 4, 6, 9, 10]);
    const steps = dense([3, 3, 3, 8, 8, 3, 3, 3], SEGMENT.stepped);
    expect([...withoutRedundant(steps, any).times]).toEqual([0, 3, 5, 7]);
  });

  test('a slow bend is no straight line, however little each step turns', () => {
    const bend = dense(
      Array.from({ length: 400 }, (_, i) => 1000 + 1e-6 * i * i),
      SEGMENT.linear,
    );
    const after = withoutRedundant(bend, any);
    for (let frame = 0; frame < 400; frame += 7)
      expect(Math.abs(evaluate(after, frame) - evaluate(bend, frame))).toBeLessThan(1e-9);
    expect(after.times.length).toBeGreaterThan(20);
  });

  test('a slope of its own keeps a key that lies on the curve', () => {
    const before = addKeysKeepingShape(curve([0, 0, 20, 10]), [8]);
    const pushed = rebuild(before, null, (columns) => {
      columns.tangentsOut[1] = 0;
      columns.slopesOut[1]! += 1e-3;
      columns.flags[1]! |= FLAG.broken;
    });
    expect(withoutRedundant(before, any).times.length).toBe(2);
    expect(withoutRedundant(pushed, any)).toBe(pushed);
  });

  test('handles that make another shape, another kind of segment, and keys that may not go, stay', () => {
    const line = dense([0, 1, 2, 3, 4], SEGMENT.linear);
    expect([...withoutRedundant(line, (row) => row !== 2).times]).toEqual([0, 2, 4]);
    for (const flag of [FLAG.weightedIn, FLAG.weightedOut]) {
      const weighted = rebuild(
        addKeysKeepingShape(curve([0, 0, 20, 10]), [8]),
        null,
        (columns) => (columns.flags[1]! |= flag),
      );
      expect([...withoutRedundant(weighted, any).times]).toEqual([0, 20]);
      const other = rebuild(weighted, null, (columns) => {
        columns.lengthsIn[1]! *= 1.4;
        columns.lengthsOut[1]! *= 0.6;
      });
      expect(withoutRedundant(other, any)).toBe(other);
    }
    const mixed = rebuild(line, null, (columns) => (columns.segments[2] = SEGMENT.stepped));
    expect([...withoutRedundant(mixed, any).times]).toEqual([0, 2, 3, 4]);
    const two = curve([0, 1, 5, 1]);
    expect(withoutRedundant(two, any)).toBe(two);
  });
});

describe('what must hold for every curve', () => {
  const good = curve([0, 1, 4, 2, 9, 3]);
  test.each([
    ['times', 1, NaN, /times\[1\] is not a finite number/],
    ['slopesOut', 2, Infinity, /slopesOut\[2\] is not a finite number/],
    ['times', 1, 9, /times\[2\] does not come after times\[1\]/],
    ['times', 1, -1, /times\[1\] does not come after times\[0\]/],
    ['segments', 2, 3, /segments\[2\] is of no known kind/],
    ['tangentsIn', 0, 5, /tangent of key 0/],
    ['tangentsOut', 1, 5, /tangent of key 1/],
    ['lengthsIn', 1, -0.1, /handle of key 1/],
    ['lengthsOut', 0, -0.1, /handle of key 0/],
    ['ids', 1, good.ids[0]!, /two keys share an id/],
  ] as const)('%s[%i] = %d is said', (name, row, value, words) => {
    const column = good[name].slice() as Float64Array;
    column[row] = value;
    expect(brokenRule({ ...good, [name]: column })).toMatch(words);
  });

  test('columns of another length are said; a good curve breaks none, nor do the kinds at their limits', () => {
    expect(brokenRule({ ...good, values: good.values.slice(1) })).toMatch(/“values” has 2 rows, not 3/);
    expect(brokenRule(good)).toBeNull();
    const last = rebuild(good, null, (columns) => {
      columns.segments.fill(2);
      columns.tangentsIn.fill(4);
      columns.tangentsOut.fill(4);
      columns.lengthsIn.fill(0);
    });
    expect(brokenRule(last)).toBeNull();
    expect([isFinite(good), isFinite({ ...good, slopesIn: Float64Array.of(0, NaN, 0) })]).toEqual([
      true,
      false,
    ]);
  });

  test('a curve’s bytes are those of its columns', () => {
    const many = buildCurve(1000, (columns) => columns.times.forEach((_, i) => (columns.times[i] = i)));
    expect(byteLength(many)).toBe(COLUMN_NAMES.reduce((sum, name) => sum + many[name].byteLength, 0));
    expect(allRows(many).length).toBe(1000);
    expect(slopeAt(many, 3.5)).toBe(0);
  });
});
