/** A session that comes from storage, checked before it is used. */
import { z } from 'zod';
import { finding, InputError } from '../base/finding.ts';
import { COLUMN_NAMES, COLUMNS } from '../curve/curve.ts';
import type { Curve } from '../curve/curve.ts';
import { brokenRule } from '../curve/validate.ts';
import { describeProblem } from '../shot/describe-problem.ts';
import { shotSchema } from '../shot/schema.ts';
import { rigOf } from '../shot/shot.ts';
import type { Shot } from '../shot/shot.ts';
import type { Session } from './session.ts';

const seen = new WeakSet<object>();

/** Steps share most of their curves: each is looked at once. */
function isCurve(value: unknown): boolean {
  if (typeof value !== 'object' || value === null) return false;
  if (seen.has(value)) return true;
  const curve = value as Curve;
  const columns = COLUMN_NAMES.every((name) => curve[name] instanceof COLUMNS[name]);
  if (!columns || brokenRule(curve) !== null) return false;
  seen.add(value);
  return true;
}

const curve = z.custom<Curve>(isCurve, 'a curve whose columns do not fit together');
const table = z.array(z.record(z.string(), curve).optional());
const { nodes, chains, characters, rate, range, name, locked, passes, poseColumns } = shotSchema.shape;
const pass = passes.element.extend({ weight: curve, curves: table });
const shot = z.object({
  name,
  rate,
  range,
  characters,
  nodes,
  chains,
  locked,
  poseColumns,
  curves: table,
  passes: z.array(pass),
  extras: z.record(z.string(), z.unknown()),
});

/** Nodes are many and shared between steps: checked once by identity. */
function isShot(value: unknown): boolean {
  const candidate = value as Shot;
  if (typeof value !== 'object' || value === null || !Array.isArray(candidate.nodes)) return false;
  const known = seen.has(candidate.nodes);
  const parsed = shot.safeParse(known ? { ...candidate, nodes: [STAND_IN] } : candidate);
  if (!parsed.success) return false;
  seen.add(candidate.nodes);
  rigOf(candidate);
  return true;
}

/** A node that passes, in place of those that have passed before. */
const STAND_IN = {
  id: 'node',
  parent: null,
  kind: 'joint',
  rest: { translation: [0, 0, 0], rotation: [0, 0, 0, 1], scale: [1, 1, 1] },
  order: 'xyz',
  channels: [],
  side: 'centre',
  pair: null,
  part: 'extra',
  character: null,
  solids: [],
};

const selection = z.object({
  nodes: z.array(z.string()),
  channels: z.array(z.string()),
  keys: z.record(z.string(), z.array(z.number())),
  range: z.object({ start: z.number(), end: z.number() }).nullable(),
  pass: z.string().nullable(),
});
const anyShot = z.custom<Shot>(isShot, 'a shot that no longer fits its form');

const schema = z.object({
  shot: anyShot,
  before: anyShot,
  selection,
  steps: z
    .array(
      z.object({
        label: z.string(),
        edit: z.string().nullable(),
        options: z.unknown(),
        selection,
        shot: anyShot,
        report: z.unknown(),
      }),
    )
    .min(1),
  at: z.number().int().min(0),
});

/** The session; throws an `InputError` that says what no longer reads. */
export function checkedSession(value: unknown): Session {
  const parsed = schema.safeParse(value);
  if (!parsed.success) throw new InputError(finding('badRecord', {}, describeProblem(parsed.error)));
  // What was parsed are the same objects: sharing between steps must survive, so the original is used.
  return value as Session;
}
