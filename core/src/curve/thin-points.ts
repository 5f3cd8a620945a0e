/**
 * The points of a run that is thinned: its keys, and places between where they are far apart; where keys may stand, and which of
 * the points stand out.
 */
import { SEGMENT } from './curve.ts';
import type { Curve } from './curve.ts';
import { sampleInto } from './evaluate.ts';
import type { Between } from './fit-segment.ts';

/** What of the wishes decides on points and places. */
interface PlaceWishes {
  readonly wholeFrames: boolean;
  readonly keepFrames: readonly number[];
}

export interface RunPoints {
  readonly times: Float64Array;
  readonly values: Float64Array;
  /** The row of the old curve that a point is, or −1. */
  readonly rows: Int32Array;
  /** 1 where a key may stand. */
  readonly candidate: Uint8Array;
  /** Whether all are keys no more than a frame apart with straight lines between them. */
  readonly dense: boolean;
  /** Whether they stand exactly a frame apart. */
  readonly even: boolean;
  /** Whether straight lines run between them. */
  readonly straight: boolean;
  /** What runs between them where no straight lines do. */
  readonly between: Between | undefined;
}

/** The points with more of them where a fit strayed: no keys may stand there. @param frames rising, none of them a point yet */
export function withPoints(points: RunPoints, frames: readonly number[], curve: Curve): RunPoints {
  const times = new Float64Array(points.times.length + frames.length);
  const rows = new Int32Array(times.length);
  const candidate = new Uint8Array(times.length);
  let [old, added] = [0, 0];
  for (let i = 0; i < times.length; i += 1) {
    if (added < frames.length && frames[added]! < points.times[old]!) {
      times[i] = frames[added++]!;
      rows[i] = -1;
    } else {
      times[i] = points.times[old]!;
      rows[i] = points.rows[old]!;
      candidate[i] = points.candidate[old++]!;
    }
  }
  const values = new Float64Array(times.length);
  sampleInto(values, 0, 1, curve, times);
  const between = points.between && betweenOf(curve, times, values);
  return { ...points, times, values, rows, candidate, even: false, between };
}

/** The sway of a cubic is greater than what it is at the eighths of a gap by no more than this. */
const MORE_SWAY = 1.07;

function betweenOf(curve: Curve, times: Float64Array, values: Float64Array): Between {
  const gaps = times.length - 1;
  const places = new Float64Array(7 * gaps);
  for (let i = 0; i < places.length; i += 1) {
    const gap = Math.trunc(i / 7);
    places[i] = times[gap]! + ((times[gap + 1]! - times[gap]!) * ((i % 7) + 1)) / 8;
  }
  const known = new Float64Array(places.length);
  sampleInto(known, 0, 1, curve, places);
  const sway = new Float64Array(gaps);
  for (let i = 0; i < known.length; i += 1) {
    const gap = Math.trunc(i / 7);
    const line = values[gap]! + ((values[gap + 1]! - values[gap]!) * ((i % 7) + 1)) / 8;
    sway[gap] = Math.max(sway[gap]!, MORE_SWAY * Math.abs(known[i]! - line));
  }
  return { values: known, sway };
}

/** Most points that a stretch between two keys gets. */
const MOST_BETWEEN = 24;

/** The run as points: its keys, and two places for each frame between keys that are further apart. */
export function runPoints(curve: Curve, start: number, end: number, options: PlaceWishes): RunPoints {
  if (isDense(curve, start, end, options)) return densePoints(curve, start, end);
  const times: number[] = [];
  const rows: number[] = [];
  for (let row = start; row <= end; row += 1) {
    times.push(curve.times[row]!);
    rows.push(row);
    if (row === end) continue;
    for (const time of placesBetween(curve.times[row]!, curve.times[row + 1]!, options)) {
      times.push(time);
      rows.push(-1);
    }
  }
  const grid = Float64Array.from(times);
  const values = new Float64Array(grid.length);
  sampleInto(values, 0, 1, curve, grid);
  const kept = new Set(options.keepFrames);
  const whole = (time: number) => Math.abs(time - Math.round(time)) < 1e-6;
  // Keys stay on frames that had one; one between frames may come to stand on the nearest whole one.
  const nearest = new Set<number>();
  if (options.wholeFrames)
    for (let row = start; row <= end; row += 1)
      if (!whole(curve.times[row]!)) nearest.add(Math.round(curve.times[row]!));
  const candidate = Uint8Array.from(times, (time, i) =>
    kept.has(time) || nearest.has(time) || (rows[i]! >= 0 && (!options.wholeFrames || whole(time))) ? 1 : 0,
  );
  return {
    times: grid,
    values,
    rows: Int32Array.from(rows),
    candidate,
    dense: false,
    even: false,
    straight: false,
    between: betweenOf(curve, grid, values),
  };
}

/**
 * Whether the rows are samples: keys no more than a frame apart with straight lines between them, on frames where
 * keys may stand.
 */
function isDense(
  { times, segments }: Curve,
  start: number,
  end: number,
  { wholeFrames }: PlaceWishes,
): boolean {
  for (let row = start; row < end; row += 1) {
    if (segments[row] !== SEGMENT.linear || times[row + 1]! - times[row]! > 1 + 1e-9) return false;
    if (wholeFrames && row > start && Math.abs(times[row]! - Math.round(times[row]!)) >= 1e-6) return false;
  }
  return true;
}

/** Samples are their own points. */
function densePoints(curve: Curve, start: number, end: number): RunPoints {
  const times = curve.times.subarray(start, end + 1);
  const candidate = new Uint8Array(times.length).fill(1);
  const rows = new Int32Array(times.length);
  let even = true;
  for (let i = 0; i < rows.length; i += 1) {
    rows[i] = start + i;
    even &&= i === 0 || times[i]! - times[i - 1]! === 1;
  }
  return {
    times,
    values: curve.values.subarray(start, end + 1),
    rows,
    candidate,
    dense: true,
    even,
    straight: true,
    between: undefined,
  };
}

/** Places between two keys that stand more than a frame apart. */
function placesBetween(from: number, to: number, options: PlaceWishes): number[] {
  const gap = to - from;
  // Keys on neighbouring frames are most of what is thinned: one place, and no lists.
  if (gap === 1 && Number.isInteger(from) && options.keepFrames.length === 0) return [from + 0.5];
  const parts = Math.min(MOST_BETWEEN, Math.ceil(gap * 2));
  const places = Array.from({ length: parts - 1 }, (_, part) => from + (gap * (part + 1)) / parts);
  if (options.wholeFrames) for (let frame = Math.ceil(from); frame < to; frame += 1) places.push(frame);
  places.push(...options.keepFrames);
  const inside = places.filter((time) => time > from + 1e-6 && time < to - 1e-6).sort((a, b) => a - b);
  return inside.filter((time, i) => i === 0 || time - inside[i - 1]! > 1e-6);
}

/** Rows of the points that stand out from both sides by more than `depth`. */
export function peaks(values: ArrayLike<number>, depth: number): number[] {
  const result: number[] = [];
  let rising = 0;
  let extreme = 0;
  for (let i = 1; i < values.length; i += 1) {
    const ahead = values[i]! - values[extreme]!;
    if (rising === 0) {
      // Until the first real move the lowest and highest so far are not known to be peaks.
      if (Math.abs(ahead) > depth) {
        rising = Math.sign(ahead);
        extreme = i;
      }
    } else if (ahead * rising >= 0) extreme = i;
    else if (Math.abs(ahead) > depth) {
      result.push(extreme);
      rising = -rising;
      extreme = i;
    }
  }
  return result;
}

/** The place nearest to a point where a key may stand, never an end. */
export function nearestPlace(points: RunPoints, at: number): number {
  const last = points.times.length - 1;
  for (let away = 0; away <= last; away += 1) {
    for (const place of [at - away, at + away]) {
      if (place > 0 && place < last && points.candidate[place] === 1) return place;
    }
  }
  return at;
}
