/** Back to joints: what a limb shows becomes keys of its joints, and its goal and pole go where nothing else needs them. */
import { z } from 'zod';
import { refuse } from '../../base/finding.ts';
import { readsOf } from '../../rig/relations/reads-and-writes.ts';
import { defineEdit, outcome } from '../edit.ts';
import { keptWithin } from './kept-within.ts';
import { withoutNodes } from './node-changes.ts';
import { knownRelation, relationOption, wishesOf, withinOptions } from './relation-option.ts';
import { placedBy } from './remove-relation.ts';

export const toJoints = defineEdit({
  id: 'spaces.toJoints',
  title: 'Back to joints',
  summary: 'Writes what a limb shows into its joints and takes its goal away.',
  words: 'ik fk bake remove goal limb',
  group: 'spaces',
  worksOn: 'relation',
  locks: 'none',
  promise: 'sameMotion',
  options: z.object({ relation: relationOption, ...withinOptions() }),
  *run(shot, selection, { relation: id, ...given }) {
    const relation = knownRelation(shot, id);
    if (relation.kind !== 'reach') refuse('noLimb', { node: relation.node }, relation.node);
    const joints = placedBy(shot, relation);
    const free = { ...shot, relations: shot.relations.filter((one) => one !== relation) };
    const rewrites = joints.map((node) => ({ node, range: shot.range, keys: 'needed' as const }));
    const kept = yield* keptWithin(shot, free, rewrites, wishesOf(given), joints);
    const needed = new Set([
      ...free.relations.flatMap((one) => [one.node, ...readsOf(one)]),
      ...shot.nodes.flatMap(({ parent }) => (parent === null ? [] : [parent])),
    ]);
    const spare = readsOf(relation).filter((node) => {
      const found = shot.nodes.find((one) => one.id === node);
      return (
        found !== undefined &&
        found.parent === null &&
        found.kind !== 'joint' &&
        found.solids.length === 0 &&
        !needed.has(node)
      );
    });
    const after = withoutNodes(kept.shot, spare);
    return outcome(shot, after, selection, {
      selection: { ...selection, nodes: [relation.node], channels: [], keys: {} },
      touched: kept.touched,
      findings: kept.findings,
      measures: [{ name: 'keys written', value: kept.keys, unit: '' }, ...kept.measures],
    });
  },
});
