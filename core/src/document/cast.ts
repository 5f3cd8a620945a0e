/** A shot to begin with: characters that stand as they rest, and nothing keyed but what carries them. */
import { refuse } from '../base/finding.ts';
import { relationKindOf } from '../rig/relations/kinds.ts';
import type { Relation } from '../rig/relations/relation.ts';
import { constantCurve, newShot, rigOf, withCurves } from './shot.ts';
import type { Rate, Shot } from './shot.ts';

/** A character, and a shot that has it. */
export interface Cast {
  readonly shot: Shot;
  readonly character: string;
}

/** All nodes that a relation names. */
function namesOf(relation: Relation, parentOf: (node: string) => string | null): readonly string[] {
  const kind = relationKindOf(relation)!;
  const given = kind.settings.safeParse(relation.settings).data;
  return [
    relation.node,
    ...relation.targets.flatMap(({ node }) => (node === null ? [] : [node])),
    ...(kind.reads?.(given as never) ?? []),
    ...(kind.writes?.(relation, parentOf) ?? []),
  ];
}

/**
 * The characters of `cast` with the relations among their own controls, in the order given; props, cameras and what follows them stay behind. Legs hang on their goals from the first frame on,
 * so that whoever moves the hips leaves the feet where they stand.
 * @param frames of the shot, ≥ 2
 * @throws InputError where two of them have a control of one name
 */
export function castShot(name: string, cast: readonly Cast[], rate: Rate, frames: number): Shot {
  if (cast.length === 0) refuse('noCast', {});
  const range = { start: 0, end: Math.max(2, Math.round(frames)) - 1 };
  const parts = cast.map(({ shot, character }) => {
    const nodes = shot.nodes.filter((node) => node.character === character);
    const own = new Set(nodes.map(({ id }) => id));
    const rig = rigOf(shot);
    const parentOf = (node: string) => rig.nodes[rig.indexOf(node)]?.parent ?? null;
    return {
      // What hung on something else stands by itself.
      nodes: nodes.map((node) =>
        node.parent === null || own.has(node.parent) ? node : { ...node, parent: null },
      ),
      relations: shot.relations.filter((one) => namesOf(one, parentOf).every((id) => own.has(id))),
      characters: shot.characters.filter(({ id }) => id === character),
      masses: shot.masses?.filter(({ node }) => own.has(node)) ?? [],
    };
  });
  const nodes = parts.flatMap((part) => part.nodes);
  const names = nodes.map(({ id }) => id);
  const twice = names.find((id, i) => names.indexOf(id) !== i);
  if (twice !== undefined) refuse('castTwice', { node: twice }, twice);
  const relations = parts.flatMap((part) => part.relations);
  const masses = parts.flatMap((part) => part.masses);
  const bare: Shot = {
    ...newShot(name, nodes, relations, rate, range),
    characters: parts.flatMap((part) => part.characters),
    ...(masses.length > 0 && { masses }),
  };
  const legs = relations.filter(
    ({ kind, node, weight }) =>
      kind === 'reach' && weight !== null && nodes[names.indexOf(node)]!.part === 'leg',
  );
  return withCurves(bare, null, new Map(legs.map(({ weight }) => [weight!, constantCurve(1)])));
}
