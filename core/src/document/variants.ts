/** Variants: named states of the stack, to show somebody a choice. What is muted and solo, the weights and the order belong to one; keys and settings do not. */
import type { Curve } from '../curve/curve.ts';
import { sameShape } from '../curve/curve.ts';
import type { Layer } from '../layers/layer.ts';
import type { LayerState, Shot, Variant } from './shot.ts';

/** One list for all shots without any: who asks again gets the same. */
const NONE: readonly Variant[] = [];

export const variantsOf = (shot: Shot): readonly Variant[] => shot.variants ?? NONE;

/** The state of the stack as it stands. */
export const stateOf = ({ layers }: Pick<Shot, 'layers'>): readonly LayerState[] =>
  layers.map(({ id, muted, solo, weight }) => ({ layer: id, muted, solo, weight }));

const shown = new WeakMap<Shot, WeakMap<Variant, Shot>>();

/** The shot with its stack as a variant has it; the same object when asked again, since what is drawn side by side asks at every frame. */
export function withVariant(shot: Shot, variant: Variant): Shot {
  const known = shown.get(shot) ?? new WeakMap<Variant, Shot>();
  shown.set(shot, known);
  let made = known.get(variant);
  if (!made) known.set(variant, (made = inState(shot, variant)));
  return made;
}

/** Layers that came later lie on top and are muted: they belong to no look that was named before. */
function inState(shot: Shot, { states }: Variant): Shot {
  const layers = new Map(shot.layers.map((layer) => [layer.id, layer]));
  const known = states.flatMap(({ layer: id, muted, solo, weight }): Layer[] => {
    const layer = layers.get(id);
    layers.delete(id);
    return layer ? [asIn(layer, muted, solo, weight)] : [];
  });
  const later = [...layers.values()].map((layer) => asIn(layer, true, false, layer.weight));
  const after = [...known, ...later];
  return after.every((layer, i) => layer === shot.layers[i]) ? shot : { ...shot, layers: after };
}

function asIn(layer: Layer, muted: boolean, solo: boolean, weight: Curve): Layer {
  const same = layer.muted === muted && layer.solo === solo && sameShape(layer.weight, weight);
  return same ? layer : { ...layer, muted, solo, weight };
}

/** The variant that the stack is in as it stands, or null. */
export const shownVariant = (shot: Shot): Variant | null =>
  shot.layers.length === 0
    ? null
    : (variantsOf(shot).find((variant) => withVariant(shot, variant) === shot) ?? null);

/**
 * The shot with layers that are new shown in the variant in which they were made, and in no other: who lays a pass while a variant shows means that look.
 * @param before the shot without them
 */
export function withNewLayersShown(before: Shot, after: Shot): Shot {
  if (!after.variants || after.variants !== before.variants || after.layers === before.layers) return after;
  const known = new Set(before.layers.map(({ id }) => id));
  const made = after.layers.filter(({ id }) => !known.has(id));
  const shown = made.length > 0 ? shownVariant(before) : null;
  if (!shown) return after;
  const states = stateOf(after);
  return {
    ...after,
    variants: after.variants.map((variant) => (variant.id === shown.id ? { ...variant, states } : variant)),
  };
}
