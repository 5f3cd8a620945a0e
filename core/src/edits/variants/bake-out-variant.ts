/** What a variant shows, as a shot of its own. */
import { z } from 'zod';
import { withVariant } from '../../document/variants.ts';
import { defineEdit } from '../edit.ts';
import { bakedOut, bakeOutName } from '../passes/bake-out.ts';
import { bakeOptions } from '../shared/bake.ts';
import { knownVariant, variantOption } from './variant-option.ts';

export const bakeOutVariant = defineEdit({
  id: 'variants.bakeOut',
  title: 'Bake out variant',
  summary: 'Writes what a variant shows to a shot of its own; this one stays as it is.',
  words: 'layer version flatten export new shot',
  group: 'passes',
  locks: 'none',
  options: z.object({ variant: variantOption, name: bakeOutName, ...bakeOptions }),
  *run(shot, selection, { variant: id, name, ...wishes }) {
    const variant = knownVariant(shot, id);
    const called = name || `${shot.name}, ${variant.name}`;
    return yield* bakedOut(shot, withVariant(shot, variant), selection, called, wishes);
  },
});
