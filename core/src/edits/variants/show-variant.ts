/** Put the stack into the state of a variant. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { shownVariant, withVariant } from '../../document/variants.ts';
import { defineEdit, outcome } from '../edit.ts';
import { knownVariant, variantOption } from './variant-option.ts';

export const showVariant = defineEdit({
  id: 'variants.show',
  title: 'Show variant',
  summary: 'Restores what is muted, the weights and the order of the variant.',
  words: 'layer version alternative switch choice',
  group: 'passes',
  locks: 'none',
  options: z.object({ variant: variantOption }),
  run(shot, selection, { variant: id }) {
    const variant = knownVariant(shot, id);
    const named = new Set(variant.states.map(({ layer }) => layer));
    const later = shot.layers.filter((layer) => !named.has(layer.id)).map(({ name }) => name);
    const after = withVariant(shot, variant);
    const findings = [
      ...(later.length > 0 ? [finding('laterMuted', {}, later)] : []),
      ...(after !== shot && shownVariant(shot) === null ? [finding('stateUnnamed', {})] : []),
    ];
    return outcome(shot, after, selection, { findings });
  },
});
