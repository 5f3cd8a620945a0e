/** Keys that a curve does not need: without them it is exactly the same. */
import { hermite } from '../math/hermite.ts';
import { farthest } from '../base/farthest.ts';
import { FLAG, isWeighted, SEGMENT } from './curve.ts';
import type { Curve } from './curve.ts';
import { withoutRedundantWeighted } from './redundant-weighted.ts';
import { rowsOf } from './rows-of.ts';

/** Of the range that the values of a stretch move through. */
const EQUAL = 1e-9;
/** What the last bits of a value may come to. */
const ROUNDING = 4 * Number.EPSILON;

/**
 * The curve without keys that change nothing; the same object where there are none.
 * @param mayGo whether the key of a row may be taken out; the first and the last stay in any case
 */
export function withoutRedundant(curve: Curve, mayGo: (row: number) => boolean): Curve {
  const last = curve.times.length - 1;
  if (last < 2) return curve;
  const kept = [0];
  let bound = 0;
  for (let from = 0; from < last;) {
    // The next key that must stay: looked for once, however many segments end before it.
    if (bound <= from) for (bound = from + 1; bound < last && mayGo(bound);) bound += 1;
    const most = bound - from;
    // All that go are held against the one segment that takes their place: errors of single steps would add up.
    from += farthest(most, (distance) => isOneSegment(curve, from, from + distance));
    kept.push(from);
  }
  const bare = kept.length === curve.times.length ? curve : rowsOf(curve, kept);
  return withoutRedundantWeighted(bare, (row) => mayGo(kept[row]!));
}

/** Whether one segment from a row to another is what those between are. */
function isOneSegment(curve: Curve, from: number, to: number): boolean {
  if (to - from === 1) return true;
  const { times, values, slopesIn, slopesOut, segments, flags } = curve;
  const kind = segments[from]!;
  let [low, high] = [Infinity, -Infinity];
  for (let row = from; row <= to; row += 1) {
    if (row < to && (segments[row] !== kind || isWeighted(curve, row))) return false;
    low = Math.min(low, values[row]!);
    high = Math.max(high, values[row]!);
  }
  if ((flags[from]! & FLAG.weightedOut) !== 0 || (flags[to]! & FLAG.weightedIn) !== 0) return false;
  if (kind === SEGMENT.stepped) return values.subarray(from, to).every((value) => value === values[from]);
  const gap = times[to]! - times[from]!;
  const [v0, v1] = [values[from]!, values[to]!];
  const rounding = ROUNDING * Math.max(Math.abs(low), Math.abs(high));
  const [d0, d1] =
    kind === SEGMENT.linear ? [v1 - v0, v1 - v0] : [slopesOut[from]! * gap, slopesIn[to]! * gap];
  const size = Math.max(high - low, Math.abs(d0), Math.abs(d1));
  const rise = v1 - v0;
  for (let row = from + 1; row < to; row += 1) {
    const u = (times[row]! - times[from]!) / gap;
    if (Math.abs(hermite(v0, d0, v1, d1, u) - values[row]!) > EQUAL * size + rounding) return false;
    if (kind === SEGMENT.linear) continue;
    // Value and slope where they were: so each half is the cubic that it was.
    const slope = (d0 + u * (2 * (3 * rise - 2 * d0 - d1) + 3 * u * (d0 + d1 - 2 * rise))) / gap;
    const nearest = Math.min(times[row]! - times[row - 1]!, times[row + 1]! - times[row]!);
    const allowed = (EQUAL * size) / gap + rounding / nearest;
    if (Math.abs(slope - slopesIn[row]!) > allowed || Math.abs(slope - slopesOut[row]!) > allowed)
      return false;
  }
  return true;
}
