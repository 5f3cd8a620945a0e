/** What holds at a frame: which relations, and by which of their targets. */
import { relationKindOf } from '../rig/relations/kinds.ts';
import { countedTargets } from '../rig/relations/seat.ts';
import { valuesAt } from './evaluation.ts';
import { rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';

interface Holding {
  readonly id: string;
  readonly kind: string;
  /** What is placed. */
  readonly node: string;
  /** What it goes by; null is the world. */
  readonly target: string | null;
  /** How much of it, 0…1. */
  readonly weight: number;
}

/** One entry for each target that counts, limbs that reach aside. */
export function relationsHolding(shot: Shot, frame: number): Holding[] {
  const rig = rigOf(shot);
  if (rig.relations.length === 0) return [];
  const values = valuesAt(shot, frame);
  return rig.relations.flatMap((related) =>
    (related ?? []).flatMap((compiled) => {
      const { relation } = compiled;
      const weight = compiled.weight < 0 ? 1 : Math.min(Math.max(values[compiled.weight]!, 0), 1);
      if (weight <= 0 || !relationKindOf(relation)) return [];
      return countedTargets(compiled, values).map(({ at, share }) => ({
        id: relation.id,
        kind: relation.kind,
        node: relation.node,
        target: relation.targets[at]!.node,
        weight: weight * share,
      }));
    }),
  );
}
