/** How many filters move time over one control: at part of their strength each shows two times at once, so that the work doubles with each. */
import { LIMITS } from '../base/limits.ts';
import { kindOf } from './kinds.ts';
import type { Layer } from './layer.ts';

/** A control that has more of them than can be shown, or null. */
export function overlaidInTime(layers: readonly Pick<Layer, 'kind' | 'members'>[]): string | null {
  const counts = new Map<string, number>();
  for (const layer of layers) {
    if (!kindOf(layer)?.movesTime) continue;
    for (const node of layer.members) {
      const count = (counts.get(node) ?? 0) + 1;
      if (count > LIMITS.timeFilters) return node;
      counts.set(node, count);
    }
  }
  return null;
}
