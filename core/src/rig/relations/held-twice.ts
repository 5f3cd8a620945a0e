/** Relations that take hold of the same of one node: the later one undoes the earlier. */
import { relationKindOf } from './kinds.ts';
import { writesOf } from './reads-and-writes.ts';
import type { Relation, RelationKind } from './relation.ts';

type ParentOf = (node: string) => string | null;

function holdsOf(relation: Relation): readonly string[] {
  const kind = relationKindOf(relation);
  const settings = kind?.settings.safeParse(relation.settings);
  return kind && settings?.success ? kind.holds(settings.data) : [];
}

/**
 * The kind of a relation among these that holds of a node what another shall hold, or null. A joint of a limb is turned by its reach, whatever else it is.
 * @param what the other holds
 */
export function alreadyHolding(
  relations: readonly Relation[],
  node: string,
  what: readonly string[],
  parentOf: ParentOf,
): RelationKind | null {
  for (const relation of relations) {
    const kind = relationKindOf(relation);
    if (!kind || !writesOf(relation, parentOf).includes(node)) continue;
    if (kind.writes !== undefined || holdsOf(relation).some((one) => what.includes(one))) return kind;
  }
  return null;
}

/** Nodes of which two relations hold the same, in the order of the relations. */
export function heldTwice(relations: readonly Relation[], parentOf: ParentOf): readonly string[] {
  const nodes = relations.flatMap((relation, i) => {
    const [others, what] = [relations.slice(0, i), holdsOf(relation)];
    return writesOf(relation, parentOf).filter((node) => {
      if (alreadyHolding(others, node, what, parentOf) !== null) return true;
      // A reach that comes after turns what another relation placed.
      const known = relationKindOf(relation)!;
      return known.writes !== undefined && others.some((other) => writesOf(other, parentOf).includes(node));
    });
  });
  return [...new Set(nodes)];
}
