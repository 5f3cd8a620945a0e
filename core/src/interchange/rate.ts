/** Frame rates as fractions, from what files give: a frame time, or the times of keys in seconds. */
import type { Rate } from '../document/shot.ts';

/** The usual rates, those first that are taken where several fit. The slowed ones are NTSC's (SMPTE ST 12-1). */
const USUAL: readonly Rate[] = [
  ...[24, 25, 30, 50, 60, 48, 120, 100, 90, 240, 1000].map((numerator) => ({ numerator, denominator: 1 })),
  ...[24, 30, 60, 120].map((whole) => ({ numerator: whole * 1000, denominator: 1001 })),
  ...[12, 15, 8, 10, 20, 72, 144, 200, 300, 500].map((numerator) => ({ numerator, denominator: 1 })),
];

export const perSecond = ({ numerator, denominator }: Rate): number => numerator / denominator;

/** The usual rate that a frame time stands for as it is written, or the nearest thousandth; below one a second, whole seconds. */
export function rateOfFrameTime(seconds: number): Rate {
  const rate = 1 / seconds;
  // 0.0333333 is 30, and 0.0333667 is 30000/1001: six digits tell them apart.
  const near = USUAL.map((usual) => ({ usual, miss: Math.abs(perSecond(usual) / rate - 1) })).sort(
    (a, b) => a.miss - b.miss,
  )[0]!;
  if (near.miss < 5e-4) return near.usual;
  if (near.miss < 2e-3 && near.usual.denominator === 1) return near.usual;
  if (rate >= 1) return reduced(Math.round(rate * 1000), 1000);
  return reduced(1000, Math.round(seconds * 1000));
}

export interface FoundRate {
  readonly rate: Rate;
  /** Whether all times lie on whole frames of it. */
  readonly fits: boolean;
  /** Others that fit as well, none of them a multiple of it. */
  readonly rivals: readonly Rate[];
}

/** What single precision leaves open of a time, in parts of it. */
const SINGLE = 2 ** -23;
/** What sums of single-precision steps may come to, frames. */
const LOOSE = 2e-3;

/** The rate on whose whole frames the times lie. @param times seconds, of single precision, rising */
export function rateOfTimes(times: ArrayLike<number>): FoundRate {
  const all = Array.from(times);
  const fitting = (within: (time: number, rate: number) => number) => (candidate: Rate) => {
    const rate = perSecond(candidate);
    return all.every((time) => Math.abs(time * rate - Math.round(time * rate)) <= within(time, rate));
  };
  const exact = fitting((time, rate) => 1e-5 + 2 * SINGLE * time * rate);
  const gap = all.reduce(
    (least, time, i) => (i > 0 && time - all[i - 1]! > 1e-6 ? Math.min(least, time - all[i - 1]!) : least),
    Infinity,
  );
  const own = gap < Infinity && gap > 0 ? [rateOfFrameTime(gap)] : [];
  for (const fits of [exact, fitting(() => LOOSE)]) {
    const [first, ...others] = [...USUAL, ...own].filter(fits);
    if (!first) continue;
    const rivals = others.filter((other) => {
      const times = perSecond(other) / perSecond(first);
      return Math.abs(times - Math.round(times)) > 1e-6 && times > 0.2;
    });
    return { rate: first, fits: true, rivals };
  }
  const miss = (candidate: Rate) =>
    all.reduce((most, time) => {
      const frame = time * perSecond(candidate);
      return Math.max(most, Math.abs(frame - Math.round(frame)));
    }, 0);
  const best = USUAL.slice(0, 5).reduce((least, one) => (miss(one) < miss(least) ? one : least));
  return { rate: best, fits: false, rivals: [] };
}

function reduced(numerator: number, denominator: number): Rate {
  let [a, b] = [numerator, denominator];
  while (b !== 0) [a, b] = [b, a % b];
  return { numerator: numerator / a, denominator: denominator / a };
}
