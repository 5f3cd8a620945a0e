/** Which edits fit what is selected. */
import { isBlock, isFilter, isKeyed, variantsOf } from '@kneader/core';
import type { ActsOn, Edit, Shot } from '@kneader/core';

/** Why an edit has nothing to act on now; null where it has. */
export function missingFor(edit: Edit, said: ActsOn, shot: Shot): string | null {
  if (edit.needs === 'chosen' && said.keys === 0) return 'Choose keys first.';
  if (edit.needs === 'keys' && said.keys === 0) return 'Select controls or channels that have keys first.';
  if (edit.needs === 'channels' && said.channels === 0) return 'Select controls or channels first.';
  const asks = edit.options.shape;
  if ('pass' in asks && !shot.layers.some(isKeyed)) return 'There is no pass yet.';
  if ('filter' in asks && !shot.layers.some(isFilter)) return 'There is no filter yet.';
  if ('placement' in asks && !shot.layers.some(isBlock)) return 'No action is placed yet.';
  return 'variant' in asks && variantsOf(shot).length === 0 ? 'There is no variant yet.' : null;
}

/** Those that fit first, each part in the order of the work. */
export function fittingFirst(
  edits: readonly Edit[],
  missing: (edit: Edit) => string | null,
): readonly { readonly edit: Edit; readonly missing: string | null }[] {
  const all = edits.map((edit) => ({ edit, missing: missing(edit) }));
  return [...all.filter((one) => one.missing === null), ...all.filter((one) => one.missing !== null)];
}
