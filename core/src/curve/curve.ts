/**
 * One channel's function curve: keys and the segments between them, as columns.
 *
 * Layout: row i is key i; times rise strictly. All columns have the same length. `COLUMNS` is the one list
 * of them: whatever copies, checks, stores or sends a curve walks that list, so that a new column cannot be
 * forgotten anywhere.
 *
 *   times        frames
 *   values       the channel's unit
 *   slopesIn/Out units per frame, the directions of the two tangents
 *   lengthsIn/Out handle lengths in frames; a third of the segment unless the side is weighted, and then any with which time
 *                does not turn back (`math/bezier-time.ts`): as long as the segment, or longer beside a short one
 *   segments     the kind of the segment that starts at the key: `SEGMENT`
 *   tangentsIn/Out the rule that gives the slope: `TANGENT`
 *   flags        bits of `FLAG`
 *   ids          stay with a key through moves; unique in the curve
 *
 * A curve is never changed in place; `rebuild` makes every new one.
 */
export const SEGMENT = { stepped: 0, linear: 1, cubic: 2 } as const;
export type SegmentKind = keyof typeof SEGMENT;

/** Rules for slopes, applied again when neighbours move. `free` stays as it was set. */
export const TANGENT = { free: 0, flat: 1, linear: 2, smooth: 3, steady: 4 } as const;
export type TangentKind = keyof typeof TANGENT;

export const FLAG = {
  /** The two tangents of the key have directions of their own. */
  broken: 1,
  /** The key is not changed by any edit. */
  locked: 2,
  /** The incoming, outgoing handle has a length of its own. */
  weightedIn: 4,
  weightedOut: 8,
  /** A reversed hold begins here, beside the key that it belongs to; see `reverse.ts`. */
  turned: 16,
  /** The stepped segment that starts here was a curve, was straight; see `timing.toSpline`. */
  wasCubic: 32,
  wasLinear: 64,
  /** The only key of a weight, set by somebody on its frame; else a single key says one weight for all of the shot. */
  keyed: 128,
} as const;

/** What the curve does ahead of its first key and past its last; see `lead.ts`. */
export const LEADS = ['hold', 'slope', 'loop', 'loopCarry', 'swing'] as const;
export type Lead = (typeof LEADS)[number];

export interface Curve {
  readonly times: Float64Array;
  readonly values: Float64Array;
  readonly slopesIn: Float64Array;
  readonly slopesOut: Float64Array;
  readonly lengthsIn: Float64Array;
  readonly lengthsOut: Float64Array;
  readonly segments: Uint8Array;
  readonly tangentsIn: Uint8Array;
  readonly tangentsOut: Uint8Array;
  readonly flags: Uint8Array;
  readonly ids: Uint32Array;
  readonly leadIn: Lead;
  readonly leadOut: Lead;
  /** How often loops and swings repeat; 0 is without end. */
  readonly leadInCount: number;
  readonly leadOutCount: number;
  /** Fields of a file that this version does not know; they stay with the curve. */
  readonly extras?: Readonly<Record<string, unknown>>;
}

export const COLUMNS = {
  times: Float64Array,
  values: Float64Array,
  slopesIn: Float64Array,
  slopesOut: Float64Array,
  lengthsIn: Float64Array,
  lengthsOut: Float64Array,
  segments: Uint8Array,
  tangentsIn: Uint8Array,
  tangentsOut: Uint8Array,
  flags: Uint8Array,
  ids: Uint32Array,
} as const;

export type ColumnName = keyof typeof COLUMNS;
export const COLUMN_NAMES = Object.keys(COLUMNS) as readonly ColumnName[];

/** The columns of a curve that is being made; only `rebuild` hands them out. */
export type Columns = { -readonly [Name in ColumnName]: Curve[Name] };

/** Bytes of a key in the columns that lie ahead of each: wide numbers come first, so that a column begins where its numbers may. */
const BYTES_AHEAD = new Map<ColumnName, number>();
let bytesPerKey = 0;
for (const name of [...COLUMN_NAMES].sort(
  (a, b) => COLUMNS[b].BYTES_PER_ELEMENT - COLUMNS[a].BYTES_PER_ELEMENT,
)) {
  BYTES_AHEAD.set(name, bytesPerKey);
  bytesPerKey += COLUMNS[name].BYTES_PER_ELEMENT;
}

/**
 * Columns for `count` keys, all zero, one after the other in a single buffer: with a buffer for each column thinning 5,000 channels spent
 * more time on memory than on curves.
 */
export function emptyColumns(count: number): Columns {
  const buffer = new ArrayBuffer(count * bytesPerKey);
  const columns: Record<string, unknown> = {};
  for (const name of COLUMN_NAMES)
    columns[name] = new COLUMNS[name](buffer, count * BYTES_AHEAD.get(name)!, count);
  return columns as Columns;
}

/** The curve without keys. */
export const EMPTY_CURVE: Curve = {
  ...emptyColumns(0),
  leadIn: 'hold',
  leadOut: 'hold',
  leadInCount: 0,
  leadOutCount: 0,
};

/** Whether the segment from key `row` to the next is weighted: either of its handles has its own length. */
export function isWeighted(curve: Columns | Curve, row: number): boolean {
  return (
    (curve.flags[row]! & FLAG.weightedOut) !== 0 || ((curve.flags[row + 1] ?? 0) & FLAG.weightedIn) !== 0
  );
}

export function hasFlag(curve: Columns | Curve, row: number, flag: number): boolean {
  return (curve.flags[row]! & flag) !== 0;
}

/** The row of the key with `id`, or −1. */
export function rowOfId(curve: Curve, id: number): number {
  return curve.ids.indexOf(id);
}

/** The row of the key at `time` (within 1e-6 frames), or −1. */
export function rowAtTime(curve: Curve, time: number): number {
  let low = 0;
  let high = curve.times.length - 1;
  while (low <= high) {
    const middle = (low + high) >>> 1;
    const gap = curve.times[middle]! - time;
    if (Math.abs(gap) <= 1e-6) return middle;
    if (gap < 0) low = middle + 1;
    else high = middle - 1;
  }
  return -1;
}

/** Bytes that the columns hold. */
export function byteLength(curve: Curve): number {
  return COLUMN_NAMES.reduce((sum, name) => sum + curve[name].byteLength, 0);
}

/** Whether two curves have the same keys, segments and leads, to the bit; ids do not count. */
export function sameShape(a: Curve, b: Curve): boolean {
  if (a === b) return true;
  if (a.times.length !== b.times.length || !sameLeads(a, b)) return false;
  return COLUMN_NAMES.every(
    (name) => name === 'ids' || a[name].every((value, row) => Object.is(value, b[name][row])),
  );
}

const sameLeads = (a: Curve, b: Curve) =>
  a.leadIn === b.leadIn &&
  a.leadOut === b.leadOut &&
  a.leadInCount === b.leadInCount &&
  a.leadOutCount === b.leadOutCount;
