/**
 * A curve in JSON: columns of numbers, and no more of them than say something.
 *
 *   times, values        always, one number for each key
 *   slopesIn, slopesOut  left out when every tangent follows a rule, which gives them again
 *   lengthsIn, lengthsOut left out when no handle has a length of its own
 *   segments, tangentsIn, tangentsOut, flags, ids   one number in place of a column of equal ones;
 *                        left out when all are 2, 3, 3, 0 and 1, 2, 3 … in that order
 *
 * A captured motion of 264,192 keys (01_01.bvh) takes 3.0 MB that way.
 */
import { z } from 'zod';
import { COLUMN_NAMES, FLAG, LEADS, SEGMENT, TANGENT } from '../../curve/curve.ts';
import type { Columns, Curve } from '../../curve/curve.ts';
import { buildCurve } from '../../curve/rebuild.ts';
import { brokenRule } from '../../curve/validate.ts';
import { refuse } from '../../base/finding.ts';

const numbers = z.array(z.number());
/** Small whole numbers: a column of them, or one for all keys. */
const column = (most: number) => {
  const whole = z.number().int().min(0).max(most);
  return z.union([whole, z.array(whole)]).optional();
};

export const curveSchema = z.looseObject({
  times: numbers.describe('Frames, rising strictly'),
  values: numbers.describe("In the channel's unit"),
  slopesIn: numbers.optional().describe('Units per frame'),
  slopesOut: numbers.optional(),
  lengthsIn: numbers.optional().describe('Handle lengths in frames, no longer than their segment'),
  lengthsOut: numbers.optional(),
  segments: column(2).describe('0 stepped, 1 linear, 2 cubic; of the segment that starts at the key'),
  tangentsIn: column(4).describe('0 free, 1 flat, 2 linear, 3 smooth, 4 steady'),
  tangentsOut: column(4),
  flags: column(255).describe(
    'Sum of 1 broken, 2 locked, 4 weighted in, 8 weighted out, 16 turned, 32 was a curve, 64 was straight, 128 keyed',
  ),
  ids: z.array(z.number().int().min(0).max(0xffffffff)).optional().describe('Unique whole numbers from 1'),
  leadIn: z.enum(LEADS).optional().describe('Ahead of the first key; hold when left out'),
  leadOut: z.enum(LEADS).optional().describe('Past the last key'),
  leadInCount: z
    .number()
    .int()
    .min(0)
    .max(100000)
    .optional()
    .describe('Repeats; 0, or left out, is without end'),
  leadOutCount: z.number().int().min(0).max(100000).optional(),
});
export type CurveJson = z.infer<typeof curveSchema>;

const KNOWN = new Set(Object.keys(curveSchema.shape));

/** What a column is when the file says nothing of it; undefined where it must be worked out. */
const DEFAULTS = {
  segments: SEGMENT.cubic,
  tangentsIn: TANGENT.smooth,
  tangentsOut: TANGENT.smooth,
  flags: 0,
} as const;

export function curveToJson(curve: Curve): CurveJson {
  const json: CurveJson = { ...curve.extras, times: [...curve.times], values: [...curve.values] };
  const ruled =
    curve.tangentsIn.every((kind) => kind !== TANGENT.free) &&
    curve.tangentsOut.every((kind) => kind !== TANGENT.free);
  const locked = curve.flags.some((flag) => (flag & FLAG.locked) !== 0);
  if (!ruled || locked) {
    json.slopesIn = [...curve.slopesIn];
    json.slopesOut = [...curve.slopesOut];
  }
  if (curve.flags.some((flag) => (flag & (FLAG.weightedIn | FLAG.weightedOut)) !== 0)) {
    json.lengthsIn = [...curve.lengthsIn];
    json.lengthsOut = [...curve.lengthsOut];
  }
  for (const name of Object.keys(DEFAULTS) as (keyof typeof DEFAULTS)[]) {
    const values = curve[name];
    const first = values[0] ?? DEFAULTS[name];
    if (!values.every((value) => value === first)) json[name] = [...values];
    else if (first !== DEFAULTS[name]) json[name] = first;
  }
  if (!curve.ids.every((id, row) => id === row + 1)) json.ids = [...curve.ids];
  if (curve.leadIn !== 'hold') json.leadIn = curve.leadIn;
  if (curve.leadOut !== 'hold') json.leadOut = curve.leadOut;
  if (curve.leadInCount > 0) json.leadInCount = curve.leadInCount;
  if (curve.leadOutCount > 0) json.leadOutCount = curve.leadOutCount;
  return json;
}

/** The curve of parsed JSON; refuses columns that do not fit together, naming `path`. */
export function curveFromJson(json: CurveJson, path: string): Curve {
  const count = json.times.length;
  const wrong = (problem: string): never => refuse('badDocument', { path }, path, problem);
  for (const name of COLUMN_NAMES) {
    const given = json[name];
    if (Array.isArray(given) && given.length !== count)
      wrong(`“${name}” has ${given.length} numbers for ${count} keys`);
  }
  // Before anything is rebuilt: what is wrong must be seen, not mended in silence.
  for (let row = 1; row < count; row += 1) {
    if (!(json.times[row]! > json.times[row - 1]!))
      wrong(`times[${row}] does not come after times[${row - 1}]`);
  }
  const built = buildCurve(count, (columns) => {
    for (const name of COLUMN_NAMES) fillColumn(columns, name, json[name]);
  });
  const { leadIn = 'hold', leadOut = 'hold', leadInCount = 0, leadOutCount = 0 } = json;
  const curve = { ...built, leadIn, leadOut, leadInCount, leadOutCount };
  if (curve.times.length !== count) wrong('two keys stand on one frame');
  const broken = brokenRule(curve);
  if (broken) wrong(broken);
  const extras = Object.fromEntries(Object.entries(json).filter(([name]) => !KNOWN.has(name)));
  return Object.keys(extras).length > 0 ? { ...curve, extras } : curve;
}

function fillColumn(columns: Columns, name: keyof Columns, given: number | number[] | undefined): void {
  if (Array.isArray(given)) columns[name].set(given);
  else if (given !== undefined) columns[name].fill(given);
  else if (name in DEFAULTS) columns[name].fill(DEFAULTS[name as keyof typeof DEFAULTS]);
}
