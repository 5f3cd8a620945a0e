/** Bake: what shows in the world, as keys of the controls' own; on their own keys, on poses, every so many frames, or as needed. */
import { z } from 'zod';
import { finding, refuse } from '../../base/finding.ts';
import { framesOf } from '../../base/frame-range.ts';
import { channelsOfRelation } from '../../rig/relations/reads-and-writes.ts';
import { relationKindOf } from '../../rig/relations/kinds.ts';
import { columnsOfNode, poseColumns } from '../../document/pose-columns.ts';
import { constantCurve, rigOf, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import { chosenNodes } from '../shared/chosen-nodes.ts';
import { keptWithin } from './kept-within.ts';
import type { Rewrite } from './keep-motion.ts';
import { withoutChannels } from './node-changes.ts';
import { wishesOf, withinOptions } from './relation-option.ts';
import { placedBy } from './remove-relation.ts';

export const bakeNodes = defineEdit({
  id: 'spaces.bake',
  title: 'Bake to keys',
  summary:
    'Writes what shows of the selected controls into keys of their own, and lets go of what held them.',
  words: 'constraint ik world export plain detach collapse',
  group: 'spaces',
  needs: 'channels',
  locks: 'none',
  promise: 'sameMotion',
  options: z.object({
    keys: z
      .enum(['needed', 'existing', 'columns', 'every'])
      .default('needed')
      .meta({
        title: 'Keys',
        labels: { needed: 'as needed', existing: 'where they are', columns: 'pose columns', every: 'every' },
        description:
          'As few as hold the tolerance; where keys are; on the pose columns; or every so many frames.',
      }),
    every: z
      .number()
      .int()
      .min(1)
      .max(1000)
      .default(1)
      .meta({
        title: 'Every',
        unit: 'frames',
        when: { keys: 'every' },
        description: 'Frames from one key to the next.',
      }),
    detach: z.boolean().default(true).meta({
      title: 'Let go',
      description: 'What held the controls is taken away; off, its weight becomes nothing.',
    }),
    ...withinOptions(),
  }),
  *run(shot, selection, { keys, every, detach, ...given }) {
    const chosen = new Set(chosenNodes(shot, selection));
    const held = shot.relations.filter((relation) => placedBy(shot, relation).some((id) => chosen.has(id)));
    if (held.length === 0) refuse('nothingHolds', {}, [...chosen]);
    const fixed = held.filter((relation) => !detach && relation.weight === null);
    if (fixed.length > 0) refuse('noWeight', {}, fixed[0]!.node);
    const places = new Set([...held.flatMap((relation) => placedBy(shot, relation))]);
    // Parents before children, as they hang on each other.
    const nodes = [...rigOf(shot).order].map((row) => shot.nodes[row]!.id).filter((id) => places.has(id));
    const rest = shot.relations.filter((relation) => !held.includes(relation));
    const off = new Map(
      held.flatMap(({ weight }) =>
        weight === null ? [] : [[weight, constantCurve(0, shot.range.start)] as const],
      ),
    );
    const free = detach ? { ...shot, relations: rest } : withCurves(shot, null, off);
    const rewrites = nodes.map((node): Rewrite => ({
      node,
      range: shot.range,
      keys: policy(shot, node, keys, every),
    }));
    const kept = yield* keptWithin(shot, free, rewrites, wishesOf(given), nodes);
    const gone = detach
      ? held
          .filter((relation) => !relationKindOf(relation)?.writes)
          .flatMap((relation) => channelsOfRelation(relation))
          .filter((id) => !rest.some((relation) => channelsOfRelation(relation).includes(id)))
      : [];
    const after = withoutChannels(kept.shot, gone);
    return outcome(shot, after, selection, {
      touched: [...kept.touched, ...(detach ? gone : off.keys())],
      findings: [finding('letGo', {}, held.length, nodes.length), ...kept.findings],
      measures: [
        { name: 'controls', value: nodes.length, unit: '' },
        { name: 'keys written', value: kept.keys, unit: '' },
        ...kept.measures,
      ],
    });
  },
});

function policy(shot: Shot, node: string, keys: string, every: number): Rewrite['keys'] {
  if (keys === 'needed' || keys === 'existing') return keys;
  const { start, end } = shot.range;
  if (keys === 'every') return [...framesOf(shot.range, every), end];
  const character = shot.nodes.find(({ id }) => id === node)?.character ?? null;
  const columns = columnsOfNode(poseColumns(shot), character).filter(
    (frame) => frame >= start && frame <= end,
  );
  return [start, ...columns, end];
}
