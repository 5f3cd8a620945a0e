/** Steady in the camera: a character on twos under a camera on ones keeps its place in the picture between its steps. */
import { z } from 'zod';
import { finding, refuse } from '../../base/finding.ts';
import { SEGMENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { buildCurve } from '../../curve/rebuild.ts';
import { FOLLOW } from '../../rig/node.ts';
import { steady } from '../../rig/relations/steady.ts';
import { NO_OFFSET } from '../../rig/relations/relation.ts';
import type { Relation } from '../../rig/relations/relation.ts';
import { drawnBy } from '../../evaluation/drawings.ts';
import { rigOf, withCurves } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import { chosenNodes } from '../shared/chosen-nodes.ts';
import { rangeIn } from '../timing/scope.ts';
import { freshChannel, withChannels } from './node-changes.ts';
import { freshRelationId } from './relation-option.ts';

export const steadyInCamera = defineEdit({
  id: 'spaces.steady',
  title: 'Steady in the camera',
  summary:
    'Between its steps the selected character keeps its place in the picture; keyed on over the chosen range.',
  words: 'strobe judder twos camera pan hold',
  group: 'spaces',
  needs: 'channels',
  locks: 'none',
  options: z.object({
    from: z
      .enum(['filter', 'pattern'])
      .default('filter')
      .meta({
        title: 'Steps',
        labels: { filter: 'of its step filter', pattern: 'as follows' },
        description: 'When its drawings change: as the step filter that lies over it says, or by frames.',
      }),
    pattern: steady.settings.shape.pattern
      .unwrap()
      .default([2])
      .meta({
        title: 'Frames for each drawing',
        when: { from: 'pattern' },
        description: 'How long each is held, in turn.',
      }),
    first: steady.settings.shape.first
      .unwrap()
      .default(0)
      .meta({
        title: 'First step',
        unit: 'frame',
        when: { from: 'pattern' },
        description: 'A frame with which a drawing begins.',
      }),
    camera: z.string().nullable().default(null).meta({
      title: 'Camera',
      control: 'camera',
      empty: 'the first one',
      description: 'In whose picture; left empty, that of the shot’s first camera.',
    }),
  }),
  run(shot, selection, { from, camera: seenBy, ...steps }) {
    const cameras = shot.nodes.filter(({ kind }) => kind === 'camera');
    const [first] = cameras;
    const camera =
      seenBy === null
        ? (first ?? refuse('noCamera', {}))
        : (cameras.find(({ id }) => id === seenBy) ??
          refuse(
            'noSuchCamera',
            {},
            seenBy,
            cameras.map(({ id }) => id),
          ));
    const tops = topsOf(shot, chosenNodes(shot, selection));
    if (from === 'filter' && !tops.some((top) => drawnBy(shot, top).length > 0)) refuse('noStepFilter', {});
    const range = rangeIn(shot, selection);
    let after: Shot = shot;
    const keyed = new Map<ChannelId, Curve>();
    for (const node of tops) {
      const held = shot.relations.some((relation) => relation.node === node && relation.kind === steady.kind);
      if (held) refuse('alreadyHeld', { node }, node, steady.title.toLowerCase());
      const own = rigOf(after).nodes[rigOf(after).indexOf(node)]!;
      const follow = freshChannel(own, FOLLOW);
      const relation: Relation = {
        id: freshRelationId(after),
        kind: steady.kind,
        node,
        targets: [{ node: camera.id, offset: NO_OFFSET, share: null }],
        weight: `${node}.${follow}`,
        switch: null,
        settings: steady.settings.parse({ steps: from === 'filter' ? 'filter' : 'own', ...steps }),
      };
      after = withChannels({ ...after, relations: [...after.relations, relation] }, node, [follow]);
      keyed.set(`${node}.${follow}`, onOver(shot, range));
    }
    rigOf(after);
    after = withCurves(after, null, keyed);
    return outcome(shot, after, selection, {
      touched: [...keyed.keys()],
      measures: [{ name: 'controls', value: tops.length, unit: '' }],
      findings: [finding('heldInCamera', {}, tops, camera.id, cameras.length)],
    });
  },
});

/** The uppermost nodes of the selected characters, or of the selected controls where they belong to none; what another relation places is left to it. */
function topsOf(shot: Shot, chosen: readonly string[]): string[] {
  const rig = rigOf(shot);
  const characters = new Set(
    chosen.map((id) => rig.nodes[rig.indexOf(id)]!.character).filter((id) => id !== null),
  );
  const meant = (row: number) => {
    const { id, character } = rig.nodes[row]!;
    return character === null ? chosen.includes(id) : characters.has(character);
  };
  return rig.nodes.flatMap(({ id, kind }, row) => {
    const parent = rig.parents[row]!;
    return kind !== 'camera' && meant(row) && (parent < 0 || !meant(parent)) ? [id] : [];
  });
}

/** On from the start of a range to its end, off outside. */
function onOver({ range: shown }: Shot, { start, end }: { start: number; end: number }): Curve {
  const keys: [number, number][] = [
    ...(start > shown.start ? [[shown.start, 0] as [number, number]] : []),
    [start, 1],
    ...(end < shown.end ? [[end + 1, 0] as [number, number]] : []),
  ];
  return buildCurve(keys.length, (columns) => {
    keys.forEach(([time, value], row) => {
      columns.times[row] = time;
      columns.values[row] = value;
    });
    columns.segments.fill(SEGMENT.stepped);
  });
}
