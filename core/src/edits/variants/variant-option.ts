/** The option that names a variant, and finding it. */
import { z } from 'zod';
import { refuse } from '../../base/finding.ts';
import type { Shot, Variant } from '../../document/shot.ts';
import { variantsOf } from '../../document/variants.ts';

export const variantOption = z.string().meta({ title: 'Variant', description: 'The id of the variant.' });

export const knownVariant = (shot: Shot, id: string): Variant =>
  variantsOf(shot).find((variant) => variant.id === id) ?? refuse('unknownVariant', {}, id);
