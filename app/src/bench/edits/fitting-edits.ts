/** Which edits fit what is selected. */
import type { ActsOn, Edit } from '@kneader/core';

/** Why an edit has nothing to act on now; null where it has. */
export function missingFor(edit: Edit, said: ActsOn, hasPass: boolean): string | null {
  if (edit.needs === 'chosen' && said.keys === 0) return 'Choose keys first.';
  if (edit.needs === 'keys' && said.keys === 0) return 'Select controls or channels that have keys first.';
  if (edit.needs === 'channels' && said.channels === 0) return 'Select controls or channels first.';
  return 'pass' in edit.options.shape && !hasPass ? 'There is no pass yet.' : null;
}

/** Those that fit first, each part in the order of the work. */
export function fittingFirst(
  edits: readonly Edit[],
  missing: (edit: Edit) => string | null,
): readonly { readonly edit: Edit; readonly missing: string | null }[] {
  const all = edits.map((edit) => ({ edit, missing: missing(edit) }));
  return [...all.filter((one) => one.missing === null), ...all.filter((one) => one.missing !== null)];
}
