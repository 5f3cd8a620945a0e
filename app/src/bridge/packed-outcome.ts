/** An outcome on its way from the worker to the page. What it leaves as it was is not sent back, and is the very same object on the page. */
import type { Outcome, Selection, Shot } from '@kneader/core';
import { packSelection, unpackSelection } from './packed-selection.ts';
import type { PackedSelection } from './packed-selection.ts';
import type { PackedShot, SharedParts } from './shared-parts.ts';

export type PackedOutcome = Omit<Outcome, 'shot' | 'selection'> & {
  readonly shot: PackedShot | null;
  readonly selection: PackedSelection | null;
};

/** @param shot what the edit was run on, and on which selection; the page knows both */
export function packOutcome(
  outcome: Outcome,
  shot: Shot,
  selection: Selection,
  table: SharedParts,
): PackedOutcome {
  return {
    ...outcome,
    shot: outcome.shot === shot ? null : table.pack(outcome.shot),
    selection: outcome.selection === selection ? null : packSelection(outcome.selection),
  };
}

export function unpackOutcome(
  packed: PackedOutcome,
  shot: Shot,
  selection: Selection,
  table: SharedParts,
): Outcome {
  return {
    ...packed,
    shot: packed.shot === null ? shot : table.unpack(packed.shot),
    selection: packed.selection === null ? selection : unpackSelection(packed.selection),
  };
}
