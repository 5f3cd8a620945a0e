import { describe, expect, test } from '@jest/globals';
import Spline from 'cubic-spline';
import { curveMonotoneX, line } from 'd3-shape';
import { CubicInterpolant } from 'three';
import { seededRandom } from '../base/random.ts';
import { curve, keysOf } from '../testing/shot-literals.ts';
import { COLUMN_NAMES, EMPTY_CURVE, FLAG, SEGMENT, TANGENT } from './curve.ts';
import type { Curve } from './curve.ts';
import { differenceOf } from './difference.ts';
import { evaluate, sampleInto, slopeAt } from './evaluate.ts';
import { allRows, buildCurve, rebuild } from './rebuild.ts';
import { retangent } from './retangent.ts';
import { addKeysKeepingShape, divide } from './split.ts';
import { brokenRule } from './validate.ts';

/** A curve of every segment kind, with slopes, lengths and flags at random. */
function randomCurve(seed: number, count = 12): Curve {
  const random = seededRandom(seed);
  return buildCurve(count, (columns) => {
    let time = random.whole(-5, 5);
    for (let i = 0; i < count; i += 1) {
      columns.times[i] = time;
      time += 1 + random.next() * 9;
      columns.values[i] = random.gaussian() * 20;
      columns.slopesIn[i] = random.gaussian() * 4;
      columns.slopesOut[i] = random.gaussian() * 4;
      // Handles that together are longer than their segment make it nearly vertical, where no value is well defined.
      columns.lengthsIn[i] = random.next() * 0.5;
      columns.lengthsOut[i] = random.next() * 0.5;
      columns.segments[i] = random.whole(0, 2);
      columns.tangentsIn[i] = random.whole(0, 4);
      columns.tangentsOut[i] = random.whole(0, 4);
      columns.flags[i] = random.whole(0, 15) & ~FLAG.locked;
    }
  });
}

const chosen = (of: Curve) => new Uint8Array(of.times.length).fill(1);
const span = (of: Curve) => ({ start: of.times[0]! - 3, end: of.times[of.times.length - 1]! + 3 });

describe('evaluation', () => {
  test('holds ahead of the first key and past the last; stepped until the next key, exclusive', () => {
    const stepped = rebuild(curve([0, 1, 10, 5]), null, (columns) => (columns.segments[0] = SEGMENT.stepped));
    expect([-4, 0, 9.999, 10, 30].map((time) => evaluate(stepped, time))).toEqual([1, 1, 1, 5, 5]);
    expect(evaluate(EMPTY_CURVE, 3, 7)).toBe(7);
  });

  test('an unweighted curve is what three’s CubicInterpolant gives', () => {
    const keys = [0, 1, 4, 6, 9, -2, 15, 3];
    const ours = curve(keys, 'flat');
    const times = keys.filter((_, i) => i % 2 === 0);
    const values = keys.filter((_, i) => i % 2 === 1);
    // Its tangents are its own; between equal neighbours on even times both are the three-point slope.
    const even = curve([0, 0, 1, 2, 2, 3, 3, 1], 'smooth');
    const theirs = new CubicInterpolant(
      new Float64Array([0, 1, 2, 3]),
      new Float64Array([0, 2, 3, 1]),
      1,
      new Float64Array(1),
    );
    for (const time of [1.1, 1.5, 1.9])
      expect(evaluate(even, time)).toBeCloseTo(Number((theirs.evaluate(time) as Float64Array)[0]), 12);
    // Flat tangents: the cubic blend of the two values (Hermite basis).
    const u = (6 - times[1]!) / (times[2]! - times[1]!);
    expect(evaluate(ours, 6)).toBeCloseTo(values[1]! + (values[2]! - values[1]!) * u * u * (3 - 2 * u), 12);
  });

  test('a weighted segment with CSS ease’s handles gives CSS ease (CSS Easing Functions)', () => {
    const ease = buildCurve(2, (columns) => {
      columns.times.set([0, 10]);
      columns.values.set([0, 1]);
      columns.tangentsIn.fill(TANGENT.free);
      columns.tangentsOut.fill(TANGENT.free);
      columns.flags.set([FLAG.weightedOut, FLAG.weightedIn]);
      columns.lengthsOut[0] = 2.5;
      columns.slopesOut[0] = 0.1 / 2.5;
      columns.lengthsIn[1] = 7.5;
    });
    expect(evaluate(ease, 5)).toBeCloseTo(0.802403387584857, 12);
  });

  test.each([1, 2, 3, 4, 5, 6])('batches agree with single times, seed %i', (seed) => {
    const any = randomCurve(seed);
    const { start, end } = span(any);
    const times = Float64Array.from({ length: 301 }, (_, i) => start + ((end - start) * i) / 300);
    const out = new Float64Array(301);
    sampleInto(out, 0, 1, any, times);
    times.forEach((time, i) => expect(out[i]).toBeCloseTo(evaluate(any, time), 8));
  });

  test('slopes are those of a difference quotient', () => {
    const any = randomCurve(21);
    for (let i = 0; i < 40; i += 1) {
      const time = any.times[0]! + ((any.times[11]! - any.times[0]!) * (i + 0.37)) / 40;
      const near = any.times.some((key) => Math.abs(key - time) < 1e-3);
      if (near) continue;
      const quotient = (evaluate(any, time + 1e-6) - evaluate(any, time - 1e-6)) / 2e-6;
      expect(Math.abs(slopeAt(any, time) - quotient)).toBeLessThan(1e-3 * (1 + Math.abs(quotient)));
    }
  });
});

describe('adding keys', () => {
  test('de Casteljau at one half', () => {
    const halves = divide([0, 0], [1, 2], [3, -1], [4, 1], 0.5);
    expect([halves.time, halves.value]).toEqual([2, 0.5]);
    expect(halves.left).toEqual([
      [0.5, 1],
      [1.25, 0.75],
    ]);
  });

  test.each(Array.from({ length: 20 }, (_, i) => i + 1))(
    'keeps the shape of any curve to 1e-9 of its range, seed %i',
    (seed) => {
      const before = randomCurve(seed);
      const random = seededRandom(seed);
      const { start, end } = span(before);
      const times = Array.from({ length: 6 }, () => start + random.next() * (end - start));
      const after = addKeysKeepingShape(before, times);
      expect(brokenRule(after)).toBeNull();
      expect(after.times.length).toBe(before.times.length + 6);
      const size = Math.max(...before.values) - Math.min(...before.values);
      const places = Float64Array.from({ length: 2000 }, (_, i) => start + ((end - start) * i) / 1999);
      const [a, b] = [new Float64Array(2000), new Float64Array(2000)];
      sampleInto(a, 0, 1, before, places);
      sampleInto(b, 0, 1, after, places);
      // At a stepped key the two sides of the jump may be told apart by the last bit of a time.
      places.forEach((place, i) => {
        const onKey = before.times.some((time) => Math.abs(time - place) < 1e-9);
        if (!onKey) expect(Math.abs(a[i]! - b[i]!)).toBeLessThan(1e-9 * size);
      });
    },
  );
});

describe('tangent rules', () => {
  test('steady on RPN 14 stays within 0…1 and never falls (Fritsch & Carlson 1980, from memory)', () => {
    const x = [7.99, 8.09, 8.19, 8.7, 9.2, 10, 12, 15, 20];
    const y = [0, 2.76429e-5, 0.0437498, 0.169183, 0.469428, 0.94374, 0.998636, 0.999919, 0.999994];
    const keys = x.flatMap((time, i) => [time, y[i]!]);
    const steady = curve(keys, 'steady');
    const natural = retangent(steady, chosen(steady), 'smoothest', 0);
    let last = -1;
    let [low, high] = [Infinity, -Infinity];
    for (let i = 0; i <= 4000; i += 1) {
      const time = 7.99 + (12.01 * i) / 4000;
      const value = evaluate(steady, time);
      expect(value).toBeGreaterThanOrEqual(last - 1e-12);
      expect(value).toBeLessThanOrEqual(1);
      last = value;
      low = Math.min(low, evaluate(natural, time));
      high = Math.max(high, evaluate(natural, time));
    }
    // The natural spline does not: −0.0045…1.1012.
    expect(low).toBeCloseTo(-0.0045, 3);
    expect(high).toBeCloseTo(1.1012, 3);
  });

  test('steady on Akima’s data is flat on [0, 5]; the natural spline dips to 9.383 (Akima 1970, from memory)', () => {
    const y = [10, 10, 10, 10, 10, 10, 10.5, 15, 50, 60, 85];
    const steady = curve(
      y.flatMap((value, time) => [time, value]),
      'steady',
    );
    const natural = retangent(steady, chosen(steady), 'smoothest', 0);
    let low = Infinity;
    for (let i = 0; i <= 1000; i += 1) {
      if (i <= 500) expect(evaluate(steady, i / 100)).toBe(10);
      low = Math.min(low, evaluate(natural, i / 100));
    }
    expect(Math.floor(low * 1000) / 1000).toBe(9.383);
  });

  test('steady keeps to the neighbours as d3’s monotone curve does', () => {
    const points: [number, number][] = [
      [0, 0],
      [2, 5],
      [5, 5.5],
      [6, 1],
      [9, 0.5],
    ];
    const path = line().curve(curveMonotoneX)(points)!;
    const numbers = path.match(/-?[\d.]+(e-?\d+)?/g)!.map(Number);
    const ours = curve(points.flat(), 'steady');
    const highest = Math.max(...numbers.filter((_, i) => i % 2 === 1));
    for (let i = 0; i <= 900; i += 1) expect(evaluate(ours, i / 100)).toBeLessThanOrEqual(highest + 1e-9);
  });

  test('the natural spline through (1,2) (2,3) (3,5) (Burden & Faires) and as cubic-spline computes it', () => {
    const base = curve([1, 2, 2, 3, 3, 5]);
    const natural = retangent(base, chosen(base), 'smoothest', 0);
    const other = new Spline([1, 2, 3], [2, 3, 5]);
    for (const d of [0.1, 0.5, 0.9]) {
      expect(evaluate(natural, 1 + d)).toBeCloseTo(2 + 0.75 * d + 0.25 * d ** 3, 12);
      expect(evaluate(natural, 2 + d)).toBeCloseTo(3 + 1.5 * d + 0.75 * d ** 2 - 0.25 * d ** 3, 12);
      expect(evaluate(natural, 1 + d)).toBeCloseTo(other.at(1 + d), 9);
    }
  });

  test('best fit joins the tangents and stays nearer than the smooth rule', () => {
    const corners = rebuild(curve([0, 0, 8, 10, 20, -4, 30, 3]), null, (columns) => {
      columns.tangentsIn.fill(TANGENT.free);
      columns.tangentsOut.fill(TANGENT.free);
      columns.slopesOut.set([2, -1.5, 0.2, 0]);
      columns.slopesIn.set([0, 1, -1, 1.4]);
      columns.flags.fill(FLAG.broken);
    });
    const fitted = retangent(corners, chosen(corners), 'fit', 0);
    const range = { start: 0, end: 30 };
    expect(differenceOf(corners, fitted, range).rms).toBeLessThan(
      differenceOf(corners, curve([0, 0, 8, 10, 20, -4, 30, 3]), range).rms,
    );
    expect(Array.from(fitted.slopesIn)).toEqual(Array.from(fitted.slopesOut));
  });
});

describe('the difference of two curves', () => {
  test.each([1, 2, 3, 4, 5, 6, 7, 8])(
    'is never less than what close sampling finds, and not far above, seed %i',
    (seed) => {
      const [a, b] = [randomCurve(seed), randomCurve(seed + 100)];
      const range = { start: 0, end: 30 };
      const { greatest, rms } = differenceOf(a, b, range);
      let [sampled, squares] = [0, 0];
      const count = 30_000;
      for (let i = 0; i < count; i += 1) {
        const time = (30 * (i + 0.5)) / count;
        const distance = Math.abs(evaluate(a, time) - evaluate(b, time));
        sampled = Math.max(sampled, distance);
        squares += distance * distance;
      }
      expect(greatest).toBeGreaterThanOrEqual(sampled * 0.97);
      expect(greatest).toBeLessThanOrEqual(sampled * 1.02);
      expect(rms).toBeGreaterThan(Math.sqrt(squares / count) * 0.8);
      expect(rms).toBeLessThan(Math.sqrt(squares / count) * 1.2);
    },
  );
});

describe('rebuild', () => {
  test('sorts, lets the later row win on one frame, and keeps ids', () => {
    const base = curve([0, 1, 10, 2, 20, 3]);
    const moved = rebuild(base, [0, 2, 1], (columns) => (columns.times[2] = 20));
    expect(keysOf(moved)).toBe('0:1 20:2');
    expect(Array.from(moved.ids)).toEqual([base.ids[0], base.ids[1]]);
  });

  test('every column has a row for every key, whatever is done', () => {
    let any = randomCurve(5, 20);
    const random = seededRandom(5);
    for (let i = 0; i < 60; i += 1) {
      const rows = [...allRows(any).filter(() => random.next() > 0.1), -1, -1];
      any = rebuild(any, rows, (columns) => {
        columns.times.forEach((time, row) => (columns.times[row] = time + random.gaussian()));
        columns.values.fill(random.gaussian(), rows.length - 2);
      });
      expect(brokenRule(any)).toBeNull();
      for (const name of COLUMN_NAMES) expect(any[name]).toHaveLength(any.times.length);
    }
  });

  test('weighted handles never leave their segment', () => {
    const any = rebuild(curve([0, 0, 10, 1, 12, 2]), null, (columns) => {
      columns.flags.fill(FLAG.weightedIn | FLAG.weightedOut);
      columns.lengthsOut.fill(50);
      columns.lengthsIn.fill(50);
    });
    expect(Array.from(any.lengthsOut.slice(0, 2))).toEqual([10, 2]);
    expect(Array.from(any.lengthsIn.slice(1))).toEqual([10, 2]);
  });
});
