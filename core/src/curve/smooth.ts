/**
 * Smoothing a row of evenly spaced values: by local quadratics, by a low-pass filter that runs both ways, and by taking out
 * single spikes. All give an array of the same length.
 */
import { median } from '../base/median.ts';

/**
 * Each value replaced by the quadratic that fits its window best; near the ends, by that of the first or last whole window
 * (Savitzky & Golay 1964).
 * @param half places on either side of the middle, ≥ 1; a shorter row than the window comes back as it is
 */
export function savitzkyGolay(values: Float64Array, half: number): Float64Array {
  const count = values.length;
  if (count < 2 * half + 1) return values.slice();
  const out = new Float64Array(count);
  for (let i = half; i < count - half; i += 1) out[i] = quadraticAt(values, i, half, 0);
  for (let k = -half; k < 0; k += 1) {
    out[half + k] = quadraticAt(values, half, half, k);
    out[count - 1 - half - k] = quadraticAt(values, count - 1 - half, half, -k);
  }
  return out;
}

/** The least-squares quadratic over middle − half … middle + half, at `offset` from the middle. */
function quadraticAt(values: Float64Array, middle: number, half: number, offset: number): number {
  let s2 = 0;
  let s4 = 0;
  let v0 = 0;
  let v1 = 0;
  let v2 = 0;
  for (let k = -half; k <= half; k += 1) {
    const value = values[middle + k]!;
    s2 += k * k;
    s4 += k * k * k * k;
    v0 += value;
    v1 += k * value;
    v2 += k * k * value;
  }
  const count = 2 * half + 1;
  const determinant = count * s4 - s2 * s2;
  const constant = (s4 * v0 - s2 * v2) / determinant;
  const square = (count * v2 - s2 * v0) / determinant;
  return constant + (v1 / s2) * offset + square * offset * offset;
}

export interface Biquad {
  readonly b0: number;
  readonly b1: number;
  readonly b2: number;
  readonly a1: number;
  readonly a2: number;
}

/**
 * A Butterworth low-pass of order 2 (bilinear transform, frequency warped).
 * @param cutoff in Hz, above 0 and below half of `rate`; @param rate samples per second
 */
export function butterworth(cutoff: number, rate: number): Biquad {
  const w = Math.tan((Math.PI * cutoff) / rate);
  const scale = 1 / (1 + Math.SQRT2 * w + w * w);
  const b0 = w * w * scale;
  return { b0, b1: 2 * b0, b2: b0, a1: 2 * (w * w - 1) * scale, a2: (1 - Math.SQRT2 * w + w * w) * scale };
}

/**
 * The cutoff of each of two runs, so that both together let half the power through at `cutoff`, as one run does: of order 2, tan(πf/rate) ÷ (√2 − 1)^¼
 * (Winter, Biomechanics and Motor Control of Human Movement, 4th ed. 2009, §3.4.4.2: 0.802 for the undivided factor).
 */
export const cutoffOfEach = (cutoff: number, rate: number): number =>
  (rate / Math.PI) * Math.atan(Math.tan((Math.PI * cutoff) / rate) / (Math.SQRT2 - 1) ** 0.25);

/**
 * The filter run forward and backward, so that nothing is delayed (zero phase; Gustafsson 1996 discusses the ends). The row
 * is carried on at both ends by its own point reflection, which holds the end values.
 */
export function filterBothWays(values: Float64Array, filter: Biquad): Float64Array {
  const count = values.length;
  if (count < 3) return values.slice();
  const pad = count - 1;
  const carried = new Float64Array(count + 2 * pad);
  for (let i = 0; i < carried.length; i += 1) {
    const at = i - pad;
    carried[i] =
      at < 0
        ? 2 * values[0]! - values[-at]!
        : at >= count
          ? 2 * values[count - 1]! - values[2 * (count - 1) - at]!
          : values[at]!;
  }
  const once = filtered(carried, filter).reverse();
  const twice = filtered(once, filter).reverse();
  return twice.slice(pad, pad + count);
}

/** One way, beginning in the rest that the first value would leave it in. */
function filtered(values: Float64Array, { b0, b1, b2, a1, a2 }: Biquad): Float64Array {
  const out = new Float64Array(values.length);
  const first = values[0]!;
  // Transposed direct form II; at rest the output is the input.
  let z2 = (b2 - a2) * first;
  let z1 = (b1 - a1) * first + z2;
  values.forEach((value, i) => {
    const result = b0 * value + z1;
    z1 = b1 * value - a1 * result + z2;
    z2 = b2 * value - a2 * result;
    out[i] = result;
  });
  return out;
}

/**
 * Values that stand out from the median of their neighbourhood, its slope taken out, by more than `threshold` times the
 * neighbourhood's usual spread, and by more than `least`, become that median (Hampel 1974). Three or more in a row that stand
 * out to one side are an accent, which is motion, and stay.
 */
export function withoutSpikes(
  values: Float64Array,
  half: number,
  threshold: number,
  least: number,
): { values: Float64Array; spikes: number[] } {
  const out = values.slice();
  const spikes: number[] = [];
  for (let i = 0; i < values.length; i += 1) {
    const from = Math.max(0, i - half);
    const near = values.slice(from, i + half + 1);
    // A curve that rises is no spread: its own slope, from the medians of both sides, is taken out first.
    const left = values.slice(from, i);
    const right = values.slice(i + 1, i + half + 1);
    const apart = (left.length + right.length) / 2 + 1;
    const slope = left.length > 0 && right.length > 0 ? (median(right) - median(left)) / apart : 0;
    const level = near.map((value, k) => value - slope * (from + k - i));
    const middle = median(level);
    const spread = 1.4826 * median(level.map((value) => Math.abs(value - middle)));
    const enough = Math.max(threshold * spread, least);
    const side = Math.sign(values[i]! - middle);
    const standsOut = (k: number) => (values[k]! - slope * (k - i) - middle) * side > enough;
    if (!standsOut(i)) continue;
    let [first, last] = [i, i];
    while (i - first < ACCENT && first > 0 && standsOut(first - 1)) first -= 1;
    while (last - i < ACCENT && last + 1 < values.length && standsOut(last + 1)) last += 1;
    if (last - first + 1 >= ACCENT) continue;
    out[i] = middle;
    spikes.push(i);
  }
  return { values: out, spikes };
}

/** So many values in a row that stand out to one side are an accent. */
const ACCENT = 3;
