/**
 * A curve carried along when time changes. What a piece of time shows, it shows where that comes to lie: keys are set at the cuts
 * first, and slopes and handle lengths go with the gap that they lie in. Where time is put in the value at the cut holds.
 * Where time is taken out and the two sides do not meet, the curve runs straight over in the frame ahead of the cut.
 */
import { timeReader } from '../base/time-map.ts';
import type { TimeMap, TimeReader } from '../base/time-map.ts';
import { bisectRight } from '../base/bisect.ts';
import { FLAG, SEGMENT, TANGENT } from './curve.ts';
import type { Columns, Curve } from './curve.ts';
import { evaluate } from './evaluate.ts';
import { rebuild } from './rebuild.ts';
import { addKeysKeepingShape } from './split.ts';

export interface ThroughTimeOptions {
  /** Keys on whole frames land on whole frames. */
  readonly wholeFrames?: boolean;
  /** Rules give the slopes anew; left out, the shape within each gap stays. */
  readonly rules?: boolean;
  /** Where time is put in the value goes on by this part of the way from the key before. */
  readonly drift?: number;
}

export interface ThroughTime {
  readonly curve: Curve;
  /** Keys that fell onto a frame that has one already, and went into it. */
  readonly merged: number;
  /** Keys in time that was taken out. */
  readonly gone: number;
}

/** The curve where a map takes it; the same object where it stays. Leads stay what they are. */
export function curveThroughTime(curve: Curve, map: TimeMap, options: ThroughTimeOptions = {}): ThroughTime {
  return readThroughTime(curve, timeReader(map), options);
}

interface Placed {
  readonly row: number;
  readonly time: number;
  /** both: a key as it is; in, out: one side of a key that time was put in at; join: the last key before a cut and the first after. */
  readonly sides: 'both' | 'in' | 'out';
  /** The row whose incoming side it takes. */
  readonly inRow: number;
  /** Whether the segment that leads here runs straight over a cut. */
  readonly bridged: boolean;
}

export function readThroughTime(source: Curve, time: TimeReader, options: ThroughTimeOptions): ThroughTime {
  const count = source.times.length;
  if (count === 0) return { curve: source, merged: 0, gone: 0 };
  const { curve, bridges } = keyedAtCuts(source, time);
  const placed: Placed[] = [];
  let gone = 0;
  const { times } = curve;
  const last = times.length - 1;
  for (let row = 0; row <= last; row += 1) {
    const at = times[row]!;
    if (time.isGone(at)) {
      gone += 1;
      continue;
    }
    const [a, b] = [-1, 1].map((side) => landing(at, time.at(at, side as -1 | 1), options)) as [
      number,
      number,
    ];
    const before = placed[placed.length - 1];
    const steps = curve.segments[row] === SEGMENT.stepped && row < last;
    // Where a lead begins, a key more would be a longer cycle.
    const [opens, ends] = [row === 0 && curve.leadIn !== 'hold', row === last && curve.leadOut !== 'hold'];
    if (b > a + 1e-6 && count > 1 && !steps && !opens && !ends) {
      placed.push({ row, time: a, sides: 'in', inRow: row, bridged: false });
      placed.push({ row, time: b, sides: 'out', inRow: row, bridged: false });
    } else if (before && Math.abs(before.time - a) < 1e-6 && isCutBetween(times[before.row]!, at, time)) {
      // Two sides of time that was taken out.
      placed[placed.length - 1] = {
        row,
        time: a,
        sides: 'both',
        inRow: before.inRow,
        bridged: bridges.has(at),
      };
    } else
      placed.push({
        row,
        time: count > 1 && !opens ? a : b,
        sides: 'both',
        inRow: row,
        bridged: bridges.has(at),
      });
  }
  const still =
    curve === source &&
    placed.length === count &&
    placed.every(({ row, time: at }, i) => row === i && at === times[i]);
  if (still) return { curve: source, merged: 0, gone: 0 };
  const result = written(curve, placed, time, options);
  return { curve: result, merged: placed.length - result.times.length, gone };
}

function landing(at: number, place: number, { wholeFrames }: ThroughTimeOptions): number {
  return wholeFrames && Number.isInteger(at) ? Math.round(place) : place;
}

const isCutBetween = (from: number, to: number, time: TimeReader) => time.isGone((from + to) / 2);

/** The curve with keys where a cut would change its shape, and the cuts over which it must run straight. */
function keyedAtCuts(source: Curve, time: TimeReader): { curve: Curve; bridges: ReadonlySet<number> } {
  const { times, values, segments } = source;
  const last = times.length - 1;
  const wanted: number[] = [];
  const bridges = new Set<number>();
  time.cuts.forEach((cut, k) => {
    const earlier = time.cuts[k - 1];
    const closes = earlier !== undefined && time.isGone((earlier + cut) / 2);
    const lost = closes && holdsKey(times, earlier, cut);
    if (closes && lost) {
      const [from, to] = [evaluate(source, earlier), evaluate(source, cut)];
      wanted.push(cut);
      if (Math.abs(from - to) > 1e-9 * (1 + Math.abs(from))) {
        bridges.add(cut);
        wanted.push(bridgeStart(source, earlier));
      } else wanted.push(earlier);
      return;
    }
    if (cut <= times[0]! || cut >= times[last]!) return;
    const row = bisectRight(times, cut) - 1;
    const level =
      segments[row] === SEGMENT.stepped || (values[row] === values[row + 1] && isLevel(source, row));
    if (level) return;
    if (closes) {
      // The two sides lie in one segment: it is left out between them, and they meet only where they are equal.
      const [from, to] = [evaluate(source, earlier), evaluate(source, cut)];
      if (Math.abs(from - to) > 1e-9 * (1 + Math.abs(from))) {
        bridges.add(cut);
        wanted.push(bridgeStart(source, earlier));
      }
    }
    wanted.push(cut);
  });
  return { curve: addKeysKeepingShape(source, wanted), bridges };
}

/** Where the run over a cut begins: a frame ahead of it, or at a key that is nearer. */
function bridgeStart({ times }: Curve, cut: number): number {
  const row = bisectRight(times, cut - 1e-6) - 1;
  return row >= 0 && times[row]! > cut - 1 ? times[row]! : cut - 1;
}

function holdsKey(times: Float64Array, from: number, to: number): boolean {
  const row = bisectRight(times, from + 1e-6);
  return row < times.length && times[row]! < to - 1e-6;
}

const isLevel = ({ slopesOut, slopesIn, segments }: Curve, row: number) =>
  segments[row] === SEGMENT.linear || (slopesOut[row] === 0 && slopesIn[row + 1] === 0);

function written(
  curve: Curve,
  placed: readonly Placed[],
  time: TimeReader,
  options: ThroughTimeOptions,
): Curve {
  const { times } = curve;
  const rows = placed.map(({ row, sides }) => (sides === 'out' ? -1 : row));
  return rebuild(curve, rows, (columns) => {
    placed.forEach(({ row, time: at, sides, inRow }, i) => {
      columns.times[i] = at;
      if (sides === 'out') takeKey(columns, i, curve, row);
      if (inRow !== row) takeIncoming(columns, i, curve, inRow);
    });
    placed.forEach((one, i) => {
      const next = placed[i + 1];
      const rateOut = next ? ratio(curve, one, next, time) : time.rate(times[one.row]!, 1);
      const before = placed[i - 1];
      const rateIn = before ? ratio(curve, before, one, time) : time.rate(times[one.inRow]!, -1);
      columns.slopesIn[i]! /= rateIn;
      columns.lengthsIn[i]! *= rateIn;
      columns.slopesOut[i]! /= rateOut;
      columns.lengthsOut[i]! *= rateOut;
      const uneven =
        time.bends || one.inRow !== one.row || one.sides !== 'both' || Math.abs(rateIn / rateOut - 1) > 1e-9;
      if (uneven && !options.rules) freezeSlopes(columns, i);
      if (one.sides === 'out') hold(columns, i, i - 1, options.drift ?? 0);
      if (one.bridged && i > 0 && columns.segments[i - 1] !== SEGMENT.stepped) {
        columns.segments[i - 1] = SEGMENT.linear;
        freezeSlopes(columns, i - 1);
        freezeSlopes(columns, i);
      }
    });
  });
}

/** New frames for each old one between two placed keys that were neighbours; 1 over time that is new or gone. */
function ratio(curve: Curve, from: Placed, to: Placed, time: TimeReader): number {
  const { times } = curve;
  if (to.inRow !== from.row + 1 || from.sides === 'in') return 1;
  if (time.bends) return Math.max(time.rate(times[from.row]!, 1), 1e-9);
  const gap = (to.time - from.time) / (times[to.inRow]! - times[from.row]!);
  return gap > 0 ? gap : 1;
}

function takeKey(columns: Columns, i: number, curve: Curve, row: number): void {
  for (const name of ['values', 'slopesIn', 'slopesOut', 'lengthsIn', 'lengthsOut'] as const)
    columns[name][i] = curve[name][row]!;
  for (const name of ['segments', 'tangentsIn', 'tangentsOut'] as const) columns[name][i] = curve[name][row]!;
  columns.flags[i] = curve.flags[row]! & ~FLAG.locked;
}

function takeIncoming(columns: Columns, i: number, curve: Curve, row: number): void {
  columns.slopesIn[i] = curve.slopesIn[row]!;
  columns.lengthsIn[i] = curve.lengthsIn[row]!;
  columns.tangentsIn[i] = curve.tangentsIn[row]!;
  columns.flags[i] = (columns.flags[i]! & ~FLAG.weightedIn) | (curve.flags[row]! & FLAG.weightedIn);
  if (columns.slopesIn[i] !== columns.slopesOut[i]) columns.flags[i] |= FLAG.broken;
}

/** Rules that look at both neighbours would bend what lies on the other side of a cut. */
function freezeSlopes(columns: Columns, i: number): void {
  for (const name of ['tangentsIn', 'tangentsOut'] as const)
    if (columns[name][i] === TANGENT.smooth || columns[name][i] === TANGENT.steady)
      columns[name][i] = TANGENT.free;
  if (columns.slopesIn[i] !== columns.slopesOut[i]) columns.flags[i]! |= FLAG.broken;
}

/** The stretch that was put in, from the key at row `from` to the one at `to`. */
function hold(columns: Columns, to: number, from: number, drift: number): void {
  const before = from > 0 ? columns.values[from]! - columns.values[from - 1]! : 0;
  columns.values[to]! += drift * before;
  columns.segments[from] = SEGMENT.cubic;
  const kind = drift > 0 ? TANGENT.steady : TANGENT.flat;
  columns.tangentsOut[from] = columns.tangentsIn[to] = kind;
  columns.slopesOut[from] = columns.slopesIn[to] = 0;
  columns.flags[from] = (columns.flags[from]! & ~FLAG.weightedOut) | FLAG.broken;
  columns.flags[to] = (columns.flags[to]! & ~FLAG.weightedIn) | FLAG.broken;
}
