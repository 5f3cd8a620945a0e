/** Which edits the rows of the stack do: passes, and whatever holds no keys, are set up alike, by edits of their own. */
import { isBlock, isKeyed, onLayer, WEIGHT } from '@kneader/core';
import type { Layer } from '@kneader/core';
import { bench, useBench } from '../bench-store.ts';

interface LayerEdits {
  /** What its weight is called. */
  readonly word: 'Weight' | 'Strength';
  readonly weigh: string;
  readonly weighing: (
    value: number,
    when: { readonly frame: number | null; readonly from?: number },
  ) => object;
  readonly set: string;
  readonly setting: (change: object) => object;
  readonly move: (place: number) => void;
  readonly remove: () => void;
}

/** The panel in which what the layer does is turned. */
export const dialledEdit = (layer: Layer): string =>
  isBlock(layer) ? 'actions.setPlacement' : 'filters.set';

/** Shows the weight among the curves, to be edited like any other. @param key the id of one of its keys to choose, or null */
export function openWeight(layer: Layer, key: number | null): void {
  const selection = onLayer(useBench.getState().session.selection, layer.id);
  bench.select({ ...selection, channels: [WEIGHT], keys: key === null ? {} : { [WEIGHT]: [key] } });
}

export function layerEdits(layer: Layer): LayerEdits {
  const { id } = layer;
  return isKeyed(layer)
    ? {
        word: 'Weight',
        weigh: 'passes.setWeight',
        weighing: (weight, when) => ({ pass: id, weight, ...when }),
        set: 'passes.set',
        setting: (change) => ({ pass: id, ...change }),
        move: (place) => void bench.perform('passes.move', { pass: id, place }),
        remove: () => void bench.perform('passes.remove', { pass: id }),
      }
    : {
        word: isBlock(layer) ? 'Weight' : 'Strength',
        weigh: 'filters.setStrength',
        weighing: (strength, when) => ({ filter: id, strength, ...when }),
        set: 'filters.set',
        setting: (change) => ({ filter: id, ...change }),
        move: (place) =>
          void bench.perform('filters.move', { filter: id, place }, undefined, `${layer.name}: moved`),
        remove: () =>
          void bench.perform('filters.remove', { filter: id }, undefined, `${layer.name}: removed`),
      };
}
