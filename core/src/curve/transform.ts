/**
 * Keys scaled and moved in time and value: a box around them that is dragged. Value: v′ = pivot + (v − pivot)·s(t) + move, where
 * the scale s runs straight from one end of the box to the other when it tapers. Time: t′ = pivot + (t − pivot)·a + move.
 * Slopes and handles go along; when time is turned round each key's two tangents change places, and a segment's kind moves
 * to the key that is now its earlier one.
 */
import type { Columns, Curve } from './curve.ts';
import { exchangeSides } from './exchange-sides.ts';
import { allRows, rebuild } from './rebuild.ts';

export interface KeyTransform {
  readonly timeScale: number;
  readonly timePivot: number;
  readonly timeMove: number;
  readonly valuePivot: number;
  readonly valueMove: number;
  /** Scale of values at the first and the last frame of the box. */
  readonly valueScaleStart: number;
  readonly valueScaleEnd: number;
  /** The frames of the box. */
  readonly boxStart: number;
  readonly boxEnd: number;
  readonly wholeFrames: boolean;
}

/** The transformed curve, and how many keys that stay were overwritten. @param rows the keys that move, rising */
export function transformKeys(
  curve: Curve,
  rows: readonly number[],
  by: KeyTransform,
): { curve: Curve; overwritten: number } {
  const count = curve.times.length;
  const moving = new Uint8Array(count);
  for (const row of rows) moving[row] = 1;
  // Where all move, all stay in their order.
  const order =
    rows.length === count ? null : [...allRows(curve).filter((row) => moving[row] === 0), ...rows];
  const still = count - rows.length;
  const result = rebuild(curve, order, (columns) => {
    if (by.timeScale < 0) turnRound(curve, columns, still, rows);
    for (let i = still; i < count; i += 1) transformKey(columns, i, by);
  });
  return { curve: result, overwritten: count - result.times.length };
}

/** Where a key at `time` comes to lie. */
export function landingOf(time: number, by: KeyTransform): number {
  const moved = by.timePivot + (time - by.timePivot) * by.timeScale + by.timeMove;
  return by.wholeFrames ? Math.round(moved) : moved;
}

function transformKey(columns: Columns, i: number, by: KeyTransform): void {
  const time = columns.times[i]!;
  const value = columns.values[i]!;
  const length = by.boxEnd - by.boxStart;
  const u = length > 0 ? (time - by.boxStart) / length : 0;
  const scale = by.valueScaleStart + (by.valueScaleEnd - by.valueScaleStart) * u;
  const growth = length > 0 ? (by.valueScaleEnd - by.valueScaleStart) / length : 0;
  const away = value - by.valuePivot;
  columns.times[i] = landingOf(time, by);
  columns.values[i] = by.valuePivot + away * scale + by.valueMove;
  for (const name of ['slopesIn', 'slopesOut'] as const)
    columns[name][i] = (columns[name][i]! * scale + growth * away) / by.timeScale;
  for (const name of ['lengthsIn', 'lengthsOut'] as const) columns[name][i]! *= Math.abs(by.timeScale);
}

/** Exchanges the two sides of each moved key, and the kinds of the segments between neighbours. */
function turnRound(curve: Curve, columns: Columns, first: number, rows: readonly number[]): void {
  rows.forEach((row, k) => {
    exchangeSides(columns, first + k);
    // The segment that led here from a key that turned too now leads on; the key that comes last leads on as the last did.
    let end = k;
    while (rows[end + 1] === rows[end]! + 1) end += 1;
    columns.segments[first + k] =
      rows[k - 1] === row - 1 ? curve.segments[row - 1]! : curve.segments[rows[end]!]!;
  });
}
