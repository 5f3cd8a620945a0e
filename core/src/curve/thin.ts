/**
 * Thinning a curve: the same motion within a tolerance, with as few keys as a fit needs.
 *
 * A curve is cut into *runs*: between locked keys, at stepped segments, and at the ends of what is
 * selected. A run's two end keys stay and keep their outer tangents, so that nothing outside moves. Each run
 * is sampled to points (its keys, and places between where keys are far apart), fitted, and then
 * compared with the old curve exactly; where the space between two points hides more than the
 * tolerance a point is added there, or at last a key kept, and the run is fitted again. Keys stay on frames that had one, and a run that would
 * not get shorter stays as it was, its tangent rules too.
 *
 * *Coarse samples.* Samples that turn out to be of cubic segments (`fit.ts`) are held at the samples alone: between them those
 * segments are what was meant, and the straight lines are not.
 */
import { bisectRight } from '../base/bisect.ts';
import { FLAG, SEGMENT, TANGENT } from './curve.ts';
import type { Columns, Curve } from './curve.ts';
import { straySegments } from './difference.ts';
import { fitPoints } from './fit.ts';
import type { Fit } from './fit-segment.ts';
import { strayBetween } from './fit-segment.ts';
import type { FittedSegment } from './fit-segment.ts';
import { newPiece } from './piece.ts';
import { strayFromLines } from './piece-difference.ts';
import { rebuild } from './rebuild.ts';
import { nearestPlace, peaks, runPoints, withPoints } from './thin-points.ts';
import type { RunPoints } from './thin-points.ts';

export interface ThinOptions {
  /** Greatest distance from the old curve, in its unit; > 0. */
  readonly tolerance: number;
  /** Keep a key on each peak and valley that stands out by more than the tolerance. */
  readonly keepPeaks: boolean;
  /** Frames that keep (or get) a key, rising. */
  readonly keepFrames: readonly number[];
  /** One direction on both sides of each key, at the cost of more keys; else corners where that saves keys. */
  readonly joined: boolean;
  /** Let handles have any length instead of a third of their segment. */
  readonly weighted: boolean;
  /** A few keys more do no harm where that is several times as fast: what is written by the way, and tried again and again. */
  readonly quick?: boolean;
  /** Put keys on whole frames only. */
  readonly wholeFrames: boolean;
  /** Whether the key of a row takes part; keys outside stay as they are. */
  readonly takesPart: (row: number) => boolean;
}

/** A key of the thinned curve: a row of the old one, or a time between its keys. */
interface PlannedKey {
  readonly row: number;
  readonly time: number;
  readonly value: number;
  /** The fitted segments on either side; null leaves that side as it was. */
  before: FittedSegment | null;
  after: FittedSegment | null;
}

/** The thinned curve; the same object where nothing could go. */
export function thinCurve(curve: Curve, options: ThinOptions): Curve {
  const planned: PlannedKey[] = [];
  const count = curve.times.length;
  // Keys ahead of those that take part, and past them, are not even looked at.
  let head = 0;
  while (head < count && !options.takesPart(head)) head += 1;
  let tail = count;
  while (tail > head && !options.takesPart(tail - 1)) tail -= 1;
  let row = head;
  while (row < tail) {
    const end = runEnd(curve, row, options);
    if (end - row >= 2 || (end - row === 1 && options.wholeFrames)) {
      const run = thinRun(curve, row, end, options);
      // The last key of a run may be the first of the next.
      const last = planned[planned.length - 1];
      if (last && last.row === row) {
        last.after = run[0]!.after;
        planned.push(...run.slice(1));
      } else planned.push(...run);
      row = end;
      if (end === tail - 1) break;
    } else {
      const last = planned[planned.length - 1];
      const redundant = last?.after === null && isRedundantStep(curve, last.row, row, options);
      if (last?.row !== row && !redundant) planned.push(plain(curve, row));
      row += 1;
    }
  }
  if (planned.length === tail - head && planned.every((key) => key.before === null && key.after === null))
    return curve;
  return planAsCurve(curve, planned, head, tail);
}

/** The planned keys, with the old rows ahead of `head` and from `tail` on. */
function planAsCurve(curve: Curve, planned: readonly PlannedKey[], head: number, tail: number): Curve {
  const after = head + planned.length;
  const rows = new Int32Array(after + curve.times.length - tail);
  for (let i = 0; i < head; i += 1) rows[i] = i;
  for (let i = head; i < after; i += 1) rows[i] = planned[i - head]!.row;
  for (let i = after; i < rows.length; i += 1) rows[i] = tail + i - after;
  return rebuild(curve, rows, (columns) => {
    for (let i = head; i < after; i += 1) {
      const key = planned[i - head]!;
      // An old key between old segments is what it was.
      if (key.row < 0 || key.before !== null || key.after !== null) writeKey(columns, i, key);
    }
  });
}

const plain = (curve: Curve, row: number): PlannedKey => ({
  row,
  time: curve.times[row]!,
  value: curve.values[row]!,
  before: null,
  after: null,
});

const isFree = (curve: Curve, row: number, options: ThinOptions) =>
  options.takesPart(row) && (curve.flags[row]! & FLAG.locked) === 0;

/** The last row of the run that starts at `row`; `row` itself where no run can start. */
function runEnd(curve: Curve, row: number, options: ThinOptions): number {
  let end = row;
  while (
    end + 1 < curve.times.length &&
    isFree(curve, end, options) &&
    isFree(curve, end + 1, options) &&
    curve.segments[end] !== SEGMENT.stepped
  ) {
    end += 1;
  }
  return end;
}

/** A key that repeats the stepped value before it, inside a stepped stretch. */
function isRedundantStep(curve: Curve, kept: number, row: number, options: ThinOptions): boolean {
  return (
    row + 1 < curve.times.length &&
    isFree(curve, row, options) &&
    !isKept(options.keepFrames, curve.times[row]!) &&
    curve.segments[row - 1] === SEGMENT.stepped &&
    curve.segments[row] === SEGMENT.stepped &&
    curve.segments[kept] === SEGMENT.stepped &&
    Math.abs(curve.values[row]! - curve.values[kept]!) <= options.tolerance
  );
}

/** Whether a frame is among sorted ones. */
function isKept(sorted: readonly number[], frame: number): boolean {
  const at = bisectRight(sorted, frame + 1e-6) - 1;
  return at >= 0 && sorted[at]! >= frame - 1e-6;
}

/** How often points are added where a fit strays between points, before keys are kept there. */
const CLOSER = 8;

function thinRun(curve: Curve, start: number, end: number, options: ThinOptions): PlannedKey[] {
  let points = runPoints(curve, start, end, options);
  const { times } = points;
  // Times, since rows change with the points.
  const kept = new Set(times.subarray(1, -1).filter((time) => isKept(options.keepFrames, time)));
  // Past its keys a sloping curve goes on as its outermost segment does: that one stays.
  if (start === 0 && curve.leadIn === 'slope') keepRow(points, 1, kept);
  if (end === curve.times.length - 1 && curve.leadOut === 'slope') keepRow(points, end - 1, kept);
  const standing = options.keepPeaks
    ? peaks(points.values, options.tolerance).map((at) => times[nearestPlace(points, at)]!)
    : [];
  const asItWas = () => Array.from({ length: end - start + 1 }, (_, i) => plain(curve, start + i));
  const fitted = (among?: ReadonlySet<number>) =>
    fitPoints(points, {
      // A hair below the tolerance leaves room for what lies between the points.
      tolerance: options.tolerance * 0.988,
      candidate: (at) =>
        among ? among.has(points.times[at]!) : points.candidate[at] === 1 || kept.has(points.times[at]!),
      kept: rowsAt(points, among ?? kept),
      peaks: rowsAt(
        points,
        standing.filter((time) => !kept.has(time)),
      ),
      joined: options.joined,
      weighted: options.weighted,
      quick: options.quick,
      strays: points.dense
        ? (trial) => placesIn(denseStrays(trial, points, options.tolerance), trial, points, kept)
        : undefined,
    });
  let fit = fitted();
  for (let round = 0; ; round += 1) {
    const keys = plannedKeys(curve, points, fit, options);
    if (keys.length > end - start && !options.keepFrames.some((frame) => !rowAt(curve, frame)))
      return asItWas();
    if (points.dense && fit.exact) return keys;
    const strays = points.dense
      ? denseStrays(fit, points, options.tolerance)
      : comparedStrays(curve, keys, options.tolerance);
    if (strays.length === 0) return keys;
    const closer =
      round < CLOSER && !options.weighted
        ? strays.map(([, frame]) => frame).filter((frame) => !isPoint(points, frame))
        : [];
    if (closer.length > 0) {
      // Mostly the same keys can hold there too, with other slopes.
      const same = new Set(keys.map(({ time }) => time));
      points = withPoints(points, closer, curve);
      const again = fitted(same);
      fit = again.holds ? again : fitted();
      continue;
    }
    const known = kept.size;
    for (const at of placesIn(strays, fit, points, kept)) kept.add(points.times[at]!);
    if (kept.size === known) return asItWas();
    fit = fitted();
  }
}

function plannedKeys(curve: Curve, points: RunPoints, fit: Fit, options: ThinOptions): PlannedKey[] {
  const own = (k: number) =>
    ownSegment(curve, points, fit.keys[k]!, fit.keys[k + 1]!, fit.segments[k]!, options);
  const segments = fit.segments.map((_, k) => own(k));
  return fit.keys.map((at, i) => ({
    row: points.rows[at]!,
    time: points.times[at]!,
    value: points.values[at]!,
    before: segments[i - 1] ?? null,
    after: segments[i] ?? null,
  }));
}

/** The rows of points that stand at times, rising. */
const rowsAt = ({ times }: RunPoints, of: Iterable<number>): number[] =>
  [...of].map((time) => bisectRight(times, time) - 1).sort((a, b) => a - b);

/** Whether a frame is a point already, but for rounding. */
function isPoint({ times }: RunPoints, frame: number): boolean {
  const at = bisectRight(times, frame);
  return Math.min(Math.abs(times[at - 1]! - frame), Math.abs((times[at] ?? Infinity) - frame)) < 1e-6;
}

/** Keeps the point that an old row is, where it lies within the run. */
function keepRow({ times, rows }: RunPoints, row: number, kept: Set<number>): void {
  const at = rows.indexOf(row);
  if (at > 0 && at < rows.length - 1) kept.add(times[at]!);
}

const rowAt = (curve: Curve, frame: number) => isKept(curve.times as unknown as readonly number[], frame);

/** Marks a segment that spans just one old segment: it keeps the old shape exactly. */
const KEEP_SEGMENT: FittedSegment = {
  slopeOut: NaN,
  slopeIn: NaN,
  lengthOut: NaN,
  lengthIn: NaN,
  weighted: false,
};

/**
 * What stands between two keys that were neighbours: the old segment, unless one that shares their directions holds as well.
 * Thousands of straight pieces a frame long would be nothing that a hand can take up.
 */
function ownSegment(
  curve: Curve,
  points: RunPoints,
  from: number,
  to: number,
  fitted: FittedSegment,
  { tolerance, joined }: ThinOptions,
): FittedSegment {
  const row = points.rows[from]!;
  if (row < 0 || points.rows[to] !== row + 1) return fitted;
  const leads =
    (row === 0 && curve.leadIn === 'slope') || (row === curve.times.length - 2 && curve.leadOut === 'slope');
  if (!joined || leads || curve.segments[row] !== SEGMENT.linear) return KEEP_SEGMENT;
  const { slopeOut, slopeIn } = fitted;
  const thirds = points.times[to]! - points.times[from]!;
  const single = { slopeOut, slopeIn, lengthOut: thirds / 3, lengthIn: thirds / 3, weighted: false };
  return strayBetween(points, from, to, single, tolerance) === null ? single : KEEP_SEGMENT;
}

/** Where a fit strays: the segment, and the frame. */
type Stray = readonly [segment: number, frame: number];

/** The points where keys are put since the fit strays there between points; usually none. */
function placesIn(
  strays: readonly Stray[],
  fit: Fit,
  points: RunPoints,
  kept: ReadonlySet<number>,
): number[] {
  const places: number[] = [];
  for (const [k, frame] of strays) {
    const [from, to] = [fit.keys[k]!, fit.keys[k + 1]!];
    const at = placeNear(points, from, to, frame, kept) ?? anyBetween(points, from, to, frame);
    if (at !== null) places.push(at);
  }
  return places;
}

/** The place strictly between two points that is nearest to a frame and where a key may stand, or null. */
function placeNear(
  points: RunPoints,
  from: number,
  to: number,
  frame: number,
  taken: ReadonlySet<number>,
): number | null {
  let best: number | null = null;
  for (let at = from + 1; at < to; at += 1) {
    if (points.candidate[at] !== 1 || taken.has(points.times[at]!)) continue;
    if (best === null || Math.abs(points.times[at]! - frame) < Math.abs(points.times[best]! - frame))
      best = at;
  }
  return best;
}

/** Where no place is left on which a key should stand, one on which it may: else the promise would not be held. */
function anyBetween({ times, rows }: RunPoints, from: number, to: number, frame: number): number | null {
  let best: number | null = null;
  const away = (at: number) => Math.abs(times[at]! - frame) + (rows[at]! < 0 ? 1 : 0);
  for (let at = from + 1; at < to; at += 1) if (best === null || away(at) < away(best)) best = at;
  return best;
}

/** Segments that stray, with the frame where, by comparing the curve that would result with the old one. */
function comparedStrays(curve: Curve, keys: readonly PlannedKey[], tolerance: number): readonly Stray[] {
  const trial = planAsCurve(curve, keys, 0, curve.times.length);
  const whole = { start: keys[0]!.time, end: keys[keys.length - 1]!.time };
  return [...straySegments(curve, trial, whole, tolerance)];
}

/** The same for samples a frame apart, straight from the fit: captured motion is made of them. */
function denseStrays(fit: Fit, points: RunPoints, tolerance: number): Stray[] {
  const strays: Stray[] = [];
  fit.segments.forEach((segment, k) => {
    const [from, to] = [fit.keys[k]!, fit.keys[k + 1]!];
    // Between neighbours the old line may stay.
    const frame =
      points.rows[to]! - points.rows[from]! > 1 ? strayOf(points, from, to, segment, tolerance) : null;
    if (frame !== null) strays.push([k, frame]);
  });
  return strays;
}

/** Where a fitted segment strays from the lines between samples, or null. */
function strayOf(
  points: RunPoints,
  from: number,
  to: number,
  segment: FittedSegment,
  tolerance: number,
): number | null {
  if (!segment.weighted) return strayBetween(points, from, to, segment, tolerance);
  const { times, values } = points;
  const piece = { ...newPiece(), ...segment, straight: false };
  piece.start = times[from]!;
  piece.end = times[to]!;
  piece.value = values[from]!;
  piece.rise = values[to]! - values[from]!;
  return strayFromLines(piece, times, values, from, to, tolerance);
}

function writeKey(columns: Columns, i: number, key: PlannedKey): void {
  columns.times[i] = key.time;
  columns.values[i] = key.value;
  if (key.before === null && key.after === null) return;
  // Outer sides keep the slopes they had, free of their rules: the next neighbour is another key now.
  columns.tangentsIn[i] = TANGENT.free;
  columns.tangentsOut[i] = TANGENT.free;
  if (key.before && key.before !== KEEP_SEGMENT) {
    columns.slopesIn[i] = key.before.slopeIn;
    columns.lengthsIn[i] = key.before.lengthIn;
    columns.flags[i] = (columns.flags[i]! & ~FLAG.weightedIn) | (key.before.weighted ? FLAG.weightedIn : 0);
  }
  if (key.after && key.after !== KEEP_SEGMENT) {
    columns.segments[i] = SEGMENT.cubic;
    columns.slopesOut[i] = key.after.slopeOut;
    columns.lengthsOut[i] = key.after.lengthOut;
    columns.flags[i] = (columns.flags[i]! & ~FLAG.weightedOut) | (key.after.weighted ? FLAG.weightedOut : 0);
  }
  // The first and the last key of a curve have one tangent that shows nowhere: it follows the other.
  if (i === 0 && key.row <= 0) columns.slopesIn[i] = columns.slopesOut[i]!;
  if (i === columns.times.length - 1 && key.after === null) columns.slopesOut[i] = columns.slopesIn[i]!;
  const corner =
    Math.abs(columns.slopesIn[i]! - columns.slopesOut[i]!) > 1e-9 * (1 + Math.abs(columns.slopesIn[i]!));
  columns.flags[i] = (columns.flags[i]! & ~FLAG.broken) | (corner ? FLAG.broken : 0);
  if (!corner && columns.slopesIn[i] === 0) columns.tangentsIn[i] = columns.tangentsOut[i] = TANGENT.flat;
}
