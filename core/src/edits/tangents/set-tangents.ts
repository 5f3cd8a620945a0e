/**
 * Set tangents: the kind, the direction, the length, broken or joined, on the selected keys. Dragging a handle is
 * this edit with a slope and a length.
 */
import { z } from 'zod';
import { FLAG, SEGMENT, TANGENT } from '../../curve/curve.ts';
import type { Columns, Curve } from '../../curve/curve.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { defineEdit, outcome } from '../edit.ts';
import { changeTargets, lockedKeysFinding } from '../shared/targets.ts';

const KINDS = ['stepped', 'linear', 'flat', 'smooth', 'steady', 'free'] as const;

/** A key's tangents, as copying gives them. */
export const tangentSchema = z.object({
  segment: z.number().int().min(0).max(2),
  tangentIn: z.number().int().min(0).max(4),
  tangentOut: z.number().int().min(0).max(4),
  slopeIn: z.number(),
  slopeOut: z.number(),
  lengthIn: z.number().min(0),
  lengthOut: z.number().min(0),
  flags: z.number().int().min(0).max(15),
});
export type KeyTangents = z.infer<typeof tangentSchema>;

/** The tangents of one key, to be given to others. */
export function copyTangents(curve: Curve, row: number): KeyTangents {
  return {
    segment: curve.segments[row]!,
    tangentIn: curve.tangentsIn[row]!,
    tangentOut: curve.tangentsOut[row]!,
    slopeIn: curve.slopesIn[row]!,
    slopeOut: curve.slopesOut[row]!,
    lengthIn: curve.lengthsIn[row]!,
    lengthOut: curve.lengthsOut[row]!,
    flags: curve.flags[row]! & ~FLAG.locked,
  };
}

const options = z.object({
  like: tangentSchema.optional().meta({
    title: 'Like',
    description: 'The tangents of another key, as copying gives them: kinds, directions, lengths.',
  }),
  kind: z.enum(KINDS).optional().meta({
    title: 'Kind',
    description: 'The rule that gives the slope; stepped holds the value until the next key.',
  }),
  side: z
    .enum(['both', 'in', 'out'])
    .default('both')
    .meta({ title: 'Side', description: 'Which of the two tangents.' }),
  slope: z
    .number()
    .min(-1e9)
    .max(1e9)
    .optional()
    .meta({ title: 'Slope', unit: '/frame', description: 'Sets a free tangent in this direction.' }),
  length: z
    .number()
    .min(0)
    .max(1e6)
    .optional()
    .meta({ title: 'Handle length', unit: 'frames', description: 'Makes the tangent weighted.' }),
  weighted: z
    .boolean()
    .optional()
    .meta({ title: 'Weighted', description: 'Whether handles have a length of their own.' }),
  broken: z
    .boolean()
    .optional()
    .meta({ title: 'Broken', description: 'Whether the two tangents have directions of their own.' }),
});
type Options = z.output<typeof options>;

export const setTangents = defineEdit({
  id: 'tangents.set',
  title: 'Set tangents',
  summary: 'Sets the kind, direction or length of the tangents of the selected keys.',
  words: 'ease handles stepped linear flat smooth spline weighted break join interpolation hold slow in out',
  group: 'tangents',
  needs: 'keys',
  locks: 'strip',
  options,
  run(shot, selection, given) {
    const asks = Object.entries(given).some(([name, value]) => name !== 'side' && value !== undefined);
    if (!asks) return outcome(shot, shot, selection);
    let count = 0;
    const changes = changeTargets(shot, selection, (curve, rows) => {
      count += rows.length;
      return rebuild(curve, null, (columns) => rows.forEach((row) => write(columns, row, given)));
    });
    return outcome(shot, changes.shot, selection, {
      touched: changes.touched,
      findings: lockedKeysFinding(changes.lockedKeys),
      measures: [{ name: 'keys set', value: count, unit: '' }],
    });
  },
});

function write(columns: Columns, row: number, given: Options): void {
  const { like, kind, side, slope, length, weighted, broken } = given;
  const incoming = side !== 'out';
  const outgoing = side !== 'in';
  if (like) writeLike(columns, row, like, incoming, outgoing);
  if (broken !== undefined) setFlag(columns, row, FLAG.broken, broken);
  if (broken === false && columns.slopesIn[row] !== columns.slopesOut[row]) joinSides(columns, row);
  if (kind === 'stepped') {
    if (outgoing) columns.segments[row] = SEGMENT.stepped;
    if (incoming && side === 'in' && row > 0) columns.segments[row - 1] = SEGMENT.stepped;
  } else if (kind !== undefined) setKind(columns, row, TANGENT[kind], incoming, outgoing);
  if (slope !== undefined) {
    // Joined tangents turn together.
    const joined = (columns.flags[row]! & FLAG.broken) === 0;
    setKind(columns, row, TANGENT.free, incoming || joined, outgoing || joined);
    if (incoming || joined) columns.slopesIn[row] = slope;
    if (outgoing || joined) columns.slopesOut[row] = slope;
  }
  if (length !== undefined || weighted !== undefined) {
    const on = length !== undefined || weighted === true;
    if (incoming) setFlag(columns, row, FLAG.weightedIn, on);
    if (outgoing) setFlag(columns, row, FLAG.weightedOut, on);
    if (length !== undefined && incoming) columns.lengthsIn[row] = length;
    if (length !== undefined && outgoing) columns.lengthsOut[row] = length;
  }
}

function writeLike(
  columns: Columns,
  row: number,
  like: KeyTangents,
  incoming: boolean,
  outgoing: boolean,
): void {
  const taken = FLAG.broken | (incoming ? FLAG.weightedIn : 0) | (outgoing ? FLAG.weightedOut : 0);
  columns.flags[row] = (columns.flags[row]! & ~taken) | (like.flags & taken);
  if (incoming) {
    columns.tangentsIn[row] = like.tangentIn;
    columns.slopesIn[row] = like.slopeIn;
    columns.lengthsIn[row] = like.lengthIn;
    if (row > 0) makeCubic(columns, row - 1);
  }
  if (outgoing) {
    columns.tangentsOut[row] = like.tangentOut;
    columns.slopesOut[row] = like.slopeOut;
    columns.lengthsOut[row] = like.lengthOut;
    columns.segments[row] = like.segment;
  }
  if (columns.slopesIn[row] !== columns.slopesOut[row] && incoming !== outgoing)
    columns.flags[row] |= FLAG.broken;
}

/** A tangent only shows on a cubic segment: stepped and straight ones on the sides that are set become cubic. */
function setKind(columns: Columns, row: number, kind: number, incoming: boolean, outgoing: boolean): void {
  if (incoming) {
    columns.tangentsIn[row] = kind;
    if (row > 0) makeCubic(columns, row - 1);
  }
  if (outgoing) {
    columns.tangentsOut[row] = kind;
    makeCubic(columns, row);
  }
  if (incoming && outgoing && kind !== TANGENT.free && kind !== TANGENT.linear)
    setFlag(columns, row, FLAG.broken, false);
  if (incoming !== outgoing) setFlag(columns, row, FLAG.broken, true);
}

/** A straight segment gets straight free tangents first, so that its far end does not bend. */
function makeCubic(columns: Columns, row: number): void {
  const next = row + 1;
  if (columns.segments[row] === SEGMENT.linear && next < columns.times.length) {
    const chord =
      (columns.values[next]! - columns.values[row]!) / (columns.times[next]! - columns.times[row]!);
    if (columns.tangentsOut[row] === TANGENT.free) columns.slopesOut[row] = chord;
    if (columns.tangentsIn[next] === TANGENT.free) columns.slopesIn[next] = chord;
  }
  columns.segments[row] = SEGMENT.cubic;
}

/** The mean direction for both sides. */
function joinSides(columns: Columns, row: number): void {
  const slope = (columns.slopesIn[row]! + columns.slopesOut[row]!) / 2;
  columns.slopesIn[row] = columns.slopesOut[row] = slope;
  columns.tangentsIn[row] = columns.tangentsOut[row] = TANGENT.free;
}

function setFlag(columns: Columns, row: number, flag: number, on: boolean): void {
  columns.flags[row] = on ? columns.flags[row]! | flag : columns.flags[row]! & ~flag;
}
