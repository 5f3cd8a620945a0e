/** Which edits fit what is selected. */
import { isBlock, isFilter, isKeyed, variantsOf } from '@kneader/core';
import type { ActsOn, Edit, Shot } from '@kneader/core';

const NONE_YET = {
  pass: 'There is no pass yet.',
  layer: 'There is no pass or filter yet.',
  placement: 'No action is placed yet.',
  relation: 'Nothing follows anything yet.',
  parent: 'There is no parent control yet.',
  contact: 'There is no contact yet.',
} as const;

/** Why an edit has nothing to act on now; null where it has. */
export function missingFor(edit: Edit, said: ActsOn, shot: Shot): string | null {
  if (edit.needs === 'chosen' && said.keys === 0) return 'Choose keys first.';
  if (edit.needs === 'keys' && said.keys === 0) return 'Select controls or channels that have keys first.';
  if (edit.needs === 'channels' && said.channels === 0) return 'Select controls or channels first.';
  const { layers, nodes, relations, contacts = [] } = shot;
  const has = {
    pass: layers.some(isKeyed),
    layer: layers.some((layer) => isKeyed(layer) || isFilter(layer)),
    placement: layers.some(isBlock),
    relation: relations.length > 0,
    parent: nodes.some(({ kind, solids }) => kind === 'control' && solids.length === 0),
    contact: contacts.length > 0,
  };
  if (edit.worksOn && !has[edit.worksOn]) return NONE_YET[edit.worksOn];
  const asks = edit.options.shape;
  if ('pass' in asks && !has.pass) return NONE_YET.pass;
  if ('filter' in asks && !shot.layers.some(isFilter)) return 'There is no filter yet.';
  if ('placement' in asks && !has.placement) return NONE_YET.placement;
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
