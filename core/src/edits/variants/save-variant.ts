/** Name the stack as it stands. */
import { z } from 'zod';
import { nameOption } from '../shared/name-option.ts';
import { finding, refuse } from '../../base/finding.ts';
import { LIMITS } from '../../base/limits.ts';
import { stateOf, variantsOf } from '../../document/variants.ts';
import { defineEdit, outcome, refused } from '../edit.ts';

export const saveVariant = defineEdit({
  id: 'variants.save',
  title: 'Save variant',
  summary: 'Names the stack as it stands: what is muted, the weights and the order.',
  words: 'layer version alternative choice take state snapshot',
  group: 'passes',
  worksOn: 'layer',
  locks: 'none',
  options: z.object({
    name: nameOption('“Variant” and a letter'),
  }),
  run(shot, selection, { name }) {
    if (shot.layers.length === 0) return refused(shot, selection, finding('noLayers', {}));
    const variants = variantsOf(shot);
    if (variants.length >= LIMITS.layers)
      refuse('badOption', {}, 'variants', `there are ${LIMITS.layers} already`);
    const names = new Set(variants.map((variant) => variant.name));
    if (name !== '' && names.has(name)) return refused(shot, selection, finding('nameTaken', {}, name));
    const ids = variants.map(({ id }) => Number(/^variant-(\d+)$/.exec(id)?.[1] ?? 0));
    const made = {
      id: `variant-${Math.max(0, ...ids) + 1}`,
      name: name || freshName(names),
      states: stateOf(shot),
    };
    return outcome(shot, { ...shot, variants: [...variants, made] }, selection, {
      measures: [{ name: 'variants', value: variants.length + 1, unit: '', before: variants.length }],
    });
  },
});

/** Variant A, B, … Z, then with numbers. */
function freshName(names: ReadonlySet<string>): string {
  for (let i = 0; ; i += 1) {
    const name = `Variant ${i < 26 ? String.fromCharCode(65 + i) : i + 1}`;
    if (!names.has(name)) return name;
  }
}
