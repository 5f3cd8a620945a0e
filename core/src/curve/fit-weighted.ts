/**
 * Fitting a row of points with as few weighted segments as hold it within a tolerance, one direction at each key.
 *
 * 1. *Reach.* From each key the longest segment that fits well within the tolerance, its slopes and lengths free.
 * 2. *Chain.* All segments together, each key with one slope (`weighted-chain.ts`); a segment that misses gets a key in its middle.
 * 3. *Spare.* Key after key is taken out where its neighbourhood, fitted again, holds without it; keys near it may move a little.
 * 4. *Level.* Peaks and valleys lie flat where that costs nothing.
 *
 * On Boxing_Toes.bvh, low-passed at 6 Hz, that takes 7,900 keys of 193,000, none broken; free slopes on both sides of each key
 * took 8,000 by merging, and 8,200 by reach alone.
 */
import { bisectRight } from '../base/bisect.ts';
import { farthest } from '../base/farthest.ts';
import type { Fit, FitOptions, FittedSegment, Points } from './fit-segment.ts';
import { fitChain, startChain } from './weighted-chain.ts';
import type { Chain } from './weighted-chain.ts';

/** The part of the tolerance within which keys are placed: what is left is needed to share slopes. */
const REACH = 0.6;
/** Keys on either side of one that is tried without. */
const NEIGHBOURS = 2;
/** Misses up to so many tolerances are worth moving keys for; and how often. */
const WORTH = 1.5;
const MOVES = 1;
const SHIFTS = [-1, 1, -2, 2];
const MOST_ROUNDS = 24;

/**
 * @param places rows on which a key may stand, rising
 * @param thirds the fewest keys with handles of a third, one slope at each
 */
export function fitWeighted(points: Points, places: Int32Array, options: FitOptions, thirds: Fit): Fit {
  const search = new Search(points, places, options);
  const slopes = Float64Array.from(
    thirds.keys,
    (_, k) => (thirds.segments[k]?.slopeOut ?? thirds.segments[k - 1]?.slopeIn)!,
  );
  let chain = search.level(search.spare(search.whole(startChain(thirds.keys, slopes))));
  for (let round = 0; ; round += 1) {
    const fit = fitOf(points, chain, options.tolerance);
    const strays = options.strays?.(fit) ?? [];
    if (strays.length === 0 || round >= MOST_ROUNDS) return fit;
    chain = search.whole(search.withKeys(chain, strays));
  }
}

/** Keys with slopes and lengths of their own on both sides, each segment as long as it can be. */
export function fitWeightedCorners(points: Points, places: Int32Array, options: FitOptions): Fit {
  const search = new Search(points, places, options);
  const keys = search.reachKeys(1);
  const chains = keys.slice(1).map((to, k) => search.alone(keys[k]!, to, 1));
  return {
    keys,
    segments: chains.map((chain) => segmentOf(points, chain, 0)),
    exact: false,
    holds: chains.every(({ errors }) => errors[0]! <= options.tolerance),
  };
}

function fitOf(points: Points, chain: Chain, tolerance: number): Fit {
  const segments = Array.from(chain.out, (_, k) => segmentOf(points, chain, k));
  return { keys: chain.keys, segments, exact: false, holds: greatest(chain.errors) <= tolerance };
}

function segmentOf({ times }: Points, { keys, slopes, out, into }: Chain, k: number): FittedSegment {
  const gap = times[keys[k + 1]!]! - times[keys[k]!]!;
  return {
    slopeOut: slopes[k]!,
    slopeIn: slopes[k + 1]!,
    lengthOut: out[k]! * gap,
    lengthIn: into[k]! * gap,
    weighted: true,
  };
}

class Search {
  private readonly points: Points;
  private readonly places: Int32Array;
  private readonly tolerance: number;
  private readonly kept: readonly number[];
  private readonly peaks: readonly number[];
  /** Keys that stay, and for those near a peak the peak that they stand for. */
  private readonly fixed: Set<number>;
  private readonly peakOf: Map<number, number>;

  constructor(points: Points, places: Int32Array, { tolerance, kept, peaks }: FitOptions) {
    this.points = points;
    this.places = places;
    this.tolerance = tolerance;
    this.kept = kept;
    this.peaks = peaks;
    this.fixed = new Set(kept);
    this.peakOf = new Map(peaks.map((row) => [row, row]));
  }

  reach(): Chain {
    const keys = this.reachKeys(REACH);
    return startChain(
      keys,
      Float64Array.from(keys, (row) => this.slopeAt(row)),
    );
  }

  reachKeys(share: number): number[] {
    const { places } = this;
    const last = this.points.times.length - 1;
    const bounds = [...new Set([0, ...this.kept, ...this.peaks, last])].sort((a, b) => a - b);
    const keys = [0];
    let usual = 8;
    for (let i = 0; i + 1 < bounds.length; i += 1) {
      let at = bisectRight(places, bounds[i]!) - 1;
      const end = bisectRight(places, bounds[i + 1]!) - 1;
      while (at < end) {
        const reaches = (trial: number) =>
          places[at + trial]! - places[at]! < 2 ||
          this.alone(places[at]!, places[at + trial]!, share).errors[0]! <= this.tolerance * share;
        usual = farthest(end - at, reaches, Math.max(2, Math.round(usual * 0.75)));
        at += usual;
        keys.push(places[at]!);
      }
    }
    return keys;
  }

  /** One segment with slopes of its own. */
  alone(from: number, to: number, share: number): Chain {
    const start = startChain([from, to], Float64Array.of(this.slopeAt(from), this.slopeAt(to)));
    return fitChain(this.points, start, new Uint8Array(2), this.tolerance * share);
  }

  /** All segments together; keys are added in those that miss, until none does or none can be. */
  whole(start: Chain): Chain {
    let chain = start;
    for (let round = 0; ; round += 1) {
      chain = fitChain(this.points, chain, new Uint8Array(chain.keys.length), this.tolerance);
      const middles: number[] = [];
      let last = -2;
      chain.errors.forEach((error, k) => {
        if (error <= this.tolerance || last === k - 1) return;
        const low = bisectRight(this.places, chain.keys[k]!);
        const high = bisectRight(this.places, chain.keys[k + 1]!) - 2;
        if (high < low) return;
        middles.push(this.places[(low + high) >>> 1]!);
        last = k;
      });
      if (middles.length === 0 || round >= MOST_ROUNDS) return chain;
      chain = this.withKeys(chain, middles);
    }
  }

  /** The chain with keys added at rows, rising; the segments that they divide begin anew. */
  withKeys(chain: Chain, rows: readonly number[]): Chain {
    const added = new Set(rows.filter((row) => !chain.keys.includes(row)));
    const keys = [...chain.keys, ...added].sort((a, b) => a - b);
    const known = new Map(chain.keys.map((row, k) => [row, k]));
    const next = startChain(
      keys,
      Float64Array.from(keys, (row) => (known.has(row) ? chain.slopes[known.get(row)!]! : this.slopeAt(row))),
    );
    keys.forEach((row, k) => {
      const was = known.get(row);
      if (was === undefined || was === chain.out.length || keys[k + 1] !== chain.keys[was + 1]) return;
      next.out[k] = chain.out[was]!;
      next.into[k] = chain.into[was]!;
    });
    return next;
  }

  /** Takes out what keys it can. */
  spare(start: Chain): Chain {
    let chain = start;
    for (let pass = 0; pass < 2; pass += 1) {
      let spared = 0;
      for (let k = 1; k < chain.keys.length - 1; k += 1) {
        const row = chain.keys[k]!;
        if (this.fixed.has(row) || this.peakOf.has(row)) continue;
        const without = this.without(chain, k);
        if (without === null) continue;
        chain = without;
        spared += 1;
        k -= 1;
      }
      if (spared === 0) break;
    }
    return chain;
  }

  /** The chain without its key k, or null where the neighbourhood needs it. */
  private without(chain: Chain, k: number): Chain | null {
    const low = Math.max(0, k - NEIGHBOURS);
    const high = Math.min(chain.keys.length - 1, k + NEIGHBOURS);
    const part = partOf(chain, low, high, k - low);
    const held = new Uint8Array(part.keys.length);
    if (low > 0) held[0] = 1;
    if (high < chain.keys.length - 1) held[held.length - 1] = 1;
    let best = fitChain(this.points, part, held, this.tolerance);
    let worst = greatest(best.errors);
    const shifted = new Map<number, number>();
    for (let move = 0; worst > this.tolerance && worst < WORTH * this.tolerance && move < MOVES; move += 1) {
      const peakAt = (row: number) => shifted.get(row) ?? this.peakOf.get(row);
      const better = this.shifted(best, held, worst, peakAt);
      if (better === null) return null;
      const peak = peakAt(best.keys[better.at]!);
      if (peak !== undefined) shifted.set(better.chain.keys[better.at]!, peak);
      best = better.chain;
      worst = greatest(best.errors);
    }
    if (worst > this.tolerance) return null;
    for (const [row, peak] of shifted) {
      for (const [other, of] of this.peakOf) if (of === peak) this.peakOf.delete(other);
      this.peakOf.set(row, peak);
    }
    return replaced(chain, low, high, best);
  }

  /** The best of moving one inner key by a place or two; null where none is better. */
  private shifted(
    chain: Chain,
    held: Uint8Array,
    worst: number,
    peakAt: (row: number) => number | undefined,
  ): { chain: Chain; at: number } | null {
    let best: { chain: Chain; at: number } | null = null;
    let least = worst;
    for (let at = 1; at < chain.keys.length - 1; at += 1) {
      const row = chain.keys[at]!;
      if (this.fixed.has(row)) continue;
      const place = bisectRight(this.places, row) - 1;
      for (const by of SHIFTS) {
        const to = this.places[place + by];
        if (to === undefined || to <= chain.keys[at - 1]! || to >= chain.keys[at + 1]!) continue;
        const peak = peakAt(row);
        if (peak !== undefined && Math.abs(this.points.times[to]! - this.points.times[peak]!) > 1 + 1e-9)
          continue;
        const keys = chain.keys.slice();
        keys[at] = to;
        const trial = fitChain(this.points, { ...chain, keys }, held, this.tolerance);
        const error = greatest(trial.errors);
        if (error >= least) continue;
        least = error;
        best = { chain: trial, at };
        if (error <= this.tolerance) return best;
      }
    }
    return best;
  }

  /** Lays peaks and valleys flat where the neighbourhood holds with it. */
  level(start: Chain): Chain {
    let chain = start;
    for (let k = 1; k < chain.keys.length - 1; k += 1) {
      if (!this.peakOf.has(chain.keys[k]!)) continue;
      const low = Math.max(0, k - NEIGHBOURS);
      const high = Math.min(chain.keys.length - 1, k + NEIGHBOURS);
      const part = partOf(chain, low, high, -1);
      part.slopes[k - low] = 0;
      const held = new Uint8Array(part.keys.length);
      for (let i = 0; i < held.length; i += 1)
        if (
          i === k - low ||
          part.slopes[i] === 0 ||
          (i === 0 && low > 0) ||
          (i === held.length - 1 && high < chain.keys.length - 1)
        )
          held[i] = 1;
      const flat = fitChain(this.points, part, held, this.tolerance);
      if (greatest(flat.errors) <= this.tolerance) chain = replaced(chain, low, high, flat);
    }
    return chain;
  }

  /** Of the points around a row, in units per frame. */
  private slopeAt(row: number): number {
    const { times, values } = this.points;
    const before = Math.max(0, row - 1);
    const after = Math.min(times.length - 1, row + 1);
    return (values[after]! - values[before]!) / (times[after]! - times[before]!);
  }
}

const greatest = (errors: Float64Array) => errors.reduce((most, error) => Math.max(most, error), 0);

/** The keys from low to high as a chain of their own, without the one at `left` (counted from low; −1 leaves none out). */
function partOf(chain: Chain, low: number, high: number, left: number): Chain {
  const picks = Array.from({ length: high - low + 1 }, (_, i) => low + i).filter((k) => k - low !== left);
  const part = startChain(
    picks.map((k) => chain.keys[k]!),
    Float64Array.from(picks, (k) => chain.slopes[k]!),
  );
  picks.forEach((k, i) => {
    if (picks[i + 1] !== k + 1) return;
    part.out[i] = chain.out[k]!;
    part.into[i] = chain.into[k]!;
  });
  return part;
}

/** The chain with its keys from low to high, and what lies between, replaced. */
function replaced(chain: Chain, low: number, high: number, part: Chain): Chain {
  const spliced = (of: Float64Array, by: Float64Array, from: number, to: number) =>
    Float64Array.from([...of.subarray(0, from), ...by, ...of.subarray(to)]);
  return {
    keys: [...chain.keys.slice(0, low), ...part.keys, ...chain.keys.slice(high + 1)],
    slopes: spliced(chain.slopes, part.slopes, low, high + 1),
    out: spliced(chain.out, part.out, low, high),
    into: spliced(chain.into, part.into, low, high),
    errors: spliced(chain.errors, part.errors, low, high),
  };
}
