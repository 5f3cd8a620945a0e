/** What is likely to be a mistake in what places nodes: each as a sentence, to be shown where it stands. */
import { standsAt } from '../base/bisect.ts';
import { finding } from '../base/finding.ts';
import type { Finding } from '../base/finding.ts';
import { relationKindOf } from '../rig/relations/kinds.ts';
import type { Relation } from '../rig/relations/relation.ts';
import { curveOf, rigOf } from './shot.ts';
import type { Shot } from './shot.ts';

const TRANSFORM = /^[trs][xyz]$/;

/** Switches without keys beside them, and a target that carries the node already. */
export function spaceChecks(shot: Shot, relation: Relation): Finding[] {
  const kind = relationKindOf(relation);
  if (!kind || kind.writes) return [];
  return [...jumps(shot, relation), ...twice(shot, relation)];
}

/** A switch jumps where the node is not keyed on it and on the frame before: its values mean something else from there on. */
function jumps(shot: Shot, relation: Relation): Finding[] {
  if (relation.switch === null) return [];
  const { times } = curveOf(shot, null, relation.switch);
  const row = rigOf(shot).indexOf(relation.node);
  const keyed = Object.entries(shot.curves[row] ?? {})
    .filter(([name]) => TRANSFORM.test(name))
    .map(([, curve]) => curve);
  const bare = Array.from(times).filter(
    (time) =>
      time > shot.range.start &&
      time <= shot.range.end &&
      !keyed.some((curve) => standsAt(curve.times, time) && standsAt(curve.times, time - 1)),
  );
  return bare.length > 0 ? [finding('switchWithoutKeys', { frame: bare[0]! }, relation.node, bare)] : [];
}

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
