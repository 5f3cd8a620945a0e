/**
 * Keys taken out and the tangents beside them fitted again, so that the curve stays as near to what it was as one segment for
 * each gap can. A key that was joined stays joined where that costs nothing: the slopes of all gaps are found together (least
 * squares over readings of the old curve, a tridiagonal system), and only where a gap comes out worse than on its own is the
 * key beside it broken.
 */
import { solveTridiagonal } from '../math/tridiagonal.ts';
import { FLAG, SEGMENT, TANGENT } from './curve.ts';
import type { Curve } from './curve.ts';
import { sampleInto } from './evaluate.ts';
import { segmentError } from './fit-segment.ts';
import type { Points } from './fit-segment.ts';
import { allRows } from './rebuild.ts';
import { rowsOf } from './rows-of.ts';

/** Places between two keys at which the old curve is read. */
const PLACES = 64;
/** A shared slope costs nothing up to this: times the error of slopes of their own, and parts of the values' range. */
const SAME = 1.02;
const NEXT_TO_NOTHING = 1e-9;

/** The curve without some keys; the first and the last stay. The same object where none goes. */
export function withoutKeys(curve: Curve, rows: readonly number[]): Curve {
  const last = curve.times.length - 1;
  const gone = new Set(rows.filter((row) => row > 0 && row < last));
  if (gone.size === 0) return curve;
  const kept = allRows(curve).filter((row) => !gone.has(row));
  const gaps = kept.map((from, i) => gapOf(curve, from, kept[i + 1]));
  const fits = fittedGaps(curve, kept, gaps);
  return rowsOf(curve, kept, (columns) => {
    gaps.forEach((gap, i) => {
      if (gap === null) return;
      columns.segments[i] = SEGMENT.cubic;
      columns.tangentsOut[i] = columns.tangentsIn[i + 1] = TANGENT.free;
      columns.slopesOut[i] = fits.out[i]!;
      columns.slopesIn[i + 1] = fits.in[i + 1]!;
      columns.flags[i]! &= ~FLAG.weightedOut;
      columns.flags[i + 1]! &= ~FLAG.weightedIn;
    });
    // Nothing comes into the first key, or leaves the last.
    const end = kept.length - 1;
    if (gaps[0]) columns.slopesIn[0] = columns.slopesOut[0]!;
    if (gaps[end - 1]) columns.slopesOut[end] = columns.slopesIn[end]!;
    gaps.forEach((_, i) => {
      if (gaps[i] === null && gaps[i - 1] == null) return;
      const apart = columns.slopesIn[i] !== columns.slopesOut[i];
      columns.flags[i] = apart ? columns.flags[i]! | FLAG.broken : columns.flags[i]! & ~FLAG.broken;
    });
  });
}

/** Readings of the old curve where keys went, or null: nothing went there, or it only holds. */
function gapOf(curve: Curve, from: number, to: number | undefined): Points | null {
  if (to === undefined || to - from === 1) return null;
  if (curve.segments.subarray(from, to).every((kind) => kind === SEGMENT.stepped)) return null;
  const start = curve.times[from]!;
  const step = (curve.times[to]! - start) / PLACES;
  const times = Float64Array.from({ length: PLACES + 1 }, (_, k) => start + step * k);
  const values = new Float64Array(PLACES + 1);
  sampleInto(values, 0, 1, curve, times);
  return { times, values };
}

interface Slopes {
  /** For each kept key; of meaning only beside a gap. */
  readonly in: Float64Array;
  readonly out: Float64Array;
}

/** The slopes of the gaps, keys joined wherever they were and it costs nothing. */
function fittedGaps(curve: Curve, kept: readonly number[], gaps: readonly (Points | null)[]): Slopes {
  const alone = solved(
    curve,
    kept,
    gaps,
    kept.map(() => true),
  );
  const apart = kept.map((row, i) => wasApart(curve, row, gaps[i - 1] ?? null, gaps[i] ?? null));
  const errorOf = (slopes: Slopes, i: number) =>
    segmentError(gaps[i]!, 0, PLACES, slopes.out[i]!, slopes.in[i + 1]!);
  for (;;) {
    const together = solved(curve, kept, gaps, apart);
    let worse = false;
    gaps.forEach((gap, i) => {
      if (gap === null || (apart[i] && apart[i + 1])) return;
      if (errorOf(together, i) <= SAME * errorOf(alone, i) + NEXT_TO_NOTHING * rangeOf(gap)) return;
      apart[i] = apart[i + 1] = true;
      worse = true;
    });
    // Each turn breaks a key more, so this ends.
    if (!worse) return together;
  }
}

function rangeOf({ values }: Points): number {
  return (
    values.reduce((most, value) => Math.max(most, value), -Infinity) -
    values.reduce((least, value) => Math.min(least, value), Infinity)
  );
}

/** Whether the two sides of a kept key went their own ways already. */
function wasApart(curve: Curve, row: number, before: Points | null, after: Points | null): boolean {
  const { slopesIn, slopesOut, segments } = curve;
  if (row === 0 || row === curve.times.length - 1) return false;
  if (segments[row - 1] !== SEGMENT.cubic && before === null) return true;
  if (segments[row] !== SEGMENT.cubic && after === null) return true;
  return Math.abs(slopesIn[row]! - slopesOut[row]!) > NEXT_TO_NOTHING * (1 + Math.abs(slopesIn[row]!));
}

/** Least squares over all gaps at once; a key that is not apart has one slope, its own where one of its sides stays. */
function solved(
  curve: Curve,
  kept: readonly number[],
  gaps: readonly (Points | null)[],
  apart: readonly boolean[],
): Slopes {
  const count = kept.length;
  // Each key has a place for its incoming and one for its outgoing slope, the same unless it is apart.
  const placeIn = new Int32Array(count);
  const placeOut = new Int32Array(count);
  let size = 0;
  for (let i = 0; i < count; i += 1) {
    placeIn[i] = size++;
    placeOut[i] = apart[i] ? size++ : placeIn[i]!;
  }
  const [below, diagonal, above, right] = Array.from({ length: 4 }, () => new Float64Array(size)) as [
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  gaps.forEach((gap, i) => {
    if (gap === null) return;
    const [a, b] = [placeOut[i]!, placeIn[i + 1]!];
    const length = gap.times[PLACES]! - gap.times[0]!;
    const rise = gap.values[PLACES]! - gap.values[0]!;
    for (let k = 1; k < PLACES; k += 1) {
      const u = k / PLACES;
      const w = 1 - u;
      const b0 = u * w * w * length;
      const b1 = -u * u * w * length;
      const left = gap.values[k]! - gap.values[0]! - rise * u * u * (3 - 2 * u);
      diagonal[a]! += b0 * b0;
      diagonal[b]! += b1 * b1;
      above[a]! += b0 * b1;
      below[b]! += b0 * b1;
      right[a]! += b0 * left;
      right[b]! += b1 * left;
    }
  });
  for (let i = 0; i < count; i += 1) {
    const [before, after] = [gaps[i - 1] ?? null, gaps[i] ?? null];
    if (before === null && (i > 0 || after === null)) fix(placeIn[i]!, curve.slopesIn[kept[i]!]!);
    if (after === null && (i + 1 < count || before === null)) fix(placeOut[i]!, curve.slopesOut[kept[i]!]!);
  }
  function fix(place: number, slope: number): void {
    below[place] = above[place] = 0;
    diagonal[place] = 1;
    right[place] = slope;
  }
  for (let place = 0; place < size; place += 1) if (diagonal[place] === 0) diagonal[place] = 1;
  const slopes = solveTridiagonal(below, diagonal, above, right);
  return {
    in: Float64Array.from(placeIn, (at) => slopes[at]!),
    out: Float64Array.from(placeOut, (at) => slopes[at]!),
  };
}
