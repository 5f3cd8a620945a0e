import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { seededRandom } from '../base/random.ts';
import { runEdit } from '../edits/run-edit.ts';
import { readBvh } from '../interchange/bvh/read-bvh.ts';
import { channelKind } from '../rig/node.ts';
import { NOTHING } from '../document/selection.ts';
import { curvesIn, splitChannel } from '../document/shot.ts';
import { anyCurve } from '../testing/arbitrary-curves.ts';
import { PLAIN_THINNING } from '../testing/plain-thinning.ts';
import { curve, denseCurve } from '../testing/shot-literals.ts';
import { FLAG, rowAtTime, SEGMENT } from './curve.ts';
import type { Curve } from './curve.ts';
import { differenceOf } from './difference.ts';
import { evaluate, sampleInto } from './evaluate.ts';
import { rebuild } from './rebuild.ts';
import { retangent } from './retangent.ts';
import { peaks } from './thin-points.ts';
import { thinCurve } from './thin.ts';

const OPTIONS = PLAIN_THINNING;

/** Jitter on top of a swing: what a capture looks like. */
function captured(seed: number, length = 400): Curve {
  const random = seededRandom(seed);
  return denseCurve(
    Array.from(
      { length },
      (_, i) => 30 * Math.sin(i / 19) + 12 * Math.sin(i / 7 + 1) + 0.3 * random.gaussian(),
    ),
  );
}

/** The greatest distance of two curves at twenty places in each frame: independent of the core's own measure. */
function resampled(a: Curve, b: Curve): number {
  const end = a.times[a.times.length - 1]!;
  const times = Float64Array.from({ length: Math.round(end * 20) + 1 }, (_, i) => i / 20);
  const [x, y] = [new Float64Array(times.length), new Float64Array(times.length)];
  sampleInto(x, 0, 1, a, times);
  sampleInto(y, 0, 1, b, times);
  return x.reduce((greatest, value, i) => Math.max(greatest, Math.abs(value - y[i]!)), 0);
}

/** Rows that line reduction keeps (Ramer 1972; Douglas & Peucker 1973), by vertical distance. */
function lineReduction(values: Float64Array, from: number, to: number, tolerance: number): number {
  let [worst, at] = [0, -1];
  for (let i = from + 1; i < to; i += 1) {
    const line = values[from]! + ((values[to]! - values[from]!) * (i - from)) / (to - from);
    if (Math.abs(values[i]! - line) > worst) [worst, at] = [Math.abs(values[i]! - line), i];
  }
  return worst <= tolerance
    ? 1
    : lineReduction(values, from, at, tolerance) + lineReduction(values, at, to, tolerance);
}

describe('thinning', () => {
  const cases = [
    [1, 0.2],
    [1, 1.5],
    [2, 0.6],
    [2, 5],
    [3, 1.5],
  ] as const;
  test.each(cases)(
    'seed %i never strays by more than %f, between frames too, and beats line reduction',
    (seed, tolerance) => {
      const before = captured(seed);
      for (const joined of [true, false]) {
        for (const weighted of [true, false]) {
          const after = thinCurve(before, { ...OPTIONS, tolerance, joined, weighted });
          expect(resampled(before, after)).toBeLessThanOrEqual(tolerance * (1 + 1e-9));
          expect(after.times.length).toBeLessThan(before.times.length);
        }
      }
      const corners = thinCurve(before, { ...OPTIONS, tolerance, joined: false });
      expect(corners.times.length).toBeLessThanOrEqual(
        lineReduction(before.values, 0, before.values.length - 1, tolerance) + 1,
      );
    },
  );

  test.each(Array.from({ length: 60 }, (_, i) => i + 1))(
    'k cubic segments come back with at most k + 2 keys, seed %i',
    (seed) => {
      const random = seededRandom(seed);
      const k = random.whole(2, 7);
      const keys: number[] = [];
      for (let i = 0, frame = 0; i <= k; i += 1, frame += random.whole(12, 40))
        keys.push(frame, random.gaussian() * 10);
      const source = curve(keys, seed % 2 === 0 ? 'smooth' : 'steady');
      const end = keys[keys.length - 2]!;
      const sampled = denseCurve(Array.from({ length: end + 1 }, (_, frame) => evaluate(source, frame)));
      const range = Math.max(...sampled.values) - Math.min(...sampled.values);
      const after = thinCurve(sampled, { ...OPTIONS, tolerance: range * 1e-3 });
      expect(after.times.length).toBeLessThanOrEqual(k + 2);
      // The samples hold the tolerance, and between them the fit is nearer to the source than their straight lines are.
      for (let frame = 0; frame <= end; frame += 1) {
        expect(Math.abs(evaluate(after, frame) - evaluate(sampled, frame))).toBeLessThanOrEqual(range * 1e-3);
      }
      expect(resampled(source, after)).toBeLessThanOrEqual(range * 1.5e-3);
      const corners = thinCurve(sampled, { ...OPTIONS, joined: false, tolerance: range * 1e-3 });
      expect(corners.times.length).toBeLessThanOrEqual(k + 2);
    },
  );

  test('keeps ends, asked frames and peaks', () => {
    const before = captured(4);
    const after = thinCurve(before, { ...OPTIONS, tolerance: 2, keepPeaks: true, keepFrames: [37, 111] });
    const times = new Set(after.times);
    for (const frame of [0, 399, 37, 111, ...peaks(before.values, 2)]) expect(times.has(frame)).toBe(true);
  });

  test('free handles need no more keys than thirds', () => {
    const before = captured(5);
    const thirds = thinCurve(before, { ...OPTIONS, tolerance: 1 });
    const free = thinCurve(before, { ...OPTIONS, tolerance: 1, weighted: true });
    expect(free.times.length).toBeLessThanOrEqual(thirds.times.length);
    expect(free.flags.some((flag) => (flag & FLAG.weightedOut) !== 0)).toBe(true);
  });

  test('joined tangents have one direction but where a segment of the old curve stays as it was', () => {
    const smooth = denseCurve(Array.from({ length: 200 }, (_, i) => 20 * Math.sin(i / 15)));
    const after = thinCurve(smooth, { ...OPTIONS, tolerance: 0.2 });
    expect(after.flags.every((flag) => (flag & FLAG.broken) === 0)).toBe(true);
    expect(after.times.length).toBeLessThan(20);
  });

  test('locked keys, and keys that take no part, stay to the bit', () => {
    const before = rebuild(captured(6), null, (columns) => (columns.flags[200] = FLAG.locked));
    const after = thinCurve(before, { ...OPTIONS, takesPart: (row) => row > 100 });
    for (let row = 0; row <= 100; row += 1) {
      expect([after.times[row], after.values[row]]).toEqual([before.times[row], before.values[row]]);
    }
    const kept = after.times.indexOf(200);
    expect([after.values[kept], after.slopesIn[kept], after.slopesOut[kept]]).toEqual([
      before.values[200],
      before.slopesIn[200],
      before.slopesOut[200],
    ]);
    expect(resampled(before, after)).toBeLessThanOrEqual(0.5 * (1 + 1e-9));
  });

  test('hand-made curves with long gaps and stepped stretches keep within the tolerance', () => {
    const before = rebuild(curve([0, 0, 30, 40, 31, 39, 32, 41, 60, -10, 90, 5]), null, (columns) => {
      columns.segments[1] = columns.segments[2] = SEGMENT.stepped;
    });
    const after = thinCurve(before, { ...OPTIONS, tolerance: 0.3 });
    for (let i = 0; i < 1800; i += 1) {
      const time = i / 20 + 0.011;
      expect(Math.abs(evaluate(before, time) - evaluate(after, time))).toBeLessThanOrEqual(0.3 + 1e-9);
    }
  });

  test('keys between frames land on whole ones when that is asked', () => {
    const before = rebuild(captured(8, 120), null, (columns) => {
      for (let row = 1; row < 119; row += 1) columns.times[row]! += 0.4;
    });
    const after = thinCurve(before, { ...OPTIONS, tolerance: 1 });
    for (const time of after.times) expect(Math.abs(time - Math.round(time))).toBeLessThan(1e-9);
  });

  test.each([
    ['no key', []],
    ['one key', [3, 1]],
    ['two keys', [3, 1, 9, 4]],
  ])('%s comes back as it is', (_, keys) => {
    const before = curve(keys, 'linear');
    expect(thinCurve(before, { ...OPTIONS, wholeFrames: false })).toBe(before);
  });
});

describe('what was made by hand, or baked from it', () => {
  const keptOn = (before: Curve, after: Curve) =>
    after.times.every((time) => before.times.some((known) => Math.abs(known - time) < 1e-6));

  test('weighted curves: no error above the tolerance, whatever the handles (4 settings each)', () => {
    fc.assert(
      fc.property(
        anyCurve({ weighted: true, flowing: true, fewest: 3 }),
        fc.constantFrom(0.3, 0.6, 2),
        fc.boolean(),
        (source, tolerance, joined) => {
          const eased = retangent(source, new Uint8Array(source.times.length).fill(1), 'ease', 0.9);
          for (const before of [source, eased]) {
            for (const weighted of [true, false]) {
              const after = thinCurve(before, { ...OPTIONS, tolerance, joined, weighted });
              const end = before.times[before.times.length - 1]!;
              for (let time = before.times[0]!; time < end; time += 0.037)
                expect(Math.abs(evaluate(before, time) - evaluate(after, time))).toBeLessThanOrEqual(
                  tolerance * (1 + 1e-9),
                );
            }
          }
        },
      ),
      { numRuns: 60, seed: 31 },
    );
  });

  test('never more keys than came in, on frames that had one; where nothing can go, the same object', () => {
    fc.assert(
      fc.property(
        anyCurve({ whole: true, most: 9 }),
        fc.constantFrom(0.1, 1, 8),
        fc.boolean(),
        (before, tolerance, weighted) => {
          const after = thinCurve(before, { ...OPTIONS, tolerance, weighted });
          expect(after.times.length).toBeLessThanOrEqual(before.times.length);
          expect(keptOn(before, after)).toBe(true);
          if (after.times.length === before.times.length) expect(after).toBe(before);
        },
      ),
      { numRuns: 150, seed: 12 },
    );
    const four = curve([0, 0, 15, -71, 29, -34, 43, -88]);
    expect(thinCurve(four, OPTIONS)).toBe(four);
  });

  test.each([1, 2, 3, 4, 5, 6, 7, 8])(
    'baked from k cubics of 4 to 8 frames: at most k + 2 keys, seed %i',
    (seed) => {
      const random = seededRandom(seed);
      const keys: number[] = [];
      for (let i = 0, frame = 0; i <= 14; i += 1, frame += random.whole(4, 8))
        keys.push(frame, random.gaussian() * 30);
      const source = curve(keys, seed % 2 === 0 ? 'smooth' : 'steady');
      const end = keys[keys.length - 2]!;
      const sampled = denseCurve(Array.from({ length: end + 1 }, (_, frame) => evaluate(source, frame)));
      const after = thinCurve(sampled, { ...OPTIONS, tolerance: 0.05 });
      expect(after.times.length).toBeLessThanOrEqual(16);
      const peaked = thinCurve(sampled, { ...OPTIONS, tolerance: 0.05, keepPeaks: true });
      expect(peaked.times.length).toBeLessThanOrEqual(16 + peaks(sampled.values, 0.05).length);
    },
  );

  test('hold, move, hold: at most six keys', () => {
    for (const [kind, length] of [
      ['flat', 11],
      ['steady', 17],
    ] as const) {
      const source = curve([0, 5, 23, 5, 23 + length, 48, 60, 48], kind);
      const sampled = denseCurve(Array.from({ length: 61 }, (_, frame) => evaluate(source, frame)));
      for (const keepPeaks of [true, false])
        for (const joined of [true, false])
          expect(
            thinCurve(sampled, { ...OPTIONS, tolerance: 0.6, keepPeaks, joined }).times.length,
          ).toBeLessThanOrEqual(6);
    }
  });

  test('with a slope or a loop past its keys it goes on as it did', () => {
    for (const lead of ['slope', 'loop', 'loopCarry', 'swing'] as const) {
      const before: Curve = { ...captured(9, 90), leadIn: lead, leadOut: lead };
      const after = thinCurve(before, { ...OPTIONS, tolerance: 1 });
      expect(after.times.length).toBeLessThan(60);
      for (let time = -300; time < 400; time += 0.7)
        expect(Math.abs(evaluate(before, time) - evaluate(after, time))).toBeLessThanOrEqual(1 + 1e-6);
    }
  });
});

describe('captured motion, low-passed at 6 Hz (Boxing_Toes.bvh, Debian’s assimp-testmodels)', () => {
  const { shot } = readBvh(readFileSync('/usr/share/assimp/models/BVH/Boxing_Toes.bvh', 'utf8'), 'Boxing');
  const all = { ...NOTHING, nodes: shot.nodes.map(({ id }) => id) };
  const calm = runEdit('clean.smooth', runEdit('clean.unwrap', shot, all).shot, all, {
    method: 'lowPass',
    cutoff: 6,
  }).shot;

  test('free handles or not: 2 % of keys broken, 5 % of segments a frame long; extremes keyed, a third of them flat; free handles save keys', () => {
    const counts = [false, true].map((weighted) => {
      let [keys, broken, segments, short, stand, flat] = [0, 0, 0, 0, 0, 0];
      for (const [id, before] of [...curvesIn(calm.curves, calm.nodes)].filter((_, k) => k % 5 === 0)) {
        const tolerance = channelKind(splitChannel(id).name) === 'position' ? 0.2 : 0.6;
        const after = thinCurve(before, { ...OPTIONS, tolerance, weighted, keepPeaks: true });
        const part = { start: 700, end: 1000 };
        expect(differenceOf(before, after, part).greatest).toBeLessThanOrEqual(tolerance * (1 + 1e-9));
        keys += after.times.length;
        for (let row = 0; row < after.times.length; row += 1) {
          if ((after.flags[row]! & FLAG.broken) !== 0) broken += 1;
          if (row + 1 < after.times.length) segments += 1;
          if (after.times[row + 1]! - after.times[row]! <= 1) short += 1;
        }
        for (const peak of peaks(before.values, tolerance)) {
          const near = [-1, 0, 1].map((by) => rowAtTime(after, peak + by)).filter((row) => row >= 0);
          expect(near.length).toBeGreaterThan(0);
          stand += 1;
          if (near.some((row) => after.slopesIn[row] === 0 && after.slopesOut[row] === 0)) flat += 1;
        }
      }
      expect(broken).toBeLessThanOrEqual(0.02 * keys);
      expect(short).toBeLessThanOrEqual(0.05 * segments);
      expect(flat).toBeGreaterThan(0.33 * stand);

      return keys;
    });
    expect(counts[1]!).toBeLessThan(0.97 * counts[0]!);
  });
});
