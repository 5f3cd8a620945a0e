/** A shot to begin with: characters that stand as they rest, and nothing keyed but what carries them. */
import { refuse } from '../base/finding.ts';
import { uniqueNames } from '../base/unique-names.ts';
import type { Node } from '../rig/node.ts';
import { channelsOfRelation, readsOf, writesOf } from '../rig/relations/reads-and-writes.ts';
import type { Relation } from '../rig/relations/relation.ts';
import { selectionSetsOf } from './marks.ts';
import { sourcesOf } from './sources.ts';
import type { Source } from './sources.ts';
import type { SelectionSet } from './marks.ts';
import { constantCurve, newShot, splitChannel, withCurves } from './shot.ts';
import type { Character, NodeMass, Rate, Shot } from './shot.ts';

/** Characters of a shot; null is the figure of one that names no characters. */
export interface Cast {
  readonly shot: Shot;
  readonly characters: readonly (string | null)[];
}

/** What of a shot comes along. */
interface Part {
  readonly nodes: readonly Node[];
  readonly relations: readonly Relation[];
  readonly characters: readonly Character[];
  readonly masses: readonly NodeMass[];
  readonly sets: readonly SelectionSet[];
  readonly sources: readonly Source[];
}

/**
 * The characters of `cast` with what they hang on and the relations among their own controls, in the order given; other props, cameras and what follows them stay behind. Legs hang on
 * their goals from the first frame on, so that whoever moves the hips leaves the feet where they stand.
 * @param cast of each shot all that is wanted, together: what they share comes once
 * @param frames of the shot, ≥ 2
 * @throws InputError where there is nobody, or two have a control of one name
 */
export function castShot(name: string, cast: readonly Cast[], rate: Rate, frames: number): Shot {
  const parts = withOwnIds(cast.map(partOf));
  const nodes = parts.flatMap((part) => part.nodes);
  if (nodes.length === 0) refuse('noCast', {});
  const names = new Set<string>();
  for (const { id } of nodes) {
    if (names.has(id)) refuse('castTwice', { node: id }, id);
    names.add(id);
  }
  const relations = parts.flatMap((part) => part.relations);
  const masses = parts.flatMap((part) => part.masses);
  const sets = parts.flatMap((part) => part.sets);
  const sources = parts.flatMap((part) => part.sources);
  const range = { start: 0, end: Math.max(2, Math.round(frames)) - 1 };
  const bare: Shot = {
    ...newShot(name, nodes, relations, rate, range),
    characters: parts.flatMap((part) => part.characters),
    ...(masses.length > 0 && { masses }),
    ...(sets.length > 0 && { selectionSets: sets }),
    ...(sources.length > 0 && { sources }),
  };
  const legs = new Set(nodes.flatMap(({ id, part }) => (part === 'leg' ? [id] : [])));
  const held = relations.filter(({ kind, node, weight }) => kind === 'reach' && weight && legs.has(node));
  return withCurves(bare, null, new Map(held.map(({ weight }) => [weight!, constantCurve(1)])));
}

function partOf({ shot, characters }: Cast): Part {
  const byId = new Map(shot.nodes.map((node) => [node.id, node]));
  const own = new Set<string>();
  for (const { id, character, kind, part } of shot.nodes) {
    if (!characters.includes(character) || (character === null && (part === 'prop' || kind === 'camera')))
      continue;
    // What it hangs on gives it its place and its size, mirrored or uneven as they may be.
    for (let at: string | null = id; at !== null && !own.has(at); at = byId.get(at)!.parent) own.add(at);
  }
  const parentOf = (node: string) => byId.get(node)?.parent ?? null;
  const isOwn = (relation: Relation) =>
    [
      relation.node,
      ...relation.targets.flatMap(({ node }) => node ?? []),
      ...readsOf(relation),
      ...writesOf(relation, parentOf),
      ...channelsOfRelation(relation).map((channel) => splitChannel(channel).node),
    ].every((id) => own.has(id));
  return {
    nodes: shot.nodes
      .filter(({ id }) => own.has(id))
      .map((node) => (node.pair === null || own.has(node.pair) ? node : { ...node, pair: null })),
    relations: shot.relations.filter(isOwn),
    characters: shot.characters.filter(({ id }) => characters.includes(id)),
    masses: shot.masses?.filter(({ node }) => own.has(node)) ?? [],
    sources: sourcesOf(shot).filter(({ character }) => characters.includes(character)),
    sets: selectionSetsOf(shot).flatMap((set) => {
      const nodes = set.nodes.filter((node) => own.has(node));
      return nodes.length > 0 ? [{ ...set, nodes }] : [];
    }),
  };
}

/** Ids of different shots may be the same: those of the later ones are numbered. */
function withOwnIds(parts: readonly Part[]): Part[] {
  const relationIds = uniqueNames(parts.flatMap(({ relations }) => relations.map(({ id }) => id)));
  const characterIds = uniqueNames(parts.flatMap(({ characters }) => characters.map(({ id }) => id)));
  const names = uniqueNames(parts.flatMap(({ characters }) => characters.map((one) => one.name)));
  const setIds = uniqueNames(parts.flatMap(({ sets }) => sets.map(({ id }) => id)));
  const setNames = uniqueNames(parts.flatMap(({ sets }) => sets.map((one) => one.name)));
  const digits = new Set<number>();
  let [r, c, s] = [0, 0, 0];
  return parts.map((part) => {
    const renamed = new Map<string | null, string>();
    const characters = part.characters.map((one) => {
      const id = characterIds[c]!;
      renamed.set(one.id, id);
      return { ...one, id, name: names[c++]! };
    });
    return {
      ...part,
      characters,
      nodes: part.nodes.map((node) => {
        const character = renamed.get(node.character) ?? null;
        return character === node.character ? node : { ...node, character };
      }),
      relations: part.relations.map((one) => ({ ...one, id: relationIds[r++]! })),
      sources: part.sources.map((one) => ({
        ...one,
        character: renamed.get(one.character) ?? one.character,
      })),
      sets: part.sets.map(({ digit, ...one }) => {
        // A digit chooses one set: the first that had it.
        const free = digit !== undefined && !digits.has(digit);
        if (free) digits.add(digit);
        const [id, name] = [setIds[s]!, setNames[s]!];
        s += 1;
        return { ...one, id, name, ...(free && { digit }) };
      }),
    };
  });
}
