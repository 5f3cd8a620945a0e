/** Chains of weighted segments against what their points were made of. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { fitChain, startChain } from './weighted-chain.ts';

/** A point of the Bézier segment at a parameter, by de Casteljau's construction (de Casteljau 1959). */
function casteljau(ends: readonly [number, number, number, number], u: number): number {
  let row: number[] = [...ends];
  while (row.length > 1) row = row.slice(1).map((next, i) => row[i]! * (1 - u) + next * u);
  return row[0]!;
}

/** Samples on whole frames of segments with slopes and lengths, found by halving. */
function sampled(
  keys: readonly number[],
  heights: readonly number[],
  slopes: readonly number[],
  lengths: readonly number[],
) {
  const values: number[] = [];
  for (let k = 0; k + 1 < keys.length; k += 1) {
    const gap = keys[k + 1]! - keys[k]!;
    const [a, b] = [lengths[2 * k]! * gap, lengths[2 * k + 1]! * gap];
    const xs = [0, a, gap - b, gap] as const;
    const ys = [
      heights[k]!,
      heights[k]! + a * slopes[k]!,
      heights[k + 1]! - b * slopes[k + 1]!,
      heights[k + 1]!,
    ] as const;
    for (let frame = 0; frame < gap; frame += 1) {
      let [low, high] = [0, 1];
      for (let i = 0; i < 60; i += 1) {
        const middle = (low + high) / 2;
        if (casteljau(xs, middle) < frame) low = middle;
        else high = middle;
      }
      values.push(casteljau(ys, (low + high) / 2));
    }
  }
  values.push(heights.at(-1)!);
  return { times: Float64Array.from(values, (_, i) => i), values: Float64Array.from(values) };
}

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const made = fc.record({
  heights: fc.array(number(-20, 20), { minLength: 4, maxLength: 4 }),
  slopes: fc.array(number(-2, 2), { minLength: 4, maxLength: 4 }),
  lengths: fc.array(number(0.2, 0.6), { minLength: 6, maxLength: 6 }),
});
const KEYS = [0, 14, 33, 50];
/** Of sixty chains, so many are found to a thousandth; the others end in another valley of the error. */
const FOUND = 43;

describe('a chain', () => {
  test('fitted to samples of weighted segments is those segments, within a thousandth of what thirds miss', () => {
    let found = 0;
    fc.assert(
      fc.property(made, ({ heights, slopes, lengths }) => {
        const points = sampled(KEYS, heights, slopes, lengths);
        const thirds = fitChain(
          points,
          startChain(KEYS, Float64Array.from(slopes)),
          new Uint8Array(4),
          Infinity,
        );
        const scale = Math.max(...thirds.errors, 1e-3);
        const chain = fitChain(
          points,
          startChain(KEYS, Float64Array.from(slopes)),
          new Uint8Array(4),
          1e-3 * scale,
        );
        if (Math.max(...chain.errors) <= 1e-3 * scale) found += 1;
      }),
      { numRuns: 60, seed: 20261125 },
    );
    expect(found).toBeGreaterThanOrEqual(FOUND);
  });

  test('keeps a held slope to the bit, and still comes near', () => {
    fc.assert(
      fc.property(made, fc.nat(3), ({ heights, slopes, lengths }, which) => {
        const points = sampled(KEYS, heights, slopes, lengths);
        const start = Float64Array.from(slopes, (slope, k) => (k === which ? slope : slope + 1));
        const held = Uint8Array.from(KEYS, (_, k) => (k === which ? 1 : 0));
        const before = fitChain(points, startChain(KEYS, start), held, Infinity);
        const chain = fitChain(points, startChain(KEYS, start), held, 1e-9);
        expect(chain.slopes[which]).toBe(slopes[which]);
        expect(Math.max(...chain.errors)).toBeLessThan(Math.max(...before.errors));
      }),
      { numRuns: 40 },
    );
  });

  test('says the distance that its points have: looked at with de Casteljau’s construction', () => {
    fc.assert(
      fc.property(made, made, (one, other) => {
        const points = sampled(KEYS, one.heights, one.slopes, one.lengths);
        const start = {
          ...startChain(KEYS, Float64Array.from(other.slopes)),
          out: Float64Array.of(other.lengths[0]!, other.lengths[2]!, other.lengths[4]!),
          into: Float64Array.of(other.lengths[1]!, other.lengths[3]!, other.lengths[5]!),
        };
        const chain = fitChain(points, start, new Uint8Array(4), Infinity);
        const there = sampled(KEYS, one.heights, other.slopes, other.lengths);
        for (let k = 0; k < 3; k += 1) {
          let greatest = 0;
          for (let i = KEYS[k]!; i < KEYS[k + 1]!; i += 1)
            greatest = Math.max(greatest, Math.abs(points.values[i]! - there.values[i]!));
          expect(chain.errors[k]).toBeCloseTo(greatest, 5);
        }
      }),
      { numRuns: 30 },
    );
  });
});
