/** A session that comes from storage, checked before it is used. */
import { z } from 'zod';
import { finding, InputError } from '../base/finding.ts';
import { describeProblem } from '../document/describe-problem.ts';
import { migrated } from '../document/versions/migrate.ts';
import { once } from '../document/parts/part.ts';
import { heldShot } from '../document/parts/parts.ts';
import { selectionSchema } from '../document/selection.ts';
import { rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import type { Session } from './session.ts';

/** Steps share their shots with the session: each is looked at once, and so are its nodes and curves. */
const anyShot = once<Shot>((value) => {
  if (!heldShot.safeParse(value).success) return false;
  rigOf(value as Shot);
  return true;
}, 'a shot that no longer fits its form');

const schema = z.object({
  shot: anyShot,
  before: anyShot,
  selection: selectionSchema,
  steps: z
    .array(
      z.object({
        label: z.string(),
        edit: z.string().nullable(),
        options: z.unknown(),
        selection: selectionSchema,
        shot: anyShot,
        report: z.unknown(),
        range: z.object({ start: z.number(), end: z.number() }).nullable().optional(),
        nodes: z.array(z.string()).optional(),
      }),
    )
    .min(1),
  at: z.number().int().min(0),
});

/** The session; throws an `InputError` that says what no longer reads. */
export function checkedSession(value: unknown): Session {
  const session = ofThisVersion(value);
  const parsed = schema.safeParse(session);
  if (!parsed.success) throw new InputError(finding('badRecord', {}, describeProblem(parsed.error)));
  // What was parsed are the same objects: sharing between steps must survive, so the original is used.
  return session as Session;
}

/** A session of an earlier version with each of its shots migrated once; the same object where there is nothing to do. */
function ofThisVersion(value: unknown): unknown {
  const session = value as { shot?: unknown; before?: unknown; steps?: unknown } | null;
  if (typeof session !== 'object' || session === null || !Array.isArray(session.steps)) return value;
  const known = new Map<unknown, unknown>();
  const of = (shot: unknown): unknown => {
    if (typeof shot !== 'object' || shot === null) return shot;
    if (!known.has(shot)) known.set(shot, migrated(shot));
    return known.get(shot);
  };
  const { shot, before, steps } = session;
  if (
    of(shot) === shot &&
    of(before) === before &&
    steps.every((step: { shot?: unknown }) => of(step?.shot) === step?.shot)
  )
    return value;
  return {
    ...session,
    shot: of(shot),
    before: of(before),
    steps: steps.map((step: { shot?: unknown }) => ({ ...step, shot: of(step?.shot) })),
  };
}
