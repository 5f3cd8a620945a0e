/** Rename a variant, or let it have the stack as it stands. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { stateOf, variantsOf } from '../../document/variants.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { knownVariant, variantOption } from './variant-option.ts';

export const setVariant = defineEdit({
  id: 'variants.set',
  title: 'Set up variant',
  summary: 'Renames a variant, or gives it the stack as it stands.',
  words: 'layer version alternative rename update',
  group: 'passes',
  locks: 'none',
  options: z.object({
    variant: variantOption,
    name: z.string().trim().min(1).max(60).optional().meta({ title: 'Name' }),
    update: z.boolean().default(false).meta({
      title: 'As the stack stands',
      description: 'What the variant had is replaced by what is muted, the weights and the order now.',
    }),
  }),
  run(shot, selection, { variant: id, name, update }) {
    const variant = knownVariant(shot, id);
    const others = variantsOf(shot).filter((other) => other !== variant);
    if (name !== undefined && others.some((other) => other.name === name))
      return refused(shot, selection, finding('nameTaken', {}, name));
    const after = { ...variant, name: name ?? variant.name, states: update ? stateOf(shot) : variant.states };
    if (JSON.stringify(after) === JSON.stringify(variant)) return outcome(shot, shot, selection);
    const variants = variantsOf(shot).map((one) => (one === variant ? after : one));
    return outcome(shot, { ...shot, variants }, selection);
  },
});
