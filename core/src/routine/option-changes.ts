/**
 * What became of edits and their options since routines were first saved, the oldest change first. Whoever renames an edit or one of its options, or gives
 * one another meaning, raises the version of routines and adds a line here.
 */

type Options = Readonly<Record<string, unknown>>;

export interface OptionChange {
  /** Routines of an older version than this are changed. */
  readonly before: number;
  /** The id that the edit had then. */
  readonly edit: string;
  /** Its id since; left out where that is the same. */
  readonly to?: string;
  readonly change: (options: Options) => Record<string, unknown>;
}

/** None yet: routines are of version 1. */
export const OPTION_CHANGES: readonly OptionChange[] = [];
