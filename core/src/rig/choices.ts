/**
 * Channels that choose, and are no quantities: which space, FK or IK, held in the camera or not. Half of one means nothing, so nothing may mix, smooth, filter,
 * thin or re-tangent them.
 */
import { SEGMENT } from '../curve/curve.ts';
import type { Curve } from '../curve/curve.ts';
import type { Node } from './node.ts';
import type { Relation } from './relations/relation.ts';
import { relationKindOf } from './relations/kinds.ts';

/** by nature; where it is keyed as one: a weight that is only ever switched; or neither. */
export const CHOICE = { never: 0, asKeyed: 1, always: 2 } as const;

/** How each channel chooses, by its address: as relations say, and as is set on the node. */
export function choicesOf(
  nodes: readonly Node[],
  relations: readonly Relation[],
): ReadonlyMap<string, number> {
  const found = new Map<string, number>();
  for (const relation of relations) {
    if (relation.weight !== null)
      found.set(relation.weight, relationKindOf(relation)?.switchedOnly ? CHOICE.always : CHOICE.asKeyed);
    if (relation.switch !== null) found.set(relation.switch, CHOICE.always);
  }
  for (const { id, choices } of nodes)
    for (const name of choices ?? []) found.set(`${id}.${name}`, CHOICE.always);
  return found;
}

/** Whether a curve only ever steps from one whole number to another. */
export function isStepping({ values, segments }: Curve): boolean {
  if (!values.every(Number.isInteger)) return false;
  return values.length < 2 || segments.subarray(0, -1).every((kind) => kind === SEGMENT.stepped);
}
