/**
 * The rules that give tangents their slopes. A rule sees a key and its two neighbours, no more, so that
 * moving one key changes at most three slopes. Across a stepped segment there is no neighbour.
 *
 *   flat    0
 *   linear  toward the neighbour on that side
 *   smooth  the parabola through the key and its neighbours (three-point formula, unequal spacing)
 *   steady  smooth, limited so that the curve never leaves the neighbours' values: flat at extremes, elsewhere no
 *           handle rises by more than its segment does, which with handles of a third is three times the smaller
 *           secant (the box inside the monotone region of Fritsch & Carlson 1980)
 */
import { FLAG, SEGMENT, TANGENT } from './curve.ts';
import type { Columns } from './curve.ts';

/** The slope at the middle of three points of the parabola through them; d are secants, h gaps. */
function threePointSlope(before: number, after: number, gapBefore: number, gapAfter: number): number {
  return (before * gapAfter + after * gapBefore) / (gapBefore + gapAfter);
}

/** The three-point slope limited so that no handle rises by more than its segment. @param most the steepest slopes of both sides */
function steadySlope(
  before: number,
  after: number,
  gapBefore: number,
  gapAfter: number,
  most: number,
): number {
  if (before * after <= 0) return 0;
  const slope = threePointSlope(before, after, gapBefore, gapAfter);
  return Math.sign(slope) * Math.min(Math.abs(slope), most);
}

/** The steepest slope with which a handle rises by no more than its segment. */
const steepest = (secant: number, gap: number, length: number) =>
  length > 0 ? Math.abs(secant) * (gap / length) : Infinity;

/** Writes the slopes of all keys whose tangents follow a rule; locked keys keep theirs. Handle lengths stand already. */
export function applyTangentRules(columns: Columns): void {
  const { times, values, tangentsIn, tangentsOut, slopesIn, slopesOut, flags, segments } = columns;
  const { lengthsIn, lengthsOut } = columns;
  const last = times.length - 1;
  for (let i = 0; i <= last; i += 1) {
    const ruleIn = tangentsIn[i]!;
    const ruleOut = tangentsOut[i]!;
    if ((ruleIn === TANGENT.free && ruleOut === TANGENT.free) || (flags[i]! & FLAG.locked) !== 0) continue;
    const gapBefore = i > 0 ? times[i]! - times[i - 1]! : 0;
    const gapAfter = i < last ? times[i + 1]! - times[i]! : 0;
    // A hold jumps at its end: what lies beyond it is no neighbour.
    const before =
      gapBefore > 0 && segments[i - 1] !== SEGMENT.stepped ? (values[i]! - values[i - 1]!) / gapBefore : null;
    const after =
      gapAfter > 0 && segments[i] !== SEGMENT.stepped ? (values[i + 1]! - values[i]!) / gapAfter : null;
    const most =
      ruleIn === TANGENT.steady || ruleOut === TANGENT.steady
        ? Math.min(
            before === null ? Infinity : steepest(before, gapBefore, lengthsIn[i]!),
            after === null ? Infinity : steepest(after, gapAfter, lengthsOut[i]!),
          )
        : Infinity;
    if (ruleIn !== TANGENT.free)
      slopesIn[i] = ruleSlope(ruleIn, before, after, gapBefore, gapAfter, true, most);
    if (ruleOut !== TANGENT.free)
      slopesOut[i] = ruleSlope(ruleOut, before, after, gapBefore, gapAfter, false, most);
  }
}

/** The slope by one rule; a secant is null where there is no neighbour. */
function ruleSlope(
  rule: number,
  before: number | null,
  after: number | null,
  gapBefore: number,
  gapAfter: number,
  incoming: boolean,
  most: number,
): number {
  if (rule === TANGENT.flat) return 0;
  if (before === null || after === null) {
    const only = before ?? after ?? 0;
    return rule === TANGENT.steady ? Math.sign(only) * Math.min(Math.abs(only), most) : only;
  }
  if (rule === TANGENT.linear) return incoming ? before : after;
  return rule === TANGENT.smooth
    ? threePointSlope(before, after, gapBefore, gapAfter)
    : steadySlope(before, after, gapBefore, gapAfter, most);
}
