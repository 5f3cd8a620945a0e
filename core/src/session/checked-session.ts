/** A session that comes from storage, checked before it is used. */
import { z } from 'zod';
import { finding, InputError } from '../base/finding.ts';
import { describeProblem } from '../shot/describe-problem.ts';
import { once } from '../shot/document/part.ts';
import { heldShot } from '../shot/document/parts.ts';
import { selectionSchema } from '../shot/selection.ts';
import { rigOf } from '../shot/shot.ts';
import type { Shot } from '../shot/shot.ts';
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
