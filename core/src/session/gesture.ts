/**
 * A drag, or a slider that moves: one edit run again and again from the shot that it began with, each time with the total
 * change. It commits once, or leaves no trace.
 */
import type { Outcome } from '../edits/edit.ts';
import { runEdit } from '../edits/run-edit.ts';
import { commit } from './session.ts';
import type { Session } from './session.ts';

export interface Gesture {
  readonly edit: string;
  readonly began: Session;
  /** The last outcome and its options; null before the first update. */
  readonly last: { readonly options: unknown; readonly outcome: Outcome } | null;
}

export function beginGesture(session: Session, edit: string): Gesture {
  return { edit, began: session, last: null };
}

/** Runs the edit with the total change since the beginning. */
export function updateGesture(gesture: Gesture, options: unknown): Gesture {
  const { began, edit } = gesture;
  const outcome = runEdit(edit, began.shot, began.selection, options);
  return { ...gesture, last: { options, outcome } };
}

/** The session after the gesture: one step, or the session it began with where nothing changed. */
export function commitGesture(gesture: Gesture, label?: string): Session {
  const { began, edit, last } = gesture;
  return last === null ? began : commit(began, edit, last.options, last.outcome, label);
}
