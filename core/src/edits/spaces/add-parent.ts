/** A parent control above chosen ones, at a pivot: what is keyed below stays keyed, and everything moves with it. And taking it away again. */
import { z } from 'zod';
import { finding, refuse } from '../../base/finding.ts';
import { NO_TURN } from '../../rig/node.ts';
import type { Node } from '../../rig/node.ts';
import { placeInSpace } from '../../rig/pose.ts';
import type { Triple } from '../../math/euler.ts';
import { placeIn, worldAt } from '../../evaluation/evaluation.ts';
import { rigOf } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import { frameOption } from '../shared/frame-option.ts';
import { chosenNodes } from '../shared/chosen-nodes.ts';
import { motionMeasures, sameMotion } from '../shared/same-motion.ts';
import { keptWithin } from './kept-within.ts';
import { withNodes, withoutNodes } from './node-changes.ts';
import { targetNode, wishesOf, withinOptions } from './relation-option.ts';

const centimetres = (title: string) =>
  z
    .number()
    .min(-1e6)
    .max(1e6)
    .default(0)
    .meta({
      title,
      unit: 'cm',
      when: { pivot: 'place' },
      description: 'In the world.',
    });

export const addParent = defineEdit({
  id: 'spaces.addParent',
  title: 'Add parent control',
  summary:
    'Puts a control above the selected ones, so that all of them can be moved together; their keys stay.',
  words: 'group null pivot above offset nudge',
  group: 'spaces',
  needs: 'channels',
  locks: 'none',
  promise: 'sameMotion',
  options: z.object({
    name: z
      .string()
      .trim()
      .max(60)
      .default('')
      .meta({ title: 'Name', description: 'Empty: “parent” and a number.' }),
    pivot: z
      .enum(['middle', 'control', 'place'])
      .default('middle')
      .meta({
        title: 'Pivot',
        labels: { middle: 'between them', control: 'at a control', place: 'at a place' },
        description: 'About which point it turns.',
      }),
    at: z
      .string()
      .default('')
      .meta({ title: 'Control', when: { pivot: 'control' }, description: 'Whose place it is.' }),
    x: centimetres('Pivot x'),
    y: centimetres('Pivot y'),
    z: centimetres('Pivot z'),
    frame: frameOption('Measured at', 'The frame on which the pivot is looked for.'),
  }),
  run(shot, selection, { name, pivot, at, x, y, z: depth, frame }) {
    const rig = rigOf(shot);
    const nodes = chosenNodes(shot, selection);
    // Of a control and what hangs on it the upper one carries both.
    const above = (id: string): boolean => {
      for (let row = rig.parents[rig.indexOf(id)]!; row >= 0; row = rig.parents[row]!)
        if (nodes.includes(rig.nodes[row]!.id)) return true;
      return false;
    };
    const tops = nodes.filter((id) => !above(id));
    const parents = new Set(tops.map((id) => rig.nodes[rig.indexOf(id)]!.parent));
    if (parents.size > 1)
      refuse(
        'differentParents',
        {},
        [...parents].map((id) => id ?? 'the world'),
      );
    const held = tops.find((id) =>
      rig.relations[rig.indexOf(id)]?.some(({ kind }) => kind.kind === 'parent'),
    );
    if (held !== undefined) refuse('carriedElsewhere', { node: held }, held);
    const [parent] = parents;
    const pose = worldAt(shot, frame);
    const places = tops.map((id) => placeIn(pose, rig.indexOf(id)));
    const point: Triple =
      pivot === 'place'
        ? [x, y, depth]
        : pivot === 'control'
          ? placeIn(pose, rig.indexOf(targetNode(shot, at) ?? refuse('unknownNode', {}, at)))
          : ([0, 1, 2].map(
              (axis) => places.reduce((sum, place) => sum + place[axis]!, 0) / places.length,
            ) as Triple);
    const local = parent == null ? point : placeInSpace(pose, rig.indexOf(parent), point);
    const id = name || fresh(shot.nodes);
    if (shot.nodes.some((node) => node.id === id)) refuse('controlNameTaken', {}, id);
    const first = rig.nodes[rig.indexOf(tops[0]!)]!;
    const control: Node = {
      id,
      parent: parent ?? null,
      kind: 'control',
      rest: { translation: local, rotation: NO_TURN, scale: [1, 1, 1] },
      order: 'xyz',
      channels: ['tx', 'ty', 'tz', 'rx', 'ry', 'rz'],
      side: 'centre',
      pair: id,
      part: first.part,
      character: first.character,
      solids: [],
    };
    const below = new Set(tops);
    const moved = shot.nodes.map((node) =>
      below.has(node.id)
        ? {
            ...node,
            parent: id,
            rest: {
              ...node.rest,
              translation: [0, 1, 2].map((axis) => node.rest.translation[axis]! - local[axis]!) as Triple,
            },
          }
        : node,
    );
    const after = withNodes({ ...shot, nodes: moved }, [control]);
    return outcome(
      shot,
      after,
      { ...selection, nodes: [id], channels: [], keys: {} },
      {
        selection: { ...selection, nodes: [id], channels: [], keys: {} },
        measures: [
          { name: 'controls below it', value: tops.length, unit: '' },
          ...motionMeasures(sameMotion(shot, after, tops, [shot.range])).slice(0, 2),
        ],
      },
    );
  },
});

function fresh(nodes: readonly Node[]): string {
  const known = new Set(nodes.map(({ id }) => id));
  for (let i = 1; ; i += 1) if (!known.has(`parent_${i}`)) return `parent_${i}`;
}

export const dissolve = defineEdit({
  id: 'spaces.dissolve',
  title: 'Dissolve parent control',
  summary: 'Bakes a control down into those below it and takes it away; the motion stays.',
  words: 'remove group flatten collapse bake null',
  group: 'spaces',
  worksOn: 'parent',
  locks: 'none',
  promise: 'sameMotion',
  options: z.object({
    control: z.string().meta({ title: 'Control', description: 'The control that goes.' }),
    ...withinOptions(),
  }),
  *run(shot, selection, { control, ...given }) {
    const rig = rigOf(shot);
    const row = rig.indexOf(control);
    if (row < 0) refuse('unknownNode', { node: control }, control);
    const node = rig.nodes[row]!;
    if (node.kind !== 'control' || node.solids.length > 0) refuse('notDissolved', { node: control }, control);
    const used = shot.relations.find(
      (relation) => relation.node === control || relation.targets.some((target) => target.node === control),
    );
    if (used) refuse('usedByRelation', { node: control }, control, used.node);
    const below = shot.nodes.filter(({ parent }) => parent === control);
    const { translation } = node.rest;
    // Its rest goes to those below, so that what was never moved stays as it is.
    const freed = {
      ...shot,
      nodes: shot.nodes.map((one) =>
        one.parent === control
          ? {
              ...one,
              parent: node.parent,
              rest: {
                ...one.rest,
                translation: [0, 1, 2].map(
                  (axis) => one.rest.translation[axis]! + translation[axis]!,
                ) as Triple,
              },
            }
          : one,
      ),
    };
    const still = Object.values(shot.curves[row] ?? {}).every((curve) => curve.times.length === 0);
    const nodes = below.map(({ id }) => id);
    const rewrites = nodes.map((id) => ({ node: id, range: shot.range, keys: 'needed' as const }));
    const kept = still ? null : yield* keptWithin(shot, freed, rewrites, wishesOf(given), nodes);
    const after = withoutNodes(kept?.shot ?? freed, [control]);
    return outcome(shot, after, selection, {
      selection: { ...selection, nodes, channels: [], keys: {} },
      touched: kept?.touched ?? [],
      findings: [
        ...(below.length === 0 ? [finding('nothingBelow', {}, control)] : []),
        ...(kept?.findings ?? []),
      ],
      measures: [
        { name: 'keys written', value: kept?.keys ?? 0, unit: '' },
        ...(kept?.measures ?? motionMeasures(sameMotion(shot, freed, nodes, [shot.range]))),
      ],
    });
  },
});
