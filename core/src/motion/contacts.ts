/**
 * When points of a body stand: spans in which they hardly move and lie low, with hysteresis.
 *
 * *Low* is measured from where the point itself lies lowest within half a second, so that a foot on a crate stands too and one at the top of a leap does not. *Hardly moves* is a speed; what
 * that is, the motion says itself: its speeds fall into two heaps, of what stands and what goes, and the threshold lies in the valley between them (Otsu, A threshold selection method from gray-level
 * histograms, 1979, over the logarithms of speeds).
 */
import type { Triple } from '../math/euler.ts';

/** A span in places of a list of frames, both ends among them. */
export interface Stand {
  readonly first: number;
  readonly last: number;
}

export interface ContactLimits {
  /** Leg lengths a second: slower than the first a stand begins, faster than the second it ends. */
  readonly slow: number;
  readonly fast: number;
  /** Leg lengths above the lowest place near in time: below it stands. */
  readonly low: number;
  /** Seconds: what is shorter is no stand. */
  readonly shortest: number;
}

/** Where nothing tells two heaps apart. */
const CONTACT_LIMITS: ContactLimits = { slow: 0.25, fast: 0.45, low: 0.04, shortest: 0.08 };

/** Seconds to each side within which the lowest place counts. */
const NEAR = 0.5;
/** Within these a valley is believed, leg lengths a second. */
const [SLOWEST, FASTEST] = [0.22, 0.32];

/** Frames a second from which a speed is taken over two frames: on fewer each frame is a pose of its own, on more most of a step is a sensor's noise. */
const DENSE = 48;

/**
 * Speeds of a point by frame, leg lengths a second. On sparse frames the slower of the way to it and the way from it, so that a stand has its first and its last frame.
 */
export function speedsOf(places: readonly Readonly<Triple>[], leg: number, rate: number): Float64Array {
  const last = places.length - 1;
  const between = (from: number, to: number) => {
    const [p, q] = [places[from]!, places[to]!];
    return (Math.hypot(q[0] - p[0], q[1] - p[1], q[2] - p[2]) * rate) / ((to - from) * leg);
  };
  return Float64Array.from(places, (_, k) => {
    if (last === 0) return 0;
    const [before, after] = [Math.max(0, k - 1), Math.min(last, k + 1)];
    if (rate > DENSE || before === k || after === k) return between(before, after);
    return Math.min(between(before, k), between(k, after));
  });
}

/** Heights above the lowest place within half a second, leg lengths. */
export function liftsOf(places: readonly Readonly<Triple>[], leg: number, rate: number): Float64Array {
  const near = Math.max(1, Math.round(NEAR * rate));
  // The lowest of a window that moves on: places that may still be it stand in a queue, rising.
  const queue: number[] = [];
  const lifts = new Float64Array(places.length);
  let [head, next] = [0, 0];
  for (let k = 0; k < places.length; k += 1) {
    for (; next < places.length && next <= k + near; next += 1) {
      while (queue.length > head && places[queue.at(-1)!]![1] >= places[next]![1]) queue.pop();
      queue.push(next);
    }
    while (queue[head]! < k - near) head += 1;
    lifts[k] = (places[k]![1] - places[queue[head]!]![1]) / leg;
  }
  return lifts;
}

/** The limits that a motion asks for. @param tracks places of its points by frame @param leg the length of a leg, in the same units @param rate frames a second */
export function limitsOf(
  tracks: readonly (readonly Readonly<Triple>[])[],
  leg: number,
  rate: number,
): ContactLimits {
  const valley = valleyOf(tracks.flatMap((places) => [...speedsOf(places, leg, rate)]));
  if (valley === null) return CONTACT_LIMITS;
  const slow = Math.min(Math.max(valley, SLOWEST), FASTEST);
  return { ...CONTACT_LIMITS, slow, fast: (slow * CONTACT_LIMITS.fast) / CONTACT_LIMITS.slow };
}

/** Steps of the histogram over which heaps are looked for. */
const STEPS = 64;
/** Slower than this all is rest, leg lengths a second. */
const REST = 1e-3;

/** Where two heaps of speeds part; null where there are not two. */
function valleyOf(speeds: readonly number[]): number | null {
  const logs = speeds.filter((speed) => speed > REST).map(Math.log);
  if (logs.length < STEPS) return null;
  const [low, high] = logs.reduce(
    ([a, b], log) => [Math.min(a, log), Math.max(b, log)],
    [Infinity, -Infinity],
  );
  if (!(high - low > 1)) return null;
  const counts = new Float64Array(STEPS);
  for (const log of logs) counts[Math.min(STEPS - 1, Math.floor(((log - low) / (high - low)) * STEPS))]! += 1;
  const all = counts.reduce((sum, count) => sum + count, 0);
  const total = counts.reduce((sum, count, k) => sum + count * k, 0);
  let [under, sum, best, at] = [0, 0, 0, -1];
  for (let k = 0; k < STEPS - 1; k += 1) {
    under += counts[k]!;
    sum += counts[k]! * k;
    const over = all - under;
    if (under === 0 || over === 0) continue;
    const between = under * over * (sum / under - (total - sum) / over) ** 2;
    if (between > best) [best, at] = [between, k + 1];
  }
  return at < 0 ? null : Math.exp(low + (at / STEPS) * (high - low));
}

/** Spans in which a point stands. @param places by frame @param leg in the same units @param rate frames a second */
export function standsOf(
  places: readonly Readonly<Triple>[],
  leg: number,
  rate: number,
  { slow, fast, low, shortest }: ContactLimits = CONTACT_LIMITS,
): Stand[] {
  const [speeds, lifts] = [speedsOf(places, leg, rate), liftsOf(places, leg, rate)];
  const found: Stand[] = [];
  let first = -1;
  for (let k = 0; k < places.length; k += 1) {
    const stands = lifts[k]! < low && speeds[k]! < (first < 0 ? slow : fast);
    if (stands && first < 0) first = k;
    if (first >= 0 && (!stands || k === places.length - 1)) {
      const last = stands ? k : k - 1;
      const before = found.at(-1);
      // A moment's stir within a stand parts it no more than a moment's rest makes one.
      if (before && first - before.last < shortest * rate && last - first >= 1)
        found[found.length - 1] = { first: before.first, last };
      else if (last - first >= shortest * rate) found.push({ first, last });
      first = -1;
    }
  }
  return found;
}

/** How far a point slides over the ground while it stands, in the units of its places. */
export interface Slide {
  /** Units a second, on the mean. */
  readonly speed: number;
  /** The farthest that it comes from where a stand begins. */
  readonly greatest: number;
  /** All of its way. */
  readonly total: number;
}

export function slideOf(places: readonly Readonly<Triple>[], stands: readonly Stand[], rate: number): Slide {
  let [way, frames, greatest] = [0, 0, 0];
  for (const { first, last } of stands)
    for (let k = first + 1; k <= last; k += 1) {
      const [p, q, begin] = [places[k - 1]!, places[k]!, places[first]!];
      way += Math.hypot(q[0] - p[0], q[2] - p[2]);
      greatest = Math.max(greatest, Math.hypot(q[0] - begin[0], q[2] - begin[2]));
      frames += 1;
    }
  return { speed: frames === 0 ? 0 : (way * rate) / frames, greatest, total: way };
}
