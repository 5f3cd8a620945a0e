/** What is likely to be a mistake in what places nodes: each as a sentence, to be shown where it stands. */
import { finding } from '../base/finding.ts';
import type { Finding } from '../base/finding.ts';
import { relationKindOf } from '../rig/relations/kinds.ts';
import type { Relation } from '../rig/relations/relation.ts';
import { angleBetween } from '../math/quaternion.ts';
import { placeIn, worldAt } from '../evaluation/evaluation.ts';
import { curveOf, rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';

/** Switches over which the node jumps, and a target that carries the node already. */
export function spaceChecks(shot: Shot, relation: Relation): Finding[] {
  const kind = relationKindOf(relation);
  if (!kind || kind.writes) return [];
  return [...jumps(shot, relation), ...twice(shot, relation)];
}

/** More than so much beyond the motion on both sides is a jump: cm and degrees. */
const SEEN = { cm: 0.1, degrees: 1 };

/**
 * A switch jumps where the node lies elsewhere from one frame to the next than its motion before and after would have it: the world is compared, since keys
 * that stand there may be wrong, and where none stand nothing may jump.
 */
function jumps(shot: Shot, relation: Relation): Finding[] {
  if (relation.switch === null) return [];
  const rig = rigOf(shot);
  const row = rig.indexOf(relation.node);
  const { start, end } = shot.range;
  const found = Array.from(curveOf(shot, null, relation.switch).times)
    .filter((time) => time > start && time <= end)
    .flatMap((time) => {
      const worlds = [-2, -1, 0, 1].map((by) => worldAt(shot, Math.min(Math.max(time + by, start), end)));
      const steps = [0, 1, 2].map((k) => ({
        cm: Math.hypot(
          ...placeIn(worlds[k]!, row).map((at, axis) => at - placeIn(worlds[k + 1]!, row)[axis]!),
        ),
        degrees: angleBetween(turnIn(worlds[k]!, row), turnIn(worlds[k + 1]!, row)),
      }));
      const [before, over, after] = steps as [(typeof steps)[0], (typeof steps)[0], (typeof steps)[0]];
      const beyond = (unit: 'cm' | 'degrees') => over[unit] - 2 * Math.max(before[unit], after[unit]);
      const jumps = beyond('cm') > SEEN.cm || beyond('degrees') > SEEN.degrees;
      return jumps ? [{ time, mm: over.cm * 10, degrees: over.degrees }] : [];
    });
  return found.map(({ time, mm, degrees }) =>
    finding('switchJumps', { node: relation.node, frame: time }, relation.node, time, mm, degrees),
  );
}

const turnIn = ({ turns }: { readonly turns: Float64Array }, row: number) =>
  turns.subarray(row * 4, row * 4 + 4);

/** What moves with a control twice moves twice as far: as its child, and as what follows it. */
function twice(shot: Shot, relation: Relation): Finding[] {
  if (relation.kind !== 'position' && relation.kind !== 'orientation') return [];
  const rig = rigOf(shot);
  const above = new Set<string>();
  for (let row = rig.parents[rig.indexOf(relation.node)]!; row >= 0; row = rig.parents[row]!)
    above.add(rig.nodes[row]!.id);
  const both = relation.targets.flatMap(({ node }) => (node !== null && above.has(node) ? [node] : []));
  return both.length > 0 ? [finding('movedTwice', {}, relation.node, both)] : [];
}
