/**
 * Where feet stand: spans in which a low joint hardly moves, by its height and speed with hysteresis. What a mapping holds on to.
 */
import type { Triple } from '../math/euler.ts';

export interface Contact {
  /** Places in the list of frames, both ends among them. */
  readonly first: number;
  readonly last: number;
}

/** Leg lengths a second: slower than the first a stand begins, faster than the second it ends. */
const [SLOW, FAST] = [0.25, 0.45];
/** Leg lengths above where the joint is lowest: below it stands. */
const LOW = 0.07;
/** Seconds: what is shorter is no stand. */
const SHORTEST = 0.08;

/** Spans in which a joint stands. @param places by frame, cm @param leg cm @param rate frames a second */
export function contactsOf(places: readonly Triple[], leg: number, rate: number): Contact[] {
  const floor = Math.min(...places.map(([, y]) => y));
  const speed = (k: number) => {
    const [p, q] = [places[Math.max(0, k - 1)]!, places[Math.min(places.length - 1, k + 1)]!];
    const frames = Math.min(places.length - 1, k + 1) - Math.max(0, k - 1);
    return frames === 0 ? 0 : (Math.hypot(q[0] - p[0], q[1] - p[1], q[2] - p[2]) * rate) / frames / leg;
  };
  const found: Contact[] = [];
  let first = -1;
  places.forEach(([, y], k) => {
    const low = y - floor < LOW * leg;
    const stands = low && speed(k) < (first < 0 ? SLOW : FAST);
    if (stands && first < 0) first = k;
    if (first >= 0 && (!stands || k === places.length - 1)) {
      const last = stands ? k : k - 1;
      if (last - first >= SHORTEST * rate) found.push({ first, last });
      first = -1;
    }
  });
  return found;
}

/** How far a joint slides over the ground while it stands: cm a second on the mean, and the farthest that it comes from where a stand begins, cm. */
export function slideOf(places: readonly Triple[], contacts: readonly Contact[], rate: number) {
  let [way, frames, greatest] = [0, 0, 0];
  for (const { first, last } of contacts)
    for (let k = first + 1; k <= last; k += 1) {
      const [p, q, begin] = [places[k - 1]!, places[k]!, places[first]!];
      way += Math.hypot(q[0] - p[0], q[2] - p[2]);
      greatest = Math.max(greatest, Math.hypot(q[0] - begin[0], q[2] - begin[2]));
      frames += 1;
    }
  return { speed: frames === 0 ? 0 : (way * rate) / frames, greatest };
}
