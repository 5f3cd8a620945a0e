/** A routine out of the history: chosen steps, with their options and what they were done on. */
import type { Session, Step } from '../session/session.ts';
import { ROUTINE_VERSION } from './routine.ts';
import type { Routine, RoutineStep } from './routine.ts';

/** Steps that can be done again: of an edit, by their place in the history. */
export const repeatableSteps = ({ steps }: Pick<Session, 'steps'>): readonly number[] =>
  steps.flatMap(({ edit }, at) => (edit === null ? [] : [at]));

/** @param places of the steps in the history, rising */
export function routineFromHistory(
  { steps }: Pick<Session, 'steps'>,
  places: readonly number[],
  name: string,
): Routine {
  return {
    format: 'kneader-routine',
    version: ROUTINE_VERSION,
    name,
    notes: '',
    steps: places.flatMap((at) => {
      const step = steps[at];
      return step && step.edit !== null ? [recordedStep(step.edit, step, steps[at - 1] ?? null)] : [];
    }),
  };
}

function recordedStep(edit: string, { options, selection, shot }: Step, before: Step | null): RoutineStep {
  const known = new Set(before?.shot.layers.map(({ id }) => id) ?? []);
  const { nodes, channels, keys, range, layer: pass } = selection;
  // Keys have other ids elsewhere: their channels stand for them.
  const keyed = Object.entries(keys).flatMap(([id, ids]) => (ids.length > 0 ? [id] : []));
  return {
    edit,
    options: plainOptions(options),
    on: 'selection',
    recorded: { nodes: [...nodes], channels: [...new Set([...channels, ...keyed])], range, pass },
    made: before ? shot.layers.map(({ id }) => id).filter((id) => !known.has(id)) : [],
  };
}

const plainOptions = (options: unknown): Record<string, unknown> =>
  typeof options === 'object' && options !== null
    ? (structuredClone(options) as Record<string, unknown>)
    : {};
