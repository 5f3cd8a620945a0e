/** Remove a relation: the motion stays, in keys of the control's own; or it goes back to what its keys say. */
import { z } from 'zod';
import { relationKindOf } from '../../rig/relations/kinds.ts';
import { channelsOfRelation, writesOf } from '../../rig/relations/reads-and-writes.ts';
import type { Relation } from '../../rig/relations/relation.ts';
import { splitChannel } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import { keptWithin } from './kept-within.ts';
import { withoutChannels } from './node-changes.ts';
import { knownRelation, relationOption, wishesOf, withinOptions } from './relation-option.ts';

export const removeRelation = defineEdit({
  id: 'spaces.remove',
  title: 'Remove relation',
  summary: 'Takes a relation away; the motion stays, in plain keys, or the keys are what they were.',
  words: 'constraint detach bake space delete unparent',
  group: 'spaces',
  worksOn: 'relation',
  locks: 'none',
  promise: 'sameMotion',
  options: z.object({
    relation: relationOption,
    keep: z.boolean().default(true).meta({
      title: 'Keep the motion',
      description: 'The control gets keys that make it; off, it does what its keys say.',
    }),
    ...withinOptions({ keep: true }),
  }),
  *run(shot, selection, { relation: id, keep, ...given }) {
    const relation = knownRelation(shot, id);
    const nodes = placedBy(shot, relation);
    const without = { ...shot, relations: shot.relations.filter((one) => one !== relation) };
    const rewrites = nodes.map((node) => ({ node, range: shot.range, keys: 'needed' as const }));
    const kept =
      keep && relationKindOf(relation)
        ? yield* keptWithin(shot, without, rewrites, wishesOf(given), nodes)
        : null;
    const gone = ownChannels(shot, relation);
    const after = withoutChannels(kept?.shot ?? without, gone);
    return outcome(shot, after, selection, {
      touched: [...(kept?.touched ?? []), ...gone],
      findings: kept?.findings ?? [],
      measures: kept ? [{ name: 'keys written', value: kept.keys, unit: '' }, ...kept.measures] : [],
    });
  },
});

/** The nodes that a relation places, parents first. */
export function placedBy(shot: Shot, relation: Relation): readonly string[] {
  return writesOf(relation, (id) => shot.nodes.find((node) => node.id === id)?.parent ?? null);
}

/** Channels that say only how this relation holds: they go with it. Those of a limb's goal stay. */
const ownChannels = (shot: Shot, relation: Relation): ChannelId[] =>
  relationKindOf(relation)?.writes
    ? []
    : channelsOfRelation(relation).filter((id) => {
        const shared = shot.relations.some((one) => one !== relation && channelsOfRelation(one).includes(id));
        return !shared && splitChannel(id).node === relation.node;
      });
