/** A selection on its way between the page and its worker: a choice may be of millions of keys, and lists of numbers are copied one by one. */
import type { Selection } from '@kneader/core';

export type PackedSelection = Omit<Selection, 'keys'> & {
  readonly keys: Readonly<Record<string, Uint32Array>>;
};

const each = <From, To>(keys: Readonly<Record<string, From>>, change: (ids: From) => To) =>
  Object.fromEntries(Object.entries(keys).map(([channel, ids]) => [channel, change(ids)]));

export const packSelection = (selection: Selection): PackedSelection => ({
  ...selection,
  keys: each(selection.keys, (ids) => Uint32Array.from(ids)),
});

export const unpackSelection = (packed: PackedSelection): Selection => ({
  ...packed,
  keys: each(packed.keys, (ids) => Array.from(ids)),
});
