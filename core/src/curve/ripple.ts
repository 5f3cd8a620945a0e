/** Keys that move on when a gap before them changes, and time that is put in or taken out. */
import { allRows, rebuild } from './rebuild.ts';
import type { Curve } from './curve.ts';

const HAIR = 1e-6;

export interface Rippled {
  readonly curve: Curve;
  /** Keys that fell onto a frame that has one already, and went into it. */
  readonly merged: number;
}

/**
 * Every key strictly later than `at` moves by `by` frames. Where time is taken out, keys that would fall onto `at` or ahead of
 * it stay one frame after it, in the order they had.
 */
export function rippleCurve(curve: Curve, at: number, by: number): Rippled {
  const { times } = curve;
  if (by === 0 || times.length === 0 || times[times.length - 1]! <= at + HAIR) return { curve, merged: 0 };
  const result = rebuild(curve, null, (columns) => {
    for (let row = 0; row < times.length; row += 1)
      if (times[row]! > at + HAIR)
        columns.times[row] = by > 0 ? times[row]! + by : pulled(times[row]!, at, by);
  });
  return { curve: result, merged: times.length - result.times.length };
}

const pulled = (time: number, at: number, by: number) => Math.max(time + by, Math.min(time, at + 1));

/** The curve without the time from `from` to `to`: keys inside go, keys on `to` and later come to follow `from`. */
export function removeTime(curve: Curve, from: number, to: number): Curve {
  const { times } = curve;
  const inside = (row: number) => times[row]! > from + HAIR && times[row]! < to - HAIR;
  const kept = allRows(curve).filter((row) => !inside(row));
  const moves = times.length > 0 && times[times.length - 1]! > from + HAIR;
  if (!moves) return curve;
  return rebuild(curve, kept, (columns) => {
    for (let i = 0; i < kept.length; i += 1)
      if (columns.times[i]! >= to - HAIR && columns.times[i]! > from + HAIR) columns.times[i]! -= to - from;
  });
}

/** The curve with its keys at other times; the later of two that meet stays. @param timeOf rising, or keys change order */
export function retimeCurve(curve: Curve, timeOf: (time: number) => number): Rippled {
  const { times } = curve;
  let moved = false;
  const target = times.map((time) => {
    const next = timeOf(time);
    moved ||= next !== time;
    return next;
  });
  if (!moved) return { curve, merged: 0 };
  const result = rebuild(curve, null, (columns) => columns.times.set(target));
  return { curve: result, merged: times.length - result.times.length };
}
