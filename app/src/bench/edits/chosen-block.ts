import { isBlock } from '@kneader/core';
import type { Layer } from '@kneader/core';
import { useBench } from '../bench-store.ts';

/** The placement that is meant: the one that was touched, or else the uppermost. */
export function useChosenBlock(): Layer | null {
  const layers = useBench((state) => state.gesture?.last?.outcome.shot.layers ?? state.session.shot.layers);
  const chosen = useBench((state) => state.filter);
  const blocks = layers.filter(isBlock);
  return blocks.find(({ id }) => id === chosen) ?? blocks.at(-1) ?? null;
}
