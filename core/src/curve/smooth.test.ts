import { describe, expect, test } from '@jest/globals';
import { seededRandom } from '../base/random.ts';
import { butterworth, cutoffOfEach, filterBothWays, savitzkyGolay, withoutSpikes } from './smooth.ts';

describe('local quadratics', () => {
  // Savitzky & Golay 1964: half rows of the quadratic smoothing weights, from the centre.
  test.each([
    [2, [17, 12, -3], 35],
    [3, [7, 6, 3, -2], 21],
    [5 - 1, [59, 54, 39, 14, -21], 231],
  ])('half window %i: the published weights', (half, row, whole) => {
    const impulse = new Float64Array(6 * half + 1);
    impulse[3 * half] = 1;
    const out = savitzkyGolay(impulse, half);
    row.forEach((weight, k) => {
      expect(out[3 * half + k]).toBeCloseTo(weight / whole, 14);
      expect(out[3 * half - k]).toBeCloseTo(weight / whole, 14);
    });
  });

  test('a parabola passes unchanged, its ends too', () => {
    const parabola = Float64Array.from({ length: 40 }, (_, i) => 3 - 2 * i + 0.25 * i * i);
    savitzkyGolay(parabola, 5).forEach((value, i) => expect(value).toBeCloseTo(parabola[i]!, 9));
    expect([...savitzkyGolay(new Float64Array([1, 9, 2]), 5)]).toEqual([1, 9, 2]);
  });
});

describe('low-pass both ways', () => {
  test('order 2, 6 Hz at 120 Hz (bilinear transform design)', () => {
    const { b0, b1, b2, a1, a2 } = butterworth(6, 120);
    expect(b0).toBeCloseTo(0.020083365564211, 14);
    expect([b1, b2]).toEqual([2 * b0, b0]);
    expect(a1).toBeCloseTo(-1.561018075800718, 13);
    expect(a2).toBeCloseTo(0.641351538057563, 14);
  });

  test('nothing is delayed: a slow swing keeps the places of its peaks; a fast one goes', () => {
    const slow = Float64Array.from({ length: 481 }, (_, i) => 20 * Math.sin((2 * Math.PI * i) / 120));
    const jitter = slow.map((value, i) => value + 2 * Math.sin((2 * Math.PI * i * 40) / 120));
    const out = filterBothWays(jitter, butterworth(6, 120));
    const top = (values: Float64Array) =>
      values.subarray(0, 120).indexOf(Math.max(...values.subarray(0, 120)));
    expect(Math.abs(top(out) - 30)).toBeLessThanOrEqual(1);
    expect(Math.max(...out.map((value, i) => Math.abs(value - slow[i]!)))).toBeLessThan(0.4);
  });

  test('both runs together let half the power through at the cutoff, of any rate', () => {
    for (const [cutoff, rate] of [
      [6, 120],
      [6, 24],
      [3, 30],
      [11, 60],
    ] as const) {
      const wave = Float64Array.from({ length: 4001 }, (_, i) =>
        Math.sin((2 * Math.PI * cutoff * i) / rate + 0.4),
      );
      const out = filterBothWays(wave, butterworth(cutoffOfEach(cutoff, rate), rate));
      const power = (values: Float64Array) =>
        values.subarray(1000, 3000).reduce((sum, one) => sum + one * one, 0);
      expect(power(out) / power(wave)).toBeCloseTo(0.5, 3);
    }
    // Winter's factor, where the cutoff is small beside the rate.
    expect(1 / cutoffOfEach(1, 1e5)).toBeCloseTo(0.802, 3);
  });

  test('a level row and the end values stay', () => {
    expect(
      [...filterBothWays(new Float64Array(9).fill(7), butterworth(3, 24))].every(
        (value) => Math.abs(value - 7) < 1e-12,
      ),
    ).toBe(true);
    const ramp = Float64Array.from({ length: 60 }, (_, i) => i * 2);
    const out = filterBothWays(ramp, butterworth(3, 24));
    expect([out[0], out[59]].map((value) => Math.round(value! * 1e3) / 1e3)).toEqual([0, 118]);
  });
});

test('spikes are found and nothing else', () => {
  const random = seededRandom(4);
  const clean = Float64Array.from(
    { length: 200 },
    (_, i) => 10 * Math.sin(i / 12) + 0.05 * random.gaussian(),
  );
  const spiked = clean.slice();
  spiked[50]! += 30;
  spiked[51]! -= 25;
  spiked[140]! += 12;
  const { values, spikes } = withoutSpikes(spiked, 4, 6, 1);
  expect(spikes).toEqual([50, 51, 140]);
  for (const at of spikes) expect(Math.abs(values[at]! - clean[at]!)).toBeLessThan(2);
});
