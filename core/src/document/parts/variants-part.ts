/** Variants in a file and in memory. */
import { z } from 'zod';
import { LIMITS } from '../../base/limits.ts';
import { sameShape } from '../../curve/curve.ts';
import type { Variant } from '../shot.ts';
import { curveFromJson, curveSchema, curveToJson } from './curve-json.ts';
import { sameList } from './going.ts';
import { heldCurve } from './part.ts';
import type { Part } from './part.ts';

const state = z.object({
  layer: z.string().describe('The id of a layer; one that is gone does no harm'),
  muted: z.boolean(),
  solo: z.boolean(),
  weight: curveSchema,
});
const variant = z.looseObject({
  id: z.string().min(1),
  name: z.string().min(1).max(LIMITS.name),
  states: z.array(state).max(LIMITS.layers).describe('Of the layers from bottom to top'),
});
type VariantJson = z.infer<typeof variant>;

export const variantsPart: Part<readonly Variant[], VariantJson[]> = {
  older: 'as ever',
  time: (variants, { copies }) =>
    sameList(
      variants,
      variants.map((variant) => {
        const states = variant.states.flatMap((state) =>
          (copies.get(state.layer) ?? []).length === 0
            ? [state]
            : copies.get(state.layer)!.map(({ id, weight }) => {
                const carried = weight(state.weight);
                return id === state.layer && sameShape(carried, state.weight)
                  ? state
                  : { ...state, layer: id, weight: carried };
              }),
        );
        return sameList(variant.states, states) === variant.states ? variant : { ...variant, states };
      }),
    ),
  json: z.array(variant).max(LIMITS.layers).describe('Named states of the stack; none when left out'),
  held: z.array(variant.extend({ states: z.array(state.extend({ weight: heldCurve })) })),
  check(variants, _, wrong) {
    if (new Set(variants.map(({ id }) => id)).size < variants.length)
      wrong('variants', 'two variants share an id');
    variants.forEach(({ states }, i) =>
      states.forEach(({ weight }, s) => {
        if (weight.times.length === 0) wrong(`variants[${i}].states[${s}].weight`, 'it has no key');
      }),
    );
  },
  read: (variants) =>
    variants.map((json, i) => ({
      ...json,
      states: json.states.map((held, s) => ({
        ...held,
        weight: curveFromJson(held.weight, `variants[${i}].states[${s}].weight`),
      })),
    })),
  write: (variants) =>
    variants.map((held) => ({
      ...held,
      states: held.states.map((one) => ({ ...one, weight: curveToJson(one.weight) })),
    })),
  *curves(variants) {
    for (const { states } of variants ?? [])
      for (const { layer, weight } of states) yield { pass: layer, channel: null, curve: weight };
  },
};
