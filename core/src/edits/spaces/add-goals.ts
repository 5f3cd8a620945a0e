/** Add goals: limbs of a skeleton get a goal and a pole each, so that captured motion is posed like a rig; nothing moves. */
import { z } from 'zod';
import { finding, refuse } from '../../base/finding.ts';
import { limbsOf } from '../../rig/limbs.ts';
import type { Limb } from '../../rig/limbs.ts';
import { NO_TURN } from '../../rig/node.ts';
import type { Node } from '../../rig/node.ts';
import { reachOf } from '../../rig/relations/reach.ts';
import type { Relation } from '../../rig/relations/relation.ts';
import { constantCurve, rigOf, splitChannel, withCurves } from '../../document/shot.ts';
import type { Selection } from '../../document/selection.ts';
import type { Shot } from '../../document/shot.ts';
import type { Rig } from '../../rig/rig.ts';
import { defineEdit, outcome } from '../edit.ts';
import { keptWithin } from './kept-within.ts';
import { GOALS_BEGIN, limbGoals } from './limb-goals.ts';
import { withNodes } from './node-changes.ts';
import { freshRelationId, wishesOf, withinOptions } from './relation-option.ts';

/** A pole stands 0.6 of its limb aside of the middle joint, which lies less than half of it aside: that feels less than half of what the pole is off. */
const POLE_SLACK = 2;

export const addGoals = defineEdit({
  id: 'spaces.addGoals',
  title: 'Add goals',
  summary:
    'Gives arms and legs of a skeleton a goal and a pole, made from the motion, so that they can be posed like a rig.',
  words: 'ik inverse kinematics limbs hands feet captured rig',
  group: 'spaces',
  locks: 'none',
  promise: 'sameMotion',
  options: z.object({
    ends: z.array(z.string()).default([]).meta({
      title: 'Ends of limbs',
      description:
        'Hands and feet by name; empty, those of the selected limbs, or all, found by names and by the lengths of bones.',
    }),
    ...withinOptions(),
  }),
  *run(shot, selection, { ends, ...given }) {
    const rig = rigOf(shot);
    const unknown = ends.find((id) => rig.indexOf(id) < 0);
    if (unknown !== undefined) refuse('unknownNode', { node: unknown }, unknown);
    const led = new Set(rig.chains.map(({ end }) => rig.nodes[end]!.id));
    const all = limbsOf(rig, ends.length > 0 ? ends : null);
    const chosen = ends.length > 0 ? [] : all.filter((limb) => isChosen(rig, limb, selection));
    const limbs = (chosen.length > 0 ? chosen : all).filter(({ end }) => !led.has(end));
    if (limbs.length === 0) refuse(led.size > 0 ? 'allHaveGoals' : 'noLimbs', {});
    let after: Shot = shot;
    const made: { limb: Limb; goal: string; pole: string }[] = [];
    for (const limb of limbs) {
      const [goal, pole] = [freshName(after, `goal_${limb.end}`), freshName(after, `pole_${limb.end}`)];
      made.push({ limb, goal, pole });
      after = withGoal(after, limb, goal, pole);
    }
    const weights = new Map(
      made.map(({ goal }) => [`${goal}.ik`, constantCurve(1, shot.range.start)] as const),
    );
    after = withCurves(after, null, weights);
    const chains = rigOf(after).chains;
    const own = made.map(({ limb }) => chains.find(({ end }) => after.nodes[end]!.id === limb.end)!);
    const wishes = wishesOf(given);
    const goals = limbGoals(shot, own, shot.range, wishes);
    const finders = new Map(
      made.flatMap(({ goal, pole }, k) => [
        [goal, (frame: number) => goals.goalAt(k, frame)] as const,
        [pole, (frame: number) => goals.poleAt(k, frame)] as const,
      ]),
    );
    const wanted = (node: string, frame: number) => finders.get(node)?.(frame) ?? null;
    const rewrites = made.flatMap(({ limb, goal, pole }) =>
      [
        { node: goal, slack: 1 },
        { node: pole, slack: POLE_SLACK },
      ].map((one) => ({ ...one, range: shot.range, keys: 'needed' as const, follows: limb.end })),
    );
    const joints = limbs.flatMap(({ root, middle, end }) => [root, middle, end]);
    const kept = yield* keptWithin(shot, after, rewrites, wishes, joints, wanted, GOALS_BEGIN);
    return outcome(shot, kept.shot, selection, {
      selection: { ...selection, nodes: made.map(({ goal }) => goal), channels: [], keys: {} },
      touched: [...weights.keys(), ...kept.touched],
      findings: [
        ...kept.findings,
        finding(
          'goalsMade',
          {},
          limbs.map(({ end }) => end),
        ),
      ],
      measures: [
        { name: 'goals', value: made.length, unit: '' },
        { name: 'keys written', value: kept.keys, unit: '' },
        ...kept.measures,
      ],
    });
  },
});

/** Whether something of a limb is selected, from its root to its end. */
function isChosen(rig: Rig, { root, end }: Limb, { nodes, channels }: Selection): boolean {
  const selected = new Set([...nodes, ...channels.map((id) => splitChannel(id).node)]);
  for (let i = rig.indexOf(end); i >= 0; i = rig.parents[i]!) {
    const { id } = rig.nodes[i]!;
    if (selected.has(id)) return true;
    if (id === root) return false;
  }
  return false;
}

function withGoal(shot: Shot, { root, middle, end }: Limb, goal: string, pole: string): Shot {
  const rig = rigOf(shot);
  const joint = rig.nodes[rig.indexOf(end)]!;
  const placeOf = (id: string) => rig.restPlaces[rig.indexOf(id)]!;
  const [at, bend, from] = [placeOf(end), placeOf(middle), placeOf(root)];
  const control = (id: string, more: Partial<Node>): Node => ({
    id,
    parent: null,
    kind: 'control',
    rest: { translation: [0, 0, 0], rotation: NO_TURN, scale: [1, 1, 1] },
    order: joint.order,
    channels: ['tx', 'ty', 'tz'],
    side: joint.side,
    pair: null,
    part: joint.part,
    character: joint.character,
    solids: [],
    ...more,
  });
  const aside = asideAtRest(from, bend, at);
  const chain = {
    ...{ id: freshRelationId(shot), root, middle, end, target: goal, pole },
    ...{ blend: `${goal}.ik`, tip: null },
  };
  const reach = reachOf(chain);
  const relation: Relation = { ...reach, settings: { ...reach.settings, roll: 'joints' } };
  const after = withNodes(shot, [
    control(goal, {
      kind: 'goal',
      channels: ['tx', 'ty', 'tz', 'rx', 'ry', 'rz', 'ik'],
      rest: { translation: [at[0], at[1], at[2]], rotation: NO_TURN, scale: [1, 1, 1] },
    }),
    control(pole, { rest: { translation: aside, rotation: NO_TURN, scale: [1, 1, 1] } }),
  ]);
  return { ...after, relations: [...after.relations, relation] };
}

/** A place beside the middle joint at rest: where it bends, or anywhere beside a straight limb. */
function asideAtRest(from: number[], bend: number[], to: number[]): [number, number, number] {
  const along = [0, 1, 2].map((axis) => to[axis]! - from[axis]!);
  const length = Math.hypot(...along) || 1;
  const upper = [0, 1, 2].map((axis) => bend[axis]! - from[axis]!);
  const part = along.reduce((sum, one, axis) => sum + one * upper[axis]!, 0) / length ** 2;
  let aside = upper.map((one, axis) => one - part * along[axis]!);
  if (Math.hypot(...aside) < 1e-3 * length) {
    const across = Math.abs(along[2]!) < 0.9 * length ? [0, 0, 1] : [0, 1, 0];
    const share = along.reduce((sum, one, axis) => sum + one * across[axis]!, 0) / length ** 2;
    aside = across.map((one, axis) => one - share * along[axis]!);
  }
  const size = Math.hypot(...aside);
  return [0, 1, 2].map((axis) => bend[axis]! + (aside[axis]! / size) * length * 0.6) as [
    number,
    number,
    number,
  ];
}

function freshName(shot: Shot, base: string): string {
  const known = new Set(shot.nodes.map(({ id }) => id));
  for (let i = 1; ; i += 1) {
    const name = i === 1 ? base : `${base}_${i}`;
    if (!known.has(name)) return name;
  }
}
