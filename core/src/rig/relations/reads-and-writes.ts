/** What a relation goes by, and what it places. */
import { relationKindOf } from './kinds.ts';
import type { Relation } from './relation.ts';

/** Ids of the nodes that must be placed before it is worked out; of a kind that is not known, none. */
export function readsOf(relation: Relation): readonly string[] {
  const kind = relationKindOf(relation);
  if (!kind) return [];
  const settings = kind.settings.safeParse(relation.settings);
  const more = settings.success ? (kind.reads?.(settings.data) ?? []) : [];
  return [...relation.targets.flatMap(({ node }) => (node === null ? [] : [node])), ...more];
}

/** Ids of the nodes that it places, in the order in which they hang on each other. */
export function writesOf(relation: Relation, parentOf: (node: string) => string | null): readonly string[] {
  const kind = relationKindOf(relation);
  if (!kind) return [];
  return kind.writes?.(relation, parentOf) ?? [relation.node];
}

/** Addresses of the channels that say how much of it holds, and of what. */
export const channelsOfRelation = ({ weight, switch: by, targets }: Relation): readonly string[] => [
  ...(weight === null ? [] : [weight]),
  ...(by === null ? [] : [by]),
  ...targets.flatMap(({ share }) => (share === null ? [] : [share])),
];
