/** A routine: a run of edits with their options, saved to be done again elsewhere. */
import { z } from 'zod';
import { finding, InputError } from '../base/finding.ts';
import { describeProblem } from '../document/describe-problem.ts';
import { PARTS, SIDES } from '../rig/node.ts';
import { OPTION_CHANGES } from './option-changes.ts';
import type { OptionChange } from './option-changes.ts';

export const ROUTINE_VERSION = 1;

/** Edits that one routine may hold. */
const MOST_STEPS = 200;

/** On what a step is done. */
const STEP_ON = ['selection', 'roles', 'everything', 'recorded'] as const;

const recordedSchema = z.object({
  nodes: z.array(z.string()),
  channels: z.array(z.string()),
  range: z.object({ start: z.number(), end: z.number() }).nullable(),
  pass: z
    .string()
    .nullable()
    .describe('The layer; one that an earlier step made is the one that it makes now'),
  roles: z
    .array(z.object({ part: z.enum(PARTS), side: z.enum(SIDES) }))
    .optional()
    .describe('The body parts of the controls; left out, it is not known'),
  names: z
    .array(z.string())
    .optional()
    .describe('The names of the channels, where only some of the controls were meant'),
});
const NOTHING_RECORDED: z.output<typeof recordedSchema> = {
  nodes: [],
  channels: [],
  range: null,
  pass: null,
};

const stepSchema = z
  .looseObject({
    edit: z.string().min(1).describe('The id of an edit'),
    options: z
      .record(z.string(), z.unknown())
      .describe('As the edit takes them; the usual ones where left out'),
    on: z
      .enum(STEP_ON)
      .describe(
        'On what the routine is run on; on the same body parts; on all channels; or on what it was recorded with',
      ),
    recorded: recordedSchema
      .optional()
      .describe('What was selected when it was recorded; needed where the step is on it'),
    made: z.array(z.string()).default([]).describe('Ids of the layers that it made when it was recorded'),
  })
  .refine(({ on, recorded }) => on !== 'recorded' || recorded !== undefined, {
    path: ['recorded'],
    message: 'it is on what was recorded, and nothing is',
  });
export interface RoutineStep {
  readonly edit: string;
  readonly options: Record<string, unknown>;
  readonly on: (typeof STEP_ON)[number];
  readonly recorded: z.output<typeof recordedSchema>;
  readonly made: readonly string[];
}

export const routineSchema = z.looseObject({
  format: z.literal('kneader-routine'),
  version: z.number().int().min(1),
  name: z.string().trim().min(1).max(80),
  notes: z.string().max(2000).default(''),
  steps: z.array(stepSchema).min(1).max(MOST_STEPS),
});
export interface Routine {
  readonly format: 'kneader-routine';
  readonly version: number;
  readonly name: string;
  readonly notes: string;
  readonly steps: readonly RoutineStep[];
}

/**
 * A routine as this version knows it; throws an `InputError` that says what is wrong.
 * @param changes what became of edits and their options since older versions
 */
export function readRoutine(value: unknown, changes: readonly OptionChange[] = OPTION_CHANGES): Routine {
  const parsed = routineSchema.safeParse(value);
  if (!parsed.success) throw new InputError(finding('badRoutine', {}, describeProblem(parsed.error)));
  const newest = Math.max(ROUTINE_VERSION, ...changes.map(({ before }) => before));
  const { version, steps } = parsed.data;
  if (version > newest) throw new InputError(finding('newerRoutine', {}, version, newest));
  const due = changes.filter(({ before }) => before > version).sort((a, b) => a.before - b.before);
  return {
    ...parsed.data,
    version: newest,
    steps: steps.map((step) => changedBy({ ...step, recorded: step.recorded ?? NOTHING_RECORDED }, due)),
  };
}

const changedBy = (step: RoutineStep, due: readonly OptionChange[]): RoutineStep =>
  due.reduce(
    (now, { edit, to, change }) =>
      now.edit === edit ? { ...now, edit: to ?? now.edit, options: change(now.options) } : now,
    step,
  );
