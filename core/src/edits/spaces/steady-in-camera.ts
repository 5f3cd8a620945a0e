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
  }),
  run(shot, selection, { from, ...given }) {
    const camera = shot.nodes.find(({ kind }) => kind === 'camera') ?? refuse('noCamera', {});
    const tops = topsOf(shot, chosenNodes(shot, selection));
    const steps = from === 'filter' ? (stepsOf(shot, tops) ?? refuse('noStepFilter', {})) : given;
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
        settings: { pattern: steps.pattern, first: steps.first },
      };
      after = withChannels({ ...after, relations: [...after.relations, relation] }, node, [follow]);
      keyed.set(`${node}.${follow}`, onOver(shot, range));
    }
    rigOf(after);
    after = withCurves(after, null, keyed);
    return outcome(shot, after, selection, {
      touched: [...keyed.keys()],
      measures: [{ name: 'controls', value: tops.length, unit: '' }],
      findings: [finding('heldInCamera', {}, tops, camera.id)],
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

interface Steps {
  readonly pattern: readonly number[];
  readonly first: number;
}

/** The pattern of a step filter over the nodes or what hangs on them. */
function stepsOf(shot: Shot, tops: readonly string[]): Steps | null {
  const rig = rigOf(shot);
  const under = (id: string): boolean => {
    for (let row = rig.indexOf(id); row >= 0; row = rig.parents[row]!)
      if (tops.includes(rig.nodes[row]!.id)) return true;
    return false;
  };
  const filter = shot.layers.find(
    ({ kind, muted, members }) => kind === 'step' && !muted && members.some(under),
  );
  const pattern = filter?.settings['pattern'];
  return Array.isArray(pattern) && pattern.length > 0
    ? {
        pattern: pattern as number[],
        first: Number(filter?.settings['first'] ?? filter?.range?.start ?? shot.range.start),
      }
    : null;
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
