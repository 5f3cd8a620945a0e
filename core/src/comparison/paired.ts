/** Which joint of one shot stands beside which of another: by name in shots of one rig, by mapping where the names are others. */
import { bodyOf } from '../bodies/body-of.ts';
import { rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { ownSkeletonOf, skeletonOf } from '../mapping/skeletons.ts';
import { matchSkeletons } from '../mapping/match.ts';
import { proportionOf } from '../mapping/proportion.ts';
import { measured } from '../rig/skeleton.ts';

interface PairedNode {
  /** As the first calls it. */
  readonly name: string;
  readonly character: string | null;
  /** Its rows in the two rigs. */
  readonly a: number;
  readonly b: number;
  /** How long a way of the second is in the first: what makes figures of two sizes comparable. */
  readonly scale: number;
  /** cm that a unit of the first counts as. */
  readonly unit: number;
}

export interface Paired {
  readonly pairs: readonly PairedNode[];
  /** What has no partner, by id. */
  readonly aloneInA: readonly string[];
  readonly aloneInB: readonly string[];
  /** Whether joints were found by more than their names. */
  readonly isMapped: boolean;
}

/** How many times as large the second shot is shown beside the first: as most of its joints are measured. */
export function shownSize({ pairs }: Pick<Paired, 'pairs'>): number {
  const counts = new Map<number, number>();
  for (const { scale } of pairs) counts.set(scale, (counts.get(scale) ?? 0) + 1);
  const [most] = [...counts].sort(([, a], [, b]) => b - a);
  return most?.[0] ?? 1;
}

/** As many of the names must agree for two figures to count as one. */
const SAME_RIG = 0.5;

/** Pairs all nodes of two shots. Figures of other names are mapped: those of one name onto each other, the rest in the order in which they stand. */
export function pairedNodes(a: Shot, b: Shot): Paired {
  const [rigA, rigB] = [rigOf(a), rigOf(b)];
  const pairs: PairedNode[] = [];
  const taken = new Set<number>();
  let isMapped = false;
  const add = (row: number, other: number, scale: number) => {
    const { id, character } = rigA.nodes[row]!;
    taken.add(other);
    pairs.push({ name: id, character, a: row, b: other, scale, unit: bodyOf(a, character).unit });
  };
  const spare = b.characters.map(({ id }) => id);
  for (const character of [...a.characters.map(({ id }) => id), null]) {
    const own = rigA.nodes.flatMap((node, row) => (node.character === character ? [row] : []));
    const byName = own.flatMap((row) => {
      const other = rigB.indexOf(rigA.nodes[row]!.id);
      return other < 0 ? [] : [[row, other] as const];
    });
    const known = byName[0] && rigB.nodes[byName[0][1]]!.character;
    if (character === null || byName.length >= SAME_RIG * own.length) {
      if (known != null && spare.includes(known)) spare.splice(spare.indexOf(known), 1);
      for (const [row, other] of byName) if (!taken.has(other)) add(row, other, 1);
      continue;
    }
    const next = spare.shift();
    if (next === undefined) continue;
    isMapped = true;
    const [ours, theirs] = [skeletonOf(a, character), skeletonOf(b, next)];
    const { pairs: found } = matchSkeletons(ownSkeletonOf(a, character), ownSkeletonOf(b, next), 'both');
    const scale = proportionOf(
      measured(theirs),
      measured(ours),
      found.map(({ source, target, how }) => ({ source: target, target: source, how })),
    );
    for (const { source, target } of found) {
      const [row, other] = [rigA.indexOf(source), rigB.indexOf(target)];
      if (rigA.nodes[row]!.character === character && !taken.has(other)) add(row, other, scale);
    }
  }
  pairs.sort((one, two) => one.a - two.a);
  const paired = new Set(pairs.map((pair) => pair.a));
  return {
    pairs,
    aloneInA: rigA.nodes.flatMap(({ id }, row) => (paired.has(row) ? [] : [id])),
    aloneInB: rigB.nodes.flatMap(({ id }, row) => (taken.has(row) ? [] : [id])),
    isMapped,
  };
}
