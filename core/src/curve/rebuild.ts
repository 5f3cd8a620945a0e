/**
 * The one function through which every insertion, removal, move and change of keys goes. It gathers
 * all columns, lets the caller write into the fresh copies, and then restores what must always hold:
 * times rise strictly, ids are unique, slopes follow their rules, handles fit into their segments.
 */
import { COLUMN_NAMES, emptyColumns, EMPTY_CURVE, FLAG, SEGMENT, TANGENT } from './curve.ts';
import type { Columns, Curve } from './curve.ts';
import { monotoneHandles } from '../math/bezier-time.ts';
import { applyTangentRules } from './tangents.ts';

/** Keys closer than this are one key, in frames. */
const COINCIDENT_FRAMES = 1e-6;

/**
 * A new curve from rows of `source`.
 *
 * @param rows for each key of the new curve the row of `source` that it comes from, or −1 for a new key;
 *   null takes all rows as they are. Where two keys come to lie on one frame the later in `rows` stays, so
 *   put what shall win last.
 * @param write changes the gathered columns in place, in the order of `rows`; times may come out of order.
 *   New keys start as smooth cubic keys with an id of their own.
 */
export function rebuild(
  source: Curve,
  rows: ArrayLike<number> | null,
  write?: (columns: Columns) => void,
): Curve {
  const gathered = gather(source, rows);
  write?.(gathered);
  const columns = inOrder(gathered);
  restoreLengths(columns);
  applyTangentRules(columns);
  const { leadIn, leadOut, leadInCount, leadOutCount, extras } = source;
  return { ...columns, leadIn, leadOut, leadInCount, leadOutCount, ...(extras && { extras }) };
}

/** A curve of new keys alone: `write` fills the columns of `count` keys. */
export function buildCurve(count: number, write: (columns: Columns) => void): Curve {
  return rebuild(EMPTY_CURVE, new Int32Array(count).fill(-1), write);
}

/** The rows 0, 1, … of a curve. */
export function allRows(curve: Curve): number[] {
  return Array.from(curve.times, (_, row) => row);
}

function gather(source: Curve, rows: ArrayLike<number> | null): Columns {
  if (rows === null) {
    const copied = emptyColumns(source.times.length);
    for (const name of COLUMN_NAMES) copied[name].set(source[name]);
    return copied;
  }
  const count = rows.length;
  const columns = emptyColumns(count);
  // Where an edit leaves a long stretch as it is, it is copied as one.
  const tail = untouchedTail(rows, source.times.length);
  for (const name of COLUMN_NAMES) {
    const from = source[name];
    const to = columns[name];
    for (let i = 0; i < tail; i += 1) if (rows[i]! >= 0) to[i] = from[rows[i]!]!;
    if (tail < count) to.set(from.subarray(rows[tail]), tail);
  }
  let nextId = 1;
  for (const id of source.ids) if (id >= nextId) nextId = id + 1;
  for (let i = 0; i < count; i += 1) {
    if (rows[i]! >= 0) continue;
    columns.ids[i] = nextId++;
    columns.segments[i] = SEGMENT.cubic;
    columns.tangentsIn[i] = TANGENT.smooth;
    columns.tangentsOut[i] = TANGENT.smooth;
  }
  return columns;
}

/** Where the rows go on in order to the last of the source; the count where they do not. */
function untouchedTail(rows: ArrayLike<number>, count: number): number {
  let i = rows.length;
  for (let row = count - 1; row >= 0 && i > 0 && rows[i - 1] === row; row -= 1) i -= 1;
  return i;
}

/** Sorted by time, one key for each frame. Almost always the columns are in order already. */
function inOrder(columns: Columns): Columns {
  const { times } = columns;
  const count = times.length;
  let sorted = true;
  for (let i = 1; i < count && sorted; i += 1) sorted = times[i]! - times[i - 1]! > COINCIDENT_FRAMES;
  if (sorted) return columns;
  // Stable: of keys on one frame, the later in the caller's order comes later and wins.
  const order = Array.from(times, (_, i) => i).sort((a, b) => times[a]! - times[b]! || a - b);
  const kept: number[] = [];
  for (const row of order) {
    const last = kept[kept.length - 1];
    if (last !== undefined && times[row]! - times[last]! <= COINCIDENT_FRAMES) {
      kept[kept.length - 1] = Math.max(row, last);
    } else kept.push(row);
  }
  const result = emptyColumns(kept.length);
  for (const name of COLUMN_NAMES) kept.forEach((row, i) => (result[name][i] = columns[name][row]!));
  return result;
}

/** Unweighted handles take a third of their segment; weighted ones are kept so that time never runs backward. */
function restoreLengths(columns: Columns): void {
  const { times, lengthsIn, lengthsOut, flags } = columns;
  const last = times.length - 1;
  for (let i = 0; i <= last; i += 1) {
    const before = i > 0 ? times[i]! - times[i - 1]! : i < last ? times[i + 1]! - times[i]! : 1;
    const after = i < last ? times[i + 1]! - times[i]! : before;
    if ((flags[i]! & FLAG.weightedIn) === 0) lengthsIn[i] = before / 3;
    else if (i === 0) lengthsIn[i] = Math.min(Math.max(lengthsIn[i]!, 0), (4 / 3) * before);
    if ((flags[i]! & FLAG.weightedOut) === 0) lengthsOut[i] = after / 3;
    else if (i === last) lengthsOut[i] = Math.min(Math.max(lengthsOut[i]!, 0), (4 / 3) * after);
  }
  for (let i = 0; i < last; i += 1) {
    if (((flags[i]! & FLAG.weightedOut) | (flags[i + 1]! & FLAG.weightedIn)) === 0) continue;
    const gap = times[i + 1]! - times[i]!;
    const [a, b] = [lengthsOut[i]! / gap, lengthsIn[i + 1]! / gap];
    const handles = monotoneHandles(a, b);
    if (handles === null) continue;
    // One that stays is not even rounded.
    if (handles[0] !== a) lengthsOut[i] = handles[0] * gap;
    if (handles[1] !== b) lengthsIn[i + 1] = handles[1] * gap;
  }
}
