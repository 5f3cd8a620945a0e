/**
 * Closing a loop: the two ends of a range made to agree in value and in slope, over a blend.
 */
import { FLAG, rowAtTime, SEGMENT, TANGENT } from './curve.ts';
import type { Columns, Curve } from './curve.ts';
import { allRows, buildCurve, rebuild } from './rebuild.ts';

export const SEAM_WINNERS = ['first', 'last', 'middle'] as const;
export type SeamWinner = (typeof SEAM_WINNERS)[number];

export interface SeamGap {
  /** Last minus first, in the curve's unit and per frame. */
  readonly value: number;
  readonly slope: number;
}

/** How far the ends of a range are apart; the curve needs keys on both. */
export function seamGap(curve: Curve, start: number, end: number): SeamGap {
  const first = rowAtTime(curve, start);
  const last = rowAtTime(curve, end);
  if (first < 0 || last < 0) return { value: 0, slope: 0 };
  return {
    value: curve.values[last]! - curve.values[first]!,
    slope: slopeInto(curve, last) - slopeOutOf(curve, first),
  };
}

function slopeOutOf(curve: Curve, row: number): number {
  if (curve.segments[row] === SEGMENT.stepped || row + 1 >= curve.times.length) return 0;
  return curve.segments[row] === SEGMENT.linear ? chord(curve, row) : curve.slopesOut[row]!;
}

function slopeInto(curve: Curve, row: number): number {
  if (row === 0 || curve.segments[row - 1] === SEGMENT.stepped) return 0;
  return curve.segments[row - 1] === SEGMENT.linear ? chord(curve, row - 1) : curve.slopesIn[row]!;
}

const chord = ({ times, values }: Curve, row: number) =>
  (values[row + 1]! - values[row]!) / (times[row + 1]! - times[row]!);

/**
 * The curve with a seam that does not show. Within `blend` frames of an end that gives way keys take a share of the gap that
 * fades out smoothly (3u² − 2u³). The ends get one slope: where one rule gives both, the slope that it gives with the
 * neighbours across the seam; else the winner's, or the mean.
 * @param carries the value may travel: only the slopes are made to agree
 */
export function closeSeam(
  curve: Curve,
  start: number,
  end: number,
  blend: number,
  winner: SeamWinner,
  carries: boolean,
): Curve {
  const first = rowAtTime(curve, start);
  const last = rowAtTime(curve, end);
  if (first < 0 || last <= first) return curve;
  const gap = carries ? 0 : curve.values[last]! - curve.values[first]!;
  const shareAtStart = winner === 'last' ? 1 : winner === 'middle' ? 0.5 : 0;
  const [out, into] = [slopeOutOf(curve, first), slopeInto(curve, last)];
  const slope =
    aroundSlope(curve, first, last) ??
    (winner === 'first' ? out : winner === 'last' ? into : (out + into) / 2);
  return rebuild(curve, allRows(curve), (columns) => {
    for (let row = first; row <= last; row += 1) {
      const time = curve.times[row]!;
      const atStart = faded((time - start) / blend);
      const atEnd = faded((end - time) / blend);
      columns.values[row] = curve.values[row]! + gap * (shareAtStart * atStart - (1 - shareAtStart) * atEnd);
    }
    // To the bit, whatever the sums above rounded.
    if (!carries) columns.values[last] = columns.values[first]!;
    setSlope(columns, first, 'out', slope, curve.segments[first]!);
    setSlope(columns, last, 'in', slope, curve.segments[last - 1]!);
  });
}

/** The slope at the seam by the rule that both its sides follow, as though the curve went round; null where there is none. */
function aroundSlope(curve: Curve, first: number, last: number): number | null {
  const { times, values, tangentsOut, tangentsIn, segments } = curve;
  const rule = tangentsOut[first]!;
  const flows = segments[first] === SEGMENT.cubic && segments[last - 1] === SEGMENT.cubic;
  if (rule === TANGENT.free || rule !== tangentsIn[last] || !flows || last - first < 2) return null;
  const around = buildCurve(3, (columns) => {
    columns.times.set([times[last - 1]! - times[last]!, 0, times[first + 1]! - times[first]!]);
    // Differences: whether the ends agree in value, or the way is carried on, does not matter here.
    columns.values.set([values[last - 1]! - values[last]!, 0, values[first + 1]! - values[first]!]);
    columns.tangentsIn.fill(rule);
    columns.tangentsOut.fill(rule);
  });
  return around.slopesOut[1]!;
}

/** 1 at the end, 0 from the blend's far side on. */
function faded(u: number): number {
  if (!(u < 1)) return 0;
  return 1 - u * u * (3 - 2 * u);
}

function setSlope(columns: Columns, row: number, side: 'in' | 'out', slope: number, segment: number): void {
  if (segment !== SEGMENT.cubic) return;
  const alone = side === 'out' ? row === 0 : row === columns.times.length - 1;
  columns[side === 'out' ? 'tangentsOut' : 'tangentsIn'][row] = TANGENT.free;
  columns[side === 'out' ? 'slopesOut' : 'slopesIn'][row] = slope;
  if (alone) {
    // The outer side shows nowhere but in repeats, where it is the same.
    columns.tangentsIn[row] = columns.tangentsOut[row] = TANGENT.free;
    columns.slopesIn[row] = columns.slopesOut[row] = slope;
  } else if (columns.slopesIn[row] !== columns.slopesOut[row]) columns.flags[row]! |= FLAG.broken;
}
