/**
 * A shot being worked on: the shot, what is selected, and the way that led here. Immutable like the shot: each function
 * returns a new session, so that a view can keep an old one.
 *
 * The history holds references to earlier shots, which share all that did not change. It is bounded by the bytes of the
 * curves that only it holds.
 */
import { dequal } from 'dequal/lite';
import type { FrameRange } from '../base/frame-range.ts';
import { byteLength } from '../curve/curve.ts';
import type { Curve } from '../curve/curve.ts';
import type { Outcome, Report } from '../edits/edit.ts';
import { findEdit, runEdit } from '../edits/run-edit.ts';
import { NOTHING, onLayer, settledSelection, withLivingKeys } from '../document/selection.ts';
import type { Selection } from '../document/selection.ts';
import { allCurves } from '../document/parts/parts.ts';
import type { Shot } from '../document/shot.ts';

export interface Step {
  readonly label: string;
  /** Which edit, with which options, on which selection: enough to run it again. */
  readonly edit: string | null;
  readonly options: unknown;
  readonly selection: Selection;
  /** The shot after it. */
  readonly shot: Shot;
  readonly report: Report | null;
  /** The marked range after it; left out, it is not known. */
  readonly range?: FrameRange | null;
  /** The controls that it left selected, where they are others than those that it was done on. */
  readonly nodes?: readonly string[];
}

export interface Session {
  readonly shot: Shot;
  readonly selection: Selection;
  /** Steps from the oldest kept; the first is the shot as it was opened, or as far back as the bound lets. */
  readonly steps: readonly Step[];
  /** The step that the shot is at. */
  readonly at: number;
  /** The shot as it came, for comparing. */
  readonly before: Shot;
}

/** Bytes that the history alone may hold. */
export const HISTORY_BYTES = 256 * 1024 * 1024;

export function openSession(shot: Shot, before: Shot = shot): Session {
  const first: Step = { label: 'Opened', edit: null, options: null, selection: NOTHING, shot, report: null };
  return { shot, selection: NOTHING, steps: [first], at: 0, before };
}

export function select(session: Session, selection: Selection): Session {
  return { ...session, selection: settledSelection(session.shot, selection) };
}

/** Runs an edit on the selection and commits what it changed. */
export function perform(
  session: Session,
  edit: string,
  options: unknown,
  label?: string,
): { session: Session; outcome: Outcome } {
  const outcome = runEdit(edit, session.shot, session.selection, options);
  return { session: commit(session, edit, options, outcome, label), outcome };
}

/**
 * Takes an outcome that was worked out from this session's shot as the next step. What was made beside the shot, an action to be saved, is a step
 * too, so that a routine can be taken from all that was done; what was undone before it can be done again after it.
 */
export function commit(
  session: Session,
  edit: string,
  options: unknown,
  outcome: Outcome,
  label?: string,
): Session {
  const { report, made } = outcome;
  if (report.status !== 'changed' && made === undefined) return session;
  const step: Step = {
    label: label ?? findEdit(edit)?.title ?? edit,
    edit,
    options,
    selection: session.selection,
    shot: outcome.shot,
    report,
    range: outcome.selection.range,
    ...(!dequal(outcome.selection.nodes, session.selection.nodes) && { nodes: outcome.selection.nodes }),
  };
  const undone = report.status === 'changed' ? [] : session.steps.slice(session.at + 1);
  const steps = bounded([...session.steps.slice(0, session.at + 1), step, ...undone]);
  const selection = living(outcome.shot, outcome.selection);
  return { ...session, shot: outcome.shot, selection, steps, at: steps.indexOf(step) };
}

/**
 * Goes to a step of the history; steps after it stay until something new is done. Going back also brings back the keys that were chosen
 * when the step after it was done, where the same controls are selected and no other keys have been chosen since; controls and marked range that a step left are
 * what they were before it, where no others were selected or marked since.
 */
export function goTo(session: Session, at: number): Session {
  const to = Math.min(Math.max(at, 0), session.steps.length - 1);
  const step = session.steps[to]!;
  const wanted = to < session.at ? wantedBack(session, to) : wantedAgain(session, to);
  const selection = withLivingKeys(step.shot, living(step.shot, { ...wanted, range: rangeAt(session, to) }));
  return { ...session, shot: step.shot, selection, at: to };
}

/** The marked range at a step: as it was there, unless another was marked since. */
function rangeAt({ selection: { range }, steps, at }: Session, to: number): FrameRange | null {
  const isAsLeft =
    dequal(range, steps[at]!.range) || (to > at && dequal(range, steps[at + 1]!.selection.range));
  const then = to < at ? steps[to + 1]!.selection.range : steps[to]!.range;
  return isAsLeft && then !== undefined ? then : range;
}

/** The selection on a layer that there is, or else on the base. */
function living(shot: Shot, selection: Selection): Selection {
  const { layer } = selection;
  const lives = layer === null || shot.layers.some(({ id }) => id === layer);
  return settledSelection(shot, lives ? selection : onLayer(selection, null));
}

function wantedBack(session: Session, to: number): Selection {
  const { selection, steps, at } = session;
  const undone = steps[to + 1]!.selection;
  const isAsLeft = dequal(selection.nodes, steps[at]!.nodes);
  return isAsLeft ? { ...undone, range: selection.range } : withKeysOf(session, undone);
}

function wantedAgain({ selection, steps, at }: Session, to: number): Selection {
  const { nodes } = steps[to]!;
  const isAsBefore = nodes !== undefined && dequal(selection.nodes, steps[at + 1]?.selection.nodes);
  return isAsBefore ? { ...selection, nodes, channels: [], keys: {} } : selection;
}

function withKeysOf({ selection }: Session, undone: Selection): Selection {
  const same = selection.layer === undone.layer && String(selection.nodes) === String(undone.nodes);
  const free = Object.values(selection.keys).every((ids) => ids.length === 0);
  return same && free ? { ...selection, channels: undone.channels, keys: undone.keys } : selection;
}

/** The place of the step that undoing takes back: the newest that changed the shot; 0 where there is none. */
export function undoes({ steps, at, shot }: Session): number {
  let place = at;
  while (place > 0 && steps[place - 1]!.shot === shot) place -= 1;
  return place;
}

export const undo = (session: Session): Session => goTo(session, undoes(session) - 1);

/** The next change again, with what was made of it. */
export function redo(session: Session): Session {
  const { steps, at } = session;
  let place = at + 1;
  while (place + 1 < steps.length && steps[place + 1]!.shot === steps[place]!.shot) place += 1;
  return goTo(session, place);
}

/** The newest steps whose own curves fit into the bound; at least the last two. */
function bounded(steps: readonly Step[]): readonly Step[] {
  const seen = new Set<Curve>();
  let bytes = 0;
  for (let i = steps.length - 1; i >= 0; i -= 1) {
    bytes += ownBytes(steps[i]!.shot, seen);
    if (bytes > HISTORY_BYTES && i < steps.length - 2) return steps.slice(i + 1);
  }
  return steps;
}

/** Bytes of the curves of a shot that are not in `seen`, which they then are. */
function ownBytes(shot: Shot, seen: Set<Curve>): number {
  let bytes = 0;
  for (const { curve } of allCurves(shot)) {
    if (seen.has(curve)) continue;
    seen.add(curve);
    bytes += byteLength(curve);
  }
  return bytes;
}
