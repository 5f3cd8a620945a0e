/** The search for the fewest keys against trying every set of keys, and thinning against the laws that follow from it. */
import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { curvesIn } from '../document/shot.ts';
import { readBvh } from '../interchange/bvh/read-bvh.ts';
import { PLAIN_THINNING } from '../testing/plain-thinning.ts';
import type { Curve } from './curve.ts';
import { hermiteAt } from '../testing/hermite-at.ts';
import { fewestKeys } from './fewest-keys.ts';
import { fitSlopes, segmentError } from './fit-segment.ts';
import type { Points } from './fit-segment.ts';
import { rebuild } from './rebuild.ts';
import { settleSlopes } from './settle-slopes.ts';
import { lookForRegion, region } from './slope-region.ts';
import { thinCurve } from './thin.ts';

const rows = (count: number) =>
  fc.array(fc.double({ min: -5, max: 5, noNaN: true }), { minLength: count, maxLength: count });
const pointsOf = (values: readonly number[], gaps?: readonly number[]): Points => ({
  times: Float64Array.from(values, (_, i) =>
    gaps ? gaps.slice(0, i).reduce((sum, gap) => sum + gap, 0) : i,
  ),
  values: Float64Array.from(values),
  even: gaps === undefined,
});
const asked = (tolerance: number) => ({ tolerance, between: false, steepest: 1e4 });

/**
 * How far the best shared slopes of some keys are from the points: subgradients would be slow, so least squares whose weights grow where it is far
 * (Lawson 1961), dense and with no regard to how the search works. Never less than the true least greatest distance.
 */
function leastGreatest(points: Points, keys: readonly number[]): number {
  const { times, values } = points;
  const n = keys.length;
  const rowsOf: { readonly row: number[]; readonly right: number }[] = [];
  for (let k = 0; k + 1 < n; k += 1) {
    const [from, to] = [keys[k]!, keys[k + 1]!];
    const gap = times[to]! - times[from]!;
    for (let i = from + 1; i < to; i += 1) {
      const u = (times[i]! - times[from]!) / gap;
      const row = new Array<number>(n).fill(0);
      row[k] = (u ** 3 - 2 * u ** 2 + u) * gap;
      row[k + 1] = (u ** 3 - u ** 2) * gap;
      const held = (2 * u ** 3 - 3 * u ** 2 + 1) * values[from]! + (3 * u ** 2 - 2 * u ** 3) * values[to]!;
      rowsOf.push({ row, right: values[i]! - held });
    }
  }
  let weights = rowsOf.map(() => 1);
  let least = rowsOf.length === 0 ? 0 : Infinity;
  for (let round = 0; round < 400; round += 1) {
    const matrix = Array.from({ length: n }, (_, a) =>
      Array.from({ length: n + 1 }, (__, b) =>
        rowsOf.reduce(
          (sum, { row, right }, i) => sum + weights[i]! * row[a]! * (b === n ? right : row[b]!),
          a === b ? 1e-13 : 0,
        ),
      ),
    );
    for (let a = 0; a < n; a += 1)
      for (let b = 0; b < n; b += 1) {
        if (a === b) continue;
        const part = matrix[b]![a]! / matrix[a]![a]!;
        for (let c = a; c <= n; c += 1) matrix[b]![c]! -= part * matrix[a]![c]!;
      }
    const slopes = matrix.map((row, a) => row[n]! / row[a]!);
    const away = rowsOf.map(({ row, right }) =>
      Math.abs(row.reduce((sum, part, a) => sum + part * slopes[a]!, 0) - right),
    );
    least = Math.min(least, Math.max(...away, 0));
    const total = weights.reduce((sum, weight, i) => sum + weight * away[i]!, 0) || 1;
    weights = weights.map((weight, i) => Math.max((weight * away[i]!) / total, 1e-12));
  }
  return least;
}

/** Every choice of `count` inner rows. */
function* choices(last: number, count: number, from = 1): Generator<number[]> {
  if (count === 0) yield [];
  else
    for (let row = from; row < last; row += 1)
      for (const rest of choices(last, count - 1, row + 1)) yield [row, ...rest];
}

describe('the fewest keys', () => {
  test('no set of fewer keys holds, of all that there are; and theirs do, with the slopes that are given', () => {
    fc.assert(
      fc.property(rows(9), fc.constantFrom(0.2, 0.8, 2), (values, tolerance) => {
        const points = pointsOf(values);
        const places = Int32Array.from(values, (_, i) => i);
        const found = fewestKeys(points, places, { ...asked(tolerance), kept: [], joined: true });
        expect(found.holds).toBe(true);
        found.keys.slice(1).forEach((to, k) => {
          const error = segmentError(points, found.keys[k]!, to, found.slopes[k]!, found.slopes[k + 1]!);
          expect(error).toBeLessThanOrEqual(tolerance * 1.005);
        });
        for (let inner = 0; inner < found.keys.length - 2; inner += 1)
          for (const chosen of choices(values.length - 1, inner))
            // A little less than the tolerance: the last of it is a matter of rounding.
            expect(leastGreatest(points, [0, ...chosen, values.length - 1])).toBeGreaterThan(
              tolerance * 0.99,
            );
      }),
      { numRuns: 25, seed: 5 },
    );
  });

  test('what must be a key is one, and no key stands elsewhere than it may', () => {
    fc.assert(
      fc.property(rows(30), fc.integer({ min: 2, max: 27 }), fc.boolean(), (values, kept, joined) => {
        const places = Int32Array.from(
          [...values.keys()].filter((i) => i % 3 === 0 || i === kept || i === 29),
        );
        const options = { ...asked(3), kept: [kept], joined };
        const { keys } = fewestKeys(pointsOf(values), places, options);
        expect(keys).toContain(kept);
        expect(keys.every((row) => places.includes(row))).toBe(true);
        expect([keys[0], keys[keys.length - 1]]).toEqual([0, 29]);
      }),
      { numRuns: 60 },
    );
  });
});

describe('the region of slopes', () => {
  test('its corners are within a hair of the tolerance, and a step beyond each is not', () => {
    fc.assert(
      fc.property(
        rows(8),
        fc.array(fc.double({ min: 0.4, max: 3, noNaN: true }), { minLength: 8, maxLength: 8 }),
        (values, gaps) => {
          const points = pointsOf(values, gaps);
          if (!lookForRegion(points, 0, 7, -Infinity, Infinity, asked(4))) return;
          const { out, into } = region();
          const [x, y] = [out, into].map((of) => of.reduce((sum, value) => sum + value, 0) / of.length);
          out.forEach((slope, i) => {
            expect(segmentError(points, 0, 7, slope, into[i]!)).toBeLessThanOrEqual(4 * 1.003);
            const beyond = (part: number) =>
              segmentError(points, 0, 7, slope + part * (slope - x!), into[i]! + part * (into[i]! - y!));
            if (Math.hypot(slope - x!, into[i]! - y!) > 0.1) expect(beyond(0.02)).toBeGreaterThan(4);
          });
        },
      ),
      { numRuns: 80 },
    );
  });
});

describe('settled slopes', () => {
  test('hold as before, with squares that are no greater', () => {
    fc.assert(
      fc.property(rows(40), fc.constantFrom(1, 3), (values, tolerance) => {
        const points = pointsOf(values);
        const places = Int32Array.from(values, (_, i) => i);
        const { keys, slopes } = fewestKeys(points, places, { ...asked(tolerance), kept: [], joined: true });
        const squares = (of: Float64Array) =>
          keys.slice(1).reduce((sum, to, k) => {
            let own = sum;
            for (let i = keys[k]! + 1; i < to; i += 1)
              own +=
                (values[i]! - hermiteAt(points, keys[k]!, to, of[k]!, of[k + 1]!, points.times[i]!)) ** 2;
            return own;
          }, 0);
        const settled = slopes.slice();
        settleSlopes(points, keys, settled, new Set(), asked(tolerance));
        expect(squares(settled)).toBeLessThanOrEqual(squares(slopes) * (1 + 1e-3) + 1e-3);
        keys.slice(1).forEach((to, k) => {
          expect(segmentError(points, keys[k]!, to, settled[k]!, settled[k + 1]!)).toBeLessThanOrEqual(
            tolerance * 1.006,
          );
        });
      }),
      { numRuns: 20 },
    );
  });
});

describe('thinning captured motion (01_01.bvh, Debian’s assimp-testmodels)', () => {
  const { shot } = readBvh(readFileSync('/usr/share/assimp/models/BVH/01_01.bvh', 'utf8'), '01_01');
  const all = new Map(curvesIn(shot.curves, shot.nodes));
  const part = (channel: string, start: number) =>
    rebuild(
      all.get(channel)!,
      Int32Array.from({ length: 241 }, (_, i) => start + i),
      () => {},
    );
  const keysOf = (curve: Curve, tolerance: number, wishes: Partial<typeof PLAIN_THINNING> = {}) =>
    thinCurve(curve, { ...PLAIN_THINNING, ...wishes, tolerance }).times.length;

  // Of 3,328 such steps over sixteen channels two had a key or two more, beside a jump of the capture (RThumb.rx, frame 1,130).
  test.each([
    ['LeftArm.rz', 600],
    ['Hips.ty', 300],
    ['RightFoot.ry', 1925],
    ['LeftLeg.rx', 1200],
    ['Neck.ry', 40],
  ])('%s from frame %i: more tolerance never gives more keys, nor fewer constraints', (channel, start) => {
    const curve = part(channel, start);
    for (const joined of [true, false]) {
      let [before, peakedBefore] = [Infinity, Infinity];
      for (let tolerance = 0.2; tolerance < 3; tolerance *= 1.09) {
        const [free, peaked] = [false, true].map((keepPeaks) =>
          keysOf(curve, tolerance, { joined, keepPeaks }),
        );
        expect(free).toBeLessThanOrEqual(before);
        expect(peaked).toBeLessThanOrEqual(peakedBefore);
        expect(peaked).toBeGreaterThanOrEqual(free!);
        [before, peakedBefore] = [free!, peaked!];
      }
    }
  });

  /** Keys on the points, each segment as long as any slopes let it be: weights that grow find the least greatest error (Lawson 1961). */
  function greedy(points: Points, tolerance: number): number {
    const slopes = new Float64Array(2);
    const holds = (from: number, to: number) => {
      const weights = new Float64Array(points.times.length).fill(1);
      for (let round = 0; round < 60; round += 1) {
        fitSlopes(points, from, to, slopes, weights);
        if (segmentError(points, from, to, slopes[0]!, slopes[1]!) <= tolerance) return true;
        for (let i = from + 1; i < to; i += 1)
          weights[i]! *=
            1e-3 +
            Math.abs(
              points.values[i]! - hermiteAt(points, from, to, slopes[0]!, slopes[1]!, points.times[i]!),
            ) /
              tolerance;
      }
      return false;
    };
    const last = points.times.length - 1;
    let [at, keys] = [0, 1];
    while (at < last) {
      let reach = at + 1;
      for (let to = at + 2, misses = 0; to <= last && misses < 6; to += 1) {
        misses = holds(at, to) ? 0 : misses + 1;
        if (misses === 0) reach = to;
      }
      at = reach;
      keys += 1;
    }
    return keys;
  }

  test.each([0.45, 0.6, 1, 2])(
    'within 15 %% of the longest segments of free slopes, with corners and without, at %f°',
    (tolerance) => {
      const curve = part('LeftArm.rz', 600);
      const best = greedy({ times: curve.times, values: curve.values }, tolerance);
      expect(keysOf(curve, tolerance, { joined: false })).toBeLessThanOrEqual(best);
      expect(keysOf(curve, tolerance)).toBeLessThanOrEqual(Math.ceil(1.15 * best));
    },
  );
});
