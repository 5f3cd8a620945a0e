/**
 * Reach: the joints of a limb turn so that its end comes to a goal (two bones, the law of cosines). Joints between its three keep their own
 * turns and are carried along.
 */
import { z } from 'zod';
import { conjugate, multiply, rotate } from '../../math/quaternion.ts';
import type { Quaternion, Triple } from '../../math/euler.ts';
import type { Node } from '../node.ts';
import { defineRelation, NO_OFFSET } from './relation.ts';
import type { Relation } from './relation.ts';

/** A limb of two bones driven by a target. All names are node ids. */
export interface Chain {
  readonly id: string;
  readonly root: string;
  readonly middle: string;
  readonly end: string;
  readonly target: string;
  readonly pole: string;
  /** The channel that blends from FK (0) to IK (1), `hand_goal_l.ik`. */
  readonly blend: string;
  /** A joint past the end that keeps to a node of its own, as toes keep to the ground. */
  readonly tip: { readonly joint: string; readonly follows: string } | null;
}

const settings = z.object({
  root: z.string().meta({ title: 'First joint', description: 'Where the limb begins.' }),
  middle: z.string().meta({ title: 'Middle joint', description: 'Where it bends.' }),
  pole: z.string().meta({ title: 'Pole', description: 'The control toward which it bends.' }),
  tip: z.object({ joint: z.string(), follows: z.string() }).nullable().default(null).meta({
    title: 'Tip',
    description: 'A joint past the end that keeps to a control of its own.',
  }),
  stretch: z.boolean().default(false).meta({
    title: 'Stretches',
    description: 'Beyond its reach the limb grows longer; off, it stops short of the goal.',
  }),
  roll: z
    .enum(['rest', 'joints'])
    .default('rest')
    .meta({
      title: 'Roll',
      labels: { rest: 'as at rest', joints: 'of the joints’ keys' },
      description:
        'How its bones are rolled about themselves: as in the rest pose, or as the joints are keyed.',
    }),
});

export const reach = defineRelation({
  kind: 'reach',
  title: 'Reaches',
  summary: 'A limb bends so that its end comes to a goal.',
  words: 'ik inverse kinematics limb goal pole',
  ownEdit: true,
  settings,
  time: 'none',
  holds: () => ['turn'],
  reads: ({ pole, tip }) => [pole, ...(tip ? [tip.follows] : [])],
  writes: ({ node, settings: given }, parentOf) => {
    const { root, middle, tip } = settings.parse(given);
    const along = [...between(root, middle, parentOf), middle, ...between(middle, node, parentOf), node];
    return [root, ...along, ...(tip ? [tip.joint] : [])];
  },
});

/** The nodes strictly between one above and one below, parents first; none where it does not stand above. */
function between(above: string, below: string, parentOf: (node: string) => string | null): string[] {
  const found: string[] = [];
  for (let at = parentOf(below); at !== above; at = parentOf(at)) {
    if (at === null) return [];
    found.unshift(at);
  }
  return found;
}

/** The relation that drives a limb. */
export function reachOf({ id, root, middle, end, target, pole, blend, tip }: Chain): Relation {
  return {
    id,
    kind: 'reach',
    node: end,
    targets: [{ node: target, offset: NO_OFFSET, share: null }],
    weight: blend,
    switch: null,
    settings: { root, middle, pole, tip },
  };
}

/** A limb with its nodes' indices and what its rest pose says. */
export interface CompiledChain {
  readonly root: number;
  readonly middle: number;
  readonly end: number;
  readonly target: number;
  readonly pole: number;
  readonly blend: number;
  readonly stretch: boolean;
  /** Whether the bend and the roll of the joints’ own keys are gone by, where they bend at all. */
  readonly rollOfJoints: boolean;
  readonly tip: { readonly joint: number; readonly follows: number; readonly turn: Quaternion } | null;
  /** Joints between root and middle, and between middle and end, parents first: twist joints. */
  readonly upper: readonly number[];
  readonly lower: readonly number[];
  /** Whether a joint above its end scales, or may. */
  readonly scales: boolean;
  /** Bone directions and hinge in the two joints' own axes. */
  readonly boneRoot: Triple;
  readonly boneMiddle: Triple;
  readonly hingeRoot: Triple;
  readonly hingeMiddle: Triple;
  /** From the target's orientation to the end's, at rest. */
  readonly endTurn: Quaternion;
}

/** What of a rig a limb is compiled from. */
interface Around {
  readonly nodeOf: (node: string) => Node | undefined;
  readonly indexOf: (id: string) => number;
  readonly channelIndex: (id: string) => number;
  /** World rest orientations and places. */
  readonly turns: readonly Quaternion[];
  readonly places: readonly Triple[];
}

export function compileReach(relation: Relation, around: Around): CompiledChain {
  const { indexOf, nodeOf, channelIndex, turns, places } = around;
  const parentOf = (node: string) => nodeOf(node)?.parent ?? null;
  const given = settings.parse(relation.settings);
  const [root, middle, end, target, pole] = [
    given.root,
    given.middle,
    relation.node,
    relation.targets[0]?.node ?? '',
    given.pole,
  ].map(indexOf) as [number, number, number, number, number];
  const straight = unit(minus(places[end]!, places[root]!));
  const toPole = minus(places[pole]!, places[root]!);
  const dot = toPole[0] * straight[0] + toPole[1] * straight[1] + toPole[2] * straight[2];
  const aside = unit(minus(toPole, [straight[0] * dot, straight[1] * dot, straight[2] * dot]));
  const hinge: Triple = [
    straight[1] * aside[2] - straight[2] * aside[1],
    straight[2] * aside[0] - straight[0] * aside[2],
    straight[0] * aside[1] - straight[1] * aside[0],
  ];
  const inAxes = (node: number, v: Triple) => rotate(conjugate(turns[node]!), ...v);
  const joint = given.tip ? indexOf(given.tip.joint) : -1;
  const follows = given.tip ? indexOf(given.tip.follows) : -1;
  const upper = between(given.root, given.middle, parentOf);
  const lower = between(given.middle, relation.node, parentOf);
  return {
    root,
    middle,
    end,
    target,
    pole,
    blend: relation.weight === null ? -1 : channelIndex(relation.weight),
    stretch: given.stretch,
    rollOfJoints: given.roll === 'joints',
    upper: upper.map(indexOf),
    lower: lower.map(indexOf),
    scales: [given.root, ...upper, given.middle, ...lower].some((node) => canScale(nodeOf(node))),
    tip: given.tip ? { joint, follows, turn: multiply(conjugate(turns[follows]!), turns[joint]!) } : null,
    boneRoot: inAxes(root, unit(minus(places[middle]!, places[root]!))),
    boneMiddle: inAxes(middle, unit(minus(places[end]!, places[middle]!))),
    hingeRoot: inAxes(root, hinge),
    hingeMiddle: inAxes(middle, hinge),
    endTurn: multiply(conjugate(turns[target]!), turns[end]!),
  };
}

const canScale = (node: Node | undefined) =>
  node !== undefined &&
  (node.rest.scale.some((part) => part !== 1) ||
    ['sx', 'sy', 'sz'].some((name) => node.channels.includes(name)));

const minus = (a: ArrayLike<number>, b: ArrayLike<number>): Triple => [
  a[0]! - b[0]!,
  a[1]! - b[1]!,
  a[2]! - b[2]!,
];

function unit(v: Triple): Triple {
  const length = Math.hypot(...v) || 1;
  return [v[0] / length, v[1] / length, v[2] / length];
}
