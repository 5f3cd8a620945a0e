/**
 * Closing a loop: the two ends of a range made to agree in value and in slope, over a blend.
 */
import { FLAG, rowAtTime, SEGMENT, TANGENT } from './curve.ts';
import type { Columns, Curve } from './curve.ts';
import { buildCurve, rebuild } from './rebuild.ts';

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
 * neighbours across the seam; else the winner's, or the mean. Samples take a share of the gap in slope too, fading with u(1 − u)²:
 * a slope that is set on one of them would be gone a frame later.
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
  // With no blend the end alone gives way.
  const reach = Math.min(Math.max(blend, 1e-9), winner === 'middle' ? (end - start) / 2 : end - start);
  const shareAtStart = winner === 'last' ? 1 : winner === 'middle' ? 0.5 : 0;
  const [out, into] = [slopeOutOf(curve, first), slopeInto(curve, last)];
  const sampled = isSampled(curve, first) && isSampled(curve, last - 1);
  // Between samples a slope changes by itself as the motion bends: what is more than that is the seam.
  const kink = sampled ? into - out + bendAt(curve, first, last) : 0;
  const moved = rebuild(curve, null, (columns) => {
    for (let row = first; row <= last; row += 1) {
      const [u, w] = [(curve.times[row]! - start) / reach, (end - curve.times[row]!) / reach];
      columns.values[row]! += gap * (shareAtStart * faded(u) - (1 - shareAtStart) * faded(w));
      if (sampled)
        columns.values[row]! += kink * reach * (shareAtStart * bump(u) + (1 - shareAtStart) * bump(w));
    }
    // To the bit, whatever the sums above rounded.
    if (!carries) columns.values[last] = columns.values[first]!;
    for (const row of [first, last - 1]) flow(columns, row, sampled);
  });
  const slope =
    aroundSlope(moved, first, last) ??
    (winner === 'first' ? out : winner === 'last' ? into : (out + into) / 2);
  return rebuild(moved, null, (columns) => {
    setSlope(columns, first, 'out', slope, columns.segments[first]!);
    setSlope(columns, last, 'in', slope, columns.segments[last - 1]!);
  });
}

/**
 * By how much the slope between samples would change at the seam if the cycle went on smoothly: the change on the two samples before and the two after,
 * carried to the middle by a cubic.
 */
function bendAt({ times, values }: Curve, first: number, last: number): number {
  const slope = (row: number) => (values[row + 1]! - values[row]!) / (times[row + 1]! - times[row]!);
  if (last - first < 5) return 0;
  const change = (row: number) => slope(row) - slope(row - 1);
  return (4 * (change(last - 1) + change(first + 1)) - (change(last - 2) + change(first + 2))) / 6;
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

/** Whether the segment that begins at a row is one between samples: two frames long or shorter. */
const isSampled = ({ times, segments }: Curve, row: number) =>
  segments[row] !== SEGMENT.stepped && times[row + 1]! - times[row]! <= 2 + 1e-6;

/** A straight segment becomes the curve that it is, so that it can take a slope; between samples it stays straight. */
function flow(columns: Columns, row: number, sampled: boolean): void {
  if (columns.segments[row] !== SEGMENT.linear || sampled) return;
  const slope =
    (columns.values[row + 1]! - columns.values[row]!) / (columns.times[row + 1]! - columns.times[row]!);
  columns.segments[row] = SEGMENT.cubic;
  columns.slopesOut[row] = columns.slopesIn[row + 1] = slope;
  columns.tangentsOut[row] = columns.tangentsIn[row + 1] = TANGENT.free;
  columns.flags[row]! |= FLAG.broken;
  columns.flags[row + 1]! |= FLAG.broken;
}

/** Slope 1 and value 0 at the end, nothing from the blend's far side on. */
function bump(u: number): number {
  return u < 1 ? u * (1 - u) * (1 - u) : 0;
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
