/** Placed actions that are another in the pantry by now. */
import type { Shot } from '@kneader/core';
import type { PantryItem } from './pantry-record.ts';

/** What a shot remembers of where a placed action comes from. */
export const keptOf = ({ id, print }: Pick<PantryItem, 'id' | 'print'>) =>
  print === undefined ? null : { id, print };

/** A placed action of a shot: its id there, the action's id in the pantry, and what that was when it was placed. */
export interface PlacedAction {
  readonly stored: string;
  readonly id: string;
  readonly print: string;
}

export const placedIn = (shot: Pick<Shot, 'actions'>): PlacedAction[] =>
  (shot.actions ?? []).flatMap(({ id, from }) => (from?.kept ? [{ stored: id, ...from.kept }] : []));

export interface ChangedAction<Item> {
  readonly item: Item;
  readonly kept: { readonly id: string; readonly print: string };
  /** The first of those in the shot that come from it: an edit takes the others along. */
  readonly stored: string;
}

/** Actions of the pantry that are another than a shot has placed, but for those that it leaves as they are. @param left prints */
export const changedSince = <Item extends Pick<PantryItem, 'id' | 'print'>>(
  pantry: readonly Item[],
  placed: readonly PlacedAction[],
  left: readonly string[] = [],
): ChangedAction<Item>[] =>
  pantry.flatMap((item) => {
    const kept = keptOf(item);
    const other = placed.find(({ id, print }) => id === item.id && print !== kept?.print);
    return kept && other && !left.includes(kept.print) ? [{ item, kept, stored: other.stored }] : [];
  });
