/** Forget a variant; the stack stays as it stands. */
import { z } from 'zod';
import { variantsOf } from '../../document/variants.ts';
import { defineEdit, outcome } from '../edit.ts';
import { knownVariant, variantOption } from './variant-option.ts';

export const removeVariant = defineEdit({
  id: 'variants.remove',
  title: 'Remove variant',
  summary: 'Forgets a variant; the stack and its keys stay as they are.',
  words: 'layer version delete',
  group: 'passes',
  locks: 'none',
  options: z.object({ variant: variantOption }),
  run(shot, selection, { variant: id }) {
    const gone = knownVariant(shot, id);
    const variants = variantsOf(shot).filter((variant) => variant !== gone);
    return outcome(shot, { ...shot, variants }, selection);
  },
});
