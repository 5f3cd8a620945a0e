/**
 * Bram, the baker of Lantern Row: about 172 cm, broad, with a cap and its tassel. The rig is written down here node by
 * node; left controls are mirrored to the right. In the rest pose he stands with arms stretched to the sides, facing +Z,
 * and no node is turned.
 */
import { NO_TURN } from '../rig/node.ts';
import type { Node, NodeKind, BodyPart, Side, Solid, Vector } from '../rig/node.ts';
import type { EulerOrder } from '../math/euler.ts';
import { reachOf } from '../rig/relations/reach.ts';
import type { Chain } from '../rig/relations/reach.ts';
import type { Relation } from '../rig/relations/relation.ts';

const MOVE = ['tx', 'ty', 'tz'];
const TURN = ['rx', 'ry', 'rz'];
const SIZE = ['sx', 'sy', 'sz'];

interface Plan {
  readonly id: string;
  readonly parent: string | null;
  readonly at: Vector;
  readonly part: BodyPart;
  readonly channels: readonly string[];
  readonly kind?: NodeKind;
  readonly order?: EulerOrder;
  readonly solids?: readonly Solid[];
}

const capsule = (from: Vector, to: Vector, radiusFrom: number, radiusTo: number, colour: string): Solid => ({
  kind: 'capsule',
  from,
  to,
  radiusFrom,
  radiusTo,
  colour,
});
const ball = (centre: Vector, radii: Vector, colour: string): Solid => ({
  kind: 'ellipsoid',
  centre,
  radii,
  colour,
});

/** What stands on the middle of the body. */
const CENTRE: readonly Plan[] = [
  { id: 'root', parent: null, at: [0, 0, 0], part: 'root', kind: 'control', channels: [...MOVE, ...TURN] },
  {
    id: 'hips',
    parent: 'root',
    at: [0, 92, 0],
    part: 'torso',
    order: 'yxz',
    channels: [...MOVE, ...TURN],
    solids: [ball([0, 1, 0], [19, 14, 16], 'cloth')],
  },
  {
    id: 'spine_low',
    parent: 'hips',
    at: [0, 10, 0],
    part: 'torso',
    order: 'yxz',
    channels: [...MOVE, ...TURN],
    solids: [ball([0, 5, 0], [20, 14, 16], 'flour')],
  },
  {
    id: 'belly',
    parent: 'spine_low',
    at: [0, 3, 6],
    part: 'torso',
    channels: ['ty', ...SIZE],
    solids: [ball([0, 0, 2], [19, 18, 16], 'apron'), ball([0, -17, 5], [16, 16, 8], 'apron')],
  },
  {
    id: 'spine_high',
    parent: 'spine_low',
    at: [0, 13, 0],
    part: 'torso',
    order: 'yxz',
    channels: [...MOVE, ...TURN],
    solids: [ball([0, 5, 0], [20, 13, 15], 'flour')],
  },
  {
    id: 'chest',
    parent: 'spine_high',
    at: [0, 12, 0],
    part: 'torso',
    order: 'yxz',
    channels: [...MOVE, ...TURN, ...SIZE],
    solids: [ball([0, 5, 0], [20, 13, 14], 'flour'), ball([0, 0, 9], [12, 13, 7], 'apron')],
  },
  {
    id: 'neck',
    parent: 'chest',
    at: [0, 17, 0],
    part: 'head',
    order: 'yxz',
    channels: [...MOVE, ...TURN],
    solids: [capsule([0, -3, 0], [0, 6, 1], 7, 6, 'skin')],
  },
  {
    id: 'head',
    parent: 'neck',
    at: [0, 7, 1],
    part: 'head',
    order: 'yxz',
    channels: [...MOVE, ...TURN, ...SIZE],
    solids: [
      ball([0, 8, 0], [11, 12.5, 12], 'skin'),
      ball([0, 6, 12.5], [3, 3.2, 3.6], 'skin'),
      ball([11, 7, 0], [1.8, 3, 2.4], 'skin'),
      ball([-11, 7, 0], [1.8, 3, 2.4], 'skin'),
      ball([0, 8.5, -5], [10.9, 10.6, 9], 'crust'),
    ],
  },
  {
    id: 'jaw',
    parent: 'head',
    at: [0, 1, 3],
    part: 'head',
    channels: [...TURN],
    solids: [ball([0, -0.5, 5], [7, 4.4, 5.4], 'skin')],
  },
  {
    id: 'moustache',
    parent: 'head',
    at: [0, 2.6, 12],
    part: 'head',
    channels: [...TURN],
    solids: [
      capsule([0.8, 0, 0.4], [7, -1.6, -2], 2.3, 1, 'crust'),
      capsule([-0.8, 0, 0.4], [-7, -1.6, -2], 2.3, 1, 'crust'),
    ],
  },
  {
    id: 'cap',
    parent: 'head',
    at: [0, 16.5, -1],
    part: 'head',
    channels: [...TURN],
    solids: [
      capsule([0, -0.5, 0], [0, 1.5, 0], 11.6, 11.4, 'crust'),
      ball([0, 6.5, -1.5], [12.6, 6.5, 12.6], 'flour'),
    ],
  },
  {
    id: 'tassel_1',
    parent: 'cap',
    at: [0, 10, -10],
    part: 'extra',
    channels: [...MOVE, ...TURN],
    solids: [capsule([0, 0, 0], [0, -5, 0], 1, 1, 'crust')],
  },
  {
    id: 'tassel_2',
    parent: 'tassel_1',
    at: [0, -5, 0],
    part: 'extra',
    channels: [...MOVE, ...TURN],
    solids: [capsule([0, 0, 0], [0, -5, 0], 1, 1, 'crust')],
  },
  {
    id: 'tassel_3',
    parent: 'tassel_2',
    at: [0, -5, 0],
    part: 'extra',
    channels: [...MOVE, ...TURN],
    solids: [capsule([0, 0, 0], [0, -4, 0], 1, 1.2, 'crust')],
  },
  {
    id: 'tassel_4',
    parent: 'tassel_3',
    at: [0, -4, 0],
    part: 'extra',
    channels: [...MOVE, ...TURN],
    solids: [ball([0, -2.2, 0], [2.6, 3.2, 2.6], 'left')],
  },
];

const IK = 'ik';

/** What stands on the left; the right is its mirror image. */
const LEFT: readonly Plan[] = [
  {
    id: 'eye',
    parent: 'head',
    at: [4.4, 9.5, 9.6],
    part: 'head',
    channels: ['rx', 'ry'],
    solids: [ball([0, 0, 0], [2.7, 3.1, 2.3], 'white'), ball([0, 0, 1.75], [1.3, 1.6, 0.9], 'ink')],
  },
  {
    id: 'brow',
    parent: 'head',
    at: [4.6, 13.6, 11],
    part: 'head',
    channels: ['ty', 'rz'],
    solids: [capsule([-2.4, 0, 0.4], [2.6, 0.2, -0.8], 1.1, 0.9, 'crust')],
  },
  {
    id: 'clavicle',
    parent: 'chest',
    at: [4, 11, 1],
    part: 'arm',
    channels: [...TURN],
    solids: [capsule([1, -1, -1], [13, 0, -1], 7, 8, 'flour')],
  },
  {
    id: 'upperarm',
    parent: 'clavicle',
    at: [15, 0, -1],
    part: 'arm',
    order: 'zyx',
    channels: [...TURN],
    solids: [capsule([0, 0, 0], [27, 0, 0], 7.4, 6, 'flour')],
  },
  {
    id: 'forearm',
    parent: 'upperarm',
    at: [27, 0, 0],
    part: 'arm',
    order: 'zyx',
    channels: [...TURN],
    solids: [
      capsule([0, 0, 0], [7, 0, 0], 6.2, 5.8, 'flour'),
      capsule([6, 0, 0], [24, 0, 0], 5, 3.8, 'skin'),
    ],
  },
  {
    id: 'hand',
    parent: 'forearm',
    at: [25, 0, 0],
    part: 'hand',
    order: 'zyx',
    channels: [...TURN],
    solids: [ball([4.5, 0, 0], [6, 2.9, 4.8], 'skin')],
  },
  {
    id: 'thumb',
    parent: 'hand',
    at: [3, 0, 4],
    part: 'hand',
    channels: [...TURN],
    solids: [capsule([0, 0, 0], [3.4, 0, 3.6], 1.7, 1.4, 'skin')],
  },
  {
    id: 'index',
    parent: 'hand',
    at: [9, 0, 2.6],
    part: 'hand',
    channels: [...TURN],
    solids: [capsule([0, 0, 0], [6, 0, 0.4], 1.6, 1.3, 'skin')],
  },
  {
    id: 'fingers',
    parent: 'hand',
    at: [9, 0, -1],
    part: 'hand',
    channels: [...TURN],
    solids: [
      capsule([0, 0, 0.8], [6, 0, 0.4], 1.7, 1.4, 'skin'),
      capsule([0, 0, -2], [5, 0, -2], 1.7, 1.3, 'skin'),
    ],
  },
  {
    id: 'thigh',
    parent: 'hips',
    at: [10, -4, 0],
    part: 'leg',
    order: 'yxz',
    channels: [...TURN],
    solids: [capsule([0, 0, 0], [0, -40, 0], 11, 7.4, 'cloth')],
  },
  {
    id: 'shin',
    parent: 'thigh',
    at: [0, -40, 0],
    part: 'leg',
    order: 'yxz',
    channels: [...TURN],
    solids: [capsule([0, 0, 0], [0, -36, 0], 7.4, 5.2, 'cloth')],
  },
  {
    id: 'foot',
    parent: 'shin',
    at: [0, -39, 0],
    part: 'leg',
    order: 'yxz',
    channels: [...TURN],
    solids: [capsule([0, -4, -3], [0, -5, 10], 5.2, 4.2, 'wood')],
  },
  {
    id: 'toe',
    parent: 'foot',
    at: [0, -6, 12],
    part: 'leg',
    channels: [...TURN],
    solids: [ball([0, 0.6, 3], [4.8, 3.4, 5.6], 'wood')],
  },
  {
    id: 'string_1',
    parent: 'spine_low',
    at: [3, -3, -15],
    part: 'extra',
    channels: [...MOVE, ...TURN],
    solids: [ball([1, 0, -1], [3.6, 2, 1.4], 'apron'), capsule([0, 0, 0], [0, -8, 0], 1.1, 1.1, 'apron')],
  },
  {
    id: 'string_2',
    parent: 'string_1',
    at: [0, -8, 0],
    part: 'extra',
    channels: [...MOVE, ...TURN],
    solids: [capsule([0, 0, 0], [0, -8, 0], 1.1, 1.1, 'apron')],
  },
  {
    id: 'string_3',
    parent: 'string_2',
    at: [0, -8, 0],
    part: 'extra',
    channels: [...MOVE, ...TURN],
    solids: [capsule([0, 0, 0], [0, -8, 0], 1.1, 1.3, 'apron')],
  },
  {
    id: 'hand_goal',
    parent: 'root',
    at: [71, 138, 0],
    part: 'arm',
    kind: 'goal',
    channels: [...MOVE, ...TURN, IK],
  },
  { id: 'elbow_pole', parent: 'root', at: [46, 138, -45], part: 'arm', kind: 'goal', channels: [...MOVE] },
  {
    id: 'foot_goal',
    parent: 'root',
    at: [10, 0, 0],
    part: 'leg',
    kind: 'goal',
    channels: [...MOVE, ...TURN, IK],
  },
  { id: 'heel', parent: 'foot_goal', at: [0, 0, -6], part: 'leg', kind: 'control', channels: [...TURN] },
  { id: 'ball', parent: 'heel', at: [0, 3, 18], part: 'leg', kind: 'control', channels: [...TURN] },
  { id: 'ankle', parent: 'ball', at: [0, 6, -12], part: 'leg', kind: 'joint', channels: [] },
  { id: 'knee_pole', parent: 'root', at: [12, 48, 55], part: 'leg', kind: 'goal', channels: [...MOVE] },
];

const PROPS: readonly Plan[] = [
  {
    id: 'dough',
    parent: null,
    at: [0, 0, 0],
    part: 'prop',
    kind: 'prop',
    channels: [...MOVE, ...TURN, ...SIZE],
    solids: [ball([0, 0, 0], [9, 7, 9], 'apron'), ball([3.5, 3, 2], [4.6, 3.6, 4.6], 'apron')],
  },
  {
    id: 'tray',
    parent: null,
    at: [0, 0, 0],
    part: 'prop',
    kind: 'prop',
    channels: [...MOVE, ...TURN],
    solids: [
      { kind: 'box', centre: [0, 0, 0], size: [46, 1.6, 32], colour: 'metal' },
      ...[-14, 0, 14].flatMap((x) => [-7, 7].map((z) => ball([x, 3.2, z], [5.6, 3.8, 5], 'crust'))),
    ],
  },
  {
    id: 'peel',
    parent: null,
    at: [0, 0, 0],
    part: 'prop',
    kind: 'prop',
    channels: [...MOVE, ...TURN],
    solids: [
      capsule([0, 0, 0], [0, 110, 0], 1.5, 1.5, 'wood'),
      { kind: 'box', centre: [0, 128, 0], size: [30, 36, 1.6], colour: 'wood' },
    ],
  },
  {
    id: 'counter',
    parent: null,
    at: [0, 0, 0],
    part: 'prop',
    kind: 'prop',
    channels: [],
    solids: [
      { kind: 'box', centre: [0, 66.5, 66], size: [132, 5, 46], colour: 'wood' },
      { kind: 'box', centre: [-58, 32, 66], size: [8, 64, 38], colour: 'wood' },
      { kind: 'box', centre: [58, 32, 66], size: [8, 64, 38], colour: 'wood' },
    ],
  },
  {
    id: 'board',
    parent: null,
    at: [0, 0, 0],
    part: 'prop',
    kind: 'prop',
    channels: [],
    solids: [{ kind: 'box', centre: [0, 75, 62], size: [84, 12, 36], colour: 'wood' }],
  },
  {
    id: 'shelf',
    parent: null,
    at: [-78, 0, 34],
    part: 'prop',
    kind: 'prop',
    channels: [],
    solids: [
      { kind: 'box', centre: [0, 113.8, 0], size: [44, 4, 52], colour: 'wood' },
      { kind: 'box', centre: [0, 66, 0], size: [44, 4, 52], colour: 'wood' },
      ...[-24, 24].map((z): Solid => ({
        kind: 'box',
        centre: [0, 66, z],
        size: [40, 132, 4],
        colour: 'wood',
      })),
    ],
  },
  {
    id: 'puddle',
    parent: null,
    at: [0, 0, 108],
    part: 'prop',
    kind: 'prop',
    channels: [],
    solids: [ball([0, 0, 0], [46, 0.6, 40], 'left'), ball([22, 0, 26], [28, 0.6, 24], 'left')],
  },
  {
    id: 'crate',
    parent: null,
    at: [0, 0, 196],
    part: 'prop',
    kind: 'prop',
    channels: [],
    solids: [
      { kind: 'box', centre: [0, 14, 0], size: [70, 24, 54], colour: 'wood' },
      { kind: 'box', centre: [0, 28, 0], size: [74, 4, 58], colour: 'crust' },
    ],
  },
  {
    id: 'camera',
    parent: null,
    at: [0, 110, 420],
    part: 'prop',
    kind: 'camera',
    channels: [...MOVE, ...TURN],
  },
];

/** Bram's nodes, and those of the props that a shot asks for. */
export function bramNodes(props: readonly string[]): Node[] {
  const left = LEFT.map((plan) => node(sided(plan, 'left'), 'left'));
  const right = LEFT.map((plan) => node(mirrored(sided(plan, 'right')), 'right'));
  const chosen = PROPS.filter((plan) => props.includes(plan.id));
  return [
    ...CENTRE.map((plan) => node(plan, 'centre')),
    ...left,
    ...right,
    ...chosen.map((plan) => node(plan, 'centre')),
  ];
}

/** The three joints of each of his limbs, and what drives them. */
export const BRAM_LIMBS: readonly Chain[] = (['l', 'r'] as const).flatMap((side): Chain[] => [
  {
    id: `arm_${side}`,
    root: `upperarm_${side}`,
    middle: `forearm_${side}`,
    end: `hand_${side}`,
    target: `hand_goal_${side}`,
    pole: `elbow_pole_${side}`,
    blend: `hand_goal_${side}.ik`,
    tip: null,
  },
  {
    id: `leg_${side}`,
    root: `thigh_${side}`,
    middle: `shin_${side}`,
    end: `foot_${side}`,
    target: `ankle_${side}`,
    pole: `knee_pole_${side}`,
    blend: `foot_goal_${side}.ik`,
    tip: { joint: `toe_${side}`, follows: `heel_${side}` },
  },
]);

/** His limbs. */
export const BRAM_RELATIONS: readonly Relation[] = BRAM_LIMBS.map(reachOf);

function node(plan: Plan, side: Side): Node {
  const swap = side === 'left' ? '_r' : '_l';
  return {
    id: plan.id,
    parent: plan.parent,
    kind: plan.kind ?? 'joint',
    rest: { translation: plan.at, rotation: NO_TURN, scale: [1, 1, 1] },
    order: plan.order ?? 'xyz',
    channels: plan.channels,
    side,
    pair: side === 'centre' ? plan.id : plan.id.replace(/_[lr]$/, swap),
    part: plan.part,
    character: plan.part === 'prop' ? null : 'bram',
    solids: plan.solids ?? [],
  };
}

/** The plan with the side's letter on its name, and on its parent's where that has sides too. */
function sided(plan: Plan, side: Side): Plan {
  const letter = side === 'left' ? '_l' : '_r';
  const parentHasSides = LEFT.some((other) => other.id === plan.parent);
  return { ...plan, id: plan.id + letter, parent: parentHasSides ? plan.parent + letter : plan.parent };
}

const across = (v: Vector): Vector => [-v[0], v[1], v[2]];

function mirrored(plan: Plan): Plan {
  const solids = (plan.solids ?? []).map((solid): Solid => {
    if (solid.kind === 'capsule') return { ...solid, from: across(solid.from), to: across(solid.to) };
    return { ...solid, centre: across(solid.centre) };
  });
  return { ...plan, at: across(plan.at), solids };
}
