/** Keys that a curve does not need: without them it is exactly the same. */
import { hermite } from '../math/hermite.ts';
import { FLAG, isWeighted, SEGMENT, TANGENT } from './curve.ts';
import type { Curve } from './curve.ts';
import { rebuild } from './rebuild.ts';

/** Relative to the size of the values. */
const EQUAL = 1e-9;

/**
 * The curve without keys that change nothing; the same object where there are none.
 * @param mayGo whether the key of a row may be taken out; the first and the last stay in any case
 */
export function withoutRedundant(curve: Curve, mayGo: (row: number) => boolean): Curve {
  const last = curve.times.length - 1;
  const kept = [0];
  for (let row = 1; row < last; row += 1) {
    const before = kept[kept.length - 1]!;
    if (!mayGo(row) || !isRedundant(curve, before, row)) kept.push(row);
  }
  if (last > 0) kept.push(last);
  if (kept.length === curve.times.length || last < 1) return curve;
  return rebuild(curve, kept, (columns) => {
    // Rules look at neighbours, and those are others now: keys beside a gap keep the slopes that they had.
    for (let i = 0; i < kept.length; i += 1) {
      if (i > 0 && kept[i]! - kept[i - 1]! > 1) columns.tangentsIn[i] = columns.tangentsOut[i] = TANGENT.free;
      if (i + 1 < kept.length && kept[i + 1]! - kept[i]! > 1)
        columns.tangentsIn[i] = columns.tangentsOut[i] = TANGENT.free;
    }
  });
}

/** Whether one segment from `before` to row + 1 is what the two at `row` are. */
function isRedundant(curve: Curve, before: number, row: number): boolean {
  const { times, values, slopesIn, slopesOut, segments, flags } = curve;
  const next = row + 1;
  const kind = segments[before]!;
  if (segments[row] !== kind || isWeighted(curve, row) || isWeighted(curve, row - 1)) return false;
  if ((flags[before]! & FLAG.weightedOut) !== 0 || (flags[next]! & FLAG.weightedIn) !== 0) return false;
  const size = Math.max(Math.abs(values[before]!), Math.abs(values[row]!), Math.abs(values[next]!), 1e-300);
  const equal = (a: number, b: number, scale: number) => Math.abs(a - b) <= EQUAL * scale;
  if (kind === SEGMENT.stepped) return values[row] === values[before];
  const gap = times[next]! - times[before]!;
  const u = (times[row]! - times[before]!) / gap;
  const [v0, v1] = [values[before]!, values[next]!];
  if (kind === SEGMENT.linear) return equal(v0 + (v1 - v0) * u, values[row]!, size);
  const [d0, d1] = [slopesOut[before]! * gap, slopesIn[next]! * gap];
  // Four numbers make a cubic: its ends, and value and slope in between, say that both halves are it.
  const rise = v1 - v0;
  const slope = (d0 + u * (2 * (3 * rise - 2 * d0 - d1) + 3 * u * (d0 + d1 - 2 * rise))) / gap;
  const steepest = Math.max(Math.abs(d0), Math.abs(d1), size) / gap;
  return (
    equal(hermite(v0, d0, v1, d1, u), values[row]!, size) &&
    equal(slope, slopesIn[row]!, steepest) &&
    equal(slope, slopesOut[row]!, steepest)
  );
}
