/** A routine out of the history: chosen steps, with their options and what they were done on. */
import type { Session, Step } from '../session/session.ts';
import { splitChannel, WEIGHT } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { rolesOf } from './roles.ts';
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
  const ids = [...new Set([...channels, ...keyed])].filter((id) => id !== WEIGHT);
  return {
    edit,
    options: plainOptions(options),
    on: 'selection',
    recorded: { nodes: [...nodes], channels: ids, range, pass, ...rolesIn(shot, nodes, ids) },
    made: before ? shot.layers.map(({ id }) => id).filter((id) => !known.has(id)) : [],
  };
}

/** What the controls are in a body, and which of their channels were meant. */
function rolesIn(shot: Shot, nodes: readonly string[], channels: readonly string[]) {
  const named = channels.map(splitChannel);
  const meant = new Set(named.length > 0 ? named.map(({ node }) => node) : nodes);
  const roles = rolesOf(shot.nodes.filter(({ id }) => meant.has(id)));
  const names = [...new Set(named.map(({ name }) => name))];
  return roles.length === 0 ? {} : { roles, ...(names.length > 0 && { names }) };
}

const plainOptions = (options: unknown): Record<string, unknown> =>
  typeof options === 'object' && options !== null
    ? (structuredClone(options) as Record<string, unknown>)
    : {};
