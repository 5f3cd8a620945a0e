/** Running a routine: its edits one after the other, each on what the ones before left. All of them, or nothing. */
import { asPart } from '../base/work.ts';
import type { Work } from '../base/work.ts';
import { finding } from '../base/finding.ts';
import type { Finding } from '../base/finding.ts';
import type { Outcome, Report } from '../edits/edit.ts';
import { findEdit, startEdit } from '../edits/run-edit.ts';
import { NOTHING } from '../document/selection.ts';
import type { Selection } from '../document/selection.ts';
import { rigOf, WEIGHT } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { playing, roleWords } from './roles.ts';
import type { Role } from './roles.ts';
import type { Routine, RoutineStep } from './routine.ts';

interface StepDone {
  readonly edit: string;
  readonly title: string;
  readonly options: Readonly<Record<string, unknown>>;
  readonly selection: Selection;
  readonly outcome: Outcome;
}

export interface RoutineRun {
  readonly status: 'changed' | 'unchanged' | 'refused';
  /** The shot as it came where a step was refused. */
  readonly shot: Shot;
  readonly steps: readonly StepDone[];
  /** Why the run ended early. */
  readonly refusal: Finding | null;
  /** What the edits made beside the shot: saved actions. */
  readonly made: readonly unknown[];
}

/** What a routine asks before it can be run, as sentences; empty where it asks nothing. */
export function asksOf({ steps }: Routine): Finding[] {
  const needing = steps.filter(({ edit, on }) => on === 'selection' && findEdit(edit)?.needs);
  const unknown = steps.filter(({ edit }) => findEdit(edit) === null).map(({ edit }) => edit);
  const chosen = needing.filter(({ edit }) => findEdit(edit)!.needs === 'chosen');
  return [
    ...(unknown.length > 0 ? [finding('routineUnknown', {}, unknown)] : []),
    ...(chosen.length > 0 ? [finding('routineNeedsRange', {}, chosen.map(titleOf))] : []),
    ...(needing.length > chosen.length
      ? [finding('routineNeedsSelection', {}, needing.filter((step) => !chosen.includes(step)).map(titleOf))]
      : []),
  ];
}

const titleOf = ({ edit }: RoutineStep) => findEdit(edit)?.title ?? edit;

/** @param selection what the routine is run on; where nothing is selected the body parts are meant on which it was recorded, and all channels where that is not known */
export function* runRoutine({ steps }: Routine, shot: Shot, selection: Selection): Work<RoutineRun> {
  const done: StepDone[] = [];
  const now = new Map<string, string>();
  let [after, chosen] = [shot, selection];
  for (const [i, step] of steps.entries()) {
    const on = selectionFor(step, after, chosen, now);
    const options = renamed(step.options, now) as Record<string, unknown>;
    const missing = missingRoles(step, after, chosen);
    if (missing.length > 0 && on.channels.length + on.nodes.length === 0) {
      const refusal = finding('routineNoParts', {}, i + 1, titleOf(step), missing.map(roleWords));
      return { status: 'refused', shot, steps: done, refusal, made: [] };
    }
    const work = startEdit(step.edit, after, on, options);
    const worked = yield* asPart(work, i / steps.length, (i + 1) / steps.length);
    const known = step.on === 'recorded' ? withUnknown(worked, after, on) : worked;
    const outcome =
      missing.length > 0 ? saying(known, finding('routinePartsMissing', {}, missing.map(roleWords))) : known;
    done.push({ edit: step.edit, title: titleOf(step), options, selection: on, outcome });
    if (outcome.report.status === 'refused') {
      const refusal = finding(
        'routineRefused',
        {},
        i + 1,
        titleOf(step),
        outcome.report.findings[0]!.sentence,
      );
      return { status: 'refused', shot, steps: done, refusal, made: [] };
    }
    const before = new Set(after.layers.map(({ id }) => id));
    const fresh = outcome.shot.layers.map(({ id }) => id).filter((id) => !before.has(id));
    // Layers that were made when it was recorded are those that are made now, one by one.
    step.made.forEach((id, at) => fresh[at] !== undefined && now.set(id, fresh[at]));
    if (step.on === 'selection') chosen = { ...outcome.selection, keys: {} };
    after = outcome.shot;
  }
  const made = done.flatMap(({ outcome }) => (outcome.made === undefined ? [] : [outcome.made]));
  return { status: after === shot ? 'unchanged' : 'changed', shot: after, steps: done, refusal: null, made };
}

/** What was recorded on names that are not here is said: less is done than was meant. */
function withUnknown(outcome: Outcome, shot: Shot, { nodes, channels }: Selection): Outcome {
  const rig = rigOf(shot);
  const unknown = [
    ...nodes.filter((id) => rig.indexOf(id) < 0),
    ...channels.filter((id) => id !== WEIGHT && rig.channelIndex(id) < 0),
  ];
  if (unknown.length === 0) return outcome;
  return saying(outcome, finding('unknownRecorded', {}, unknown));
}

const saying = (outcome: Outcome, one: Finding): Outcome => ({
  ...outcome,
  report: { ...outcome.report, findings: [...outcome.report.findings, one] },
});

const isNothing = ({ nodes, channels, keys }: Selection): boolean =>
  nodes.length + channels.length === 0 && Object.values(keys).every((ids) => ids.length === 0);

/** Whether a step goes by body parts: it says so, or nothing is selected and it is known which were meant. */
const goesByRoles = ({ on, recorded }: RoutineStep, selection: Selection): boolean =>
  (recorded.roles?.length ?? 0) > 0 && (on === 'roles' || (on === 'selection' && isNothing(selection)));

function missingRoles(step: RoutineStep, shot: Shot, selection: Selection): readonly Role[] {
  return goesByRoles(step, selection) ? playing(shot, step.recorded.roles!).missing : [];
}

/** The same body parts, and of them the channels of the same names. */
function byRoles(
  shot: Shot,
  { roles = [], names }: RoutineStep['recorded'],
): Pick<Selection, 'nodes' | 'channels'> {
  const { nodes } = playing(shot, roles);
  if (!names) return { nodes, channels: [] };
  const rig = rigOf(shot);
  const channels = nodes.flatMap((node) => names.map((name) => `${node}.${name}`));
  return { nodes: [], channels: channels.filter((id) => rig.channelIndex(id) >= 0) };
}

function selectionFor(
  step: RoutineStep,
  shot: Shot,
  selection: Selection,
  now: ReadonlyMap<string, string>,
): Selection {
  const { on, recorded } = step;
  const wanted = recorded.pass === null ? null : (now.get(recorded.pass) ?? recorded.pass);
  const pass = shot.layers.some(({ id }) => id === wanted) ? wanted : null;
  const all = rigOf(shot).channels.map(({ id }) => id);
  if (on === 'everything') return { ...NOTHING, channels: all, range: selection.range, layer: pass };
  if (goesByRoles(step, selection))
    return { ...NOTHING, ...byRoles(shot, recorded), range: selection.range, layer: pass };
  const { nodes, channels, range } = recorded;
  if (on === 'recorded') return { ...NOTHING, nodes, channels, range, layer: pass };
  return { ...(isNothing(selection) ? { ...selection, channels: all } : selection), layer: pass };
}

/** Options with the ids of layers as they are called now. */
function renamed(value: unknown, now: ReadonlyMap<string, string>): unknown {
  if (typeof value === 'string') return now.get(value) ?? value;
  if (Array.isArray(value)) return value.map((one) => renamed(one, now));
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(Object.entries(value).map(([name, one]) => [name, renamed(one, now)]));
}

/** The reports of a run, for a file. */
export const reportsOf = ({ steps }: RoutineRun): { edit: string; title: string; report: Report }[] =>
  steps.map(({ edit, title, outcome }) => ({ edit, title, report: outcome.report }));
