import { bodyOf } from '@kneader/core';
import type { Shot } from '@kneader/core';

/** What nodes bear of the mass of their characters, %, rounded to a tenth. */
export function massesOf(shot: Shot): ReadonlyMap<string, number> {
  const byNode = new Map<string, number>();
  for (const { id } of shot.characters)
    for (const { row, share } of bodyOf(shot, id).segments) {
      const { id: node } = shot.nodes[row]!;
      byNode.set(node, (byNode.get(node) ?? 0) + 100 * share);
    }
  return new Map([...byNode].map(([node, share]) => [node, Math.round(share * 10) / 10]));
}
