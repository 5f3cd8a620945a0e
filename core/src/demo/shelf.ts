/** The shelf of actions: six small things that Bram does, to be laid over anything else. */
import { runEdit } from '../edits/run-edit.ts';
import type { ActionJson } from '../document/action.ts';
import { NOTHING } from '../document/selection.ts';
import { newShot, splitChannel } from '../document/shot.ts';
import type { ChannelId, Shot } from '../document/shot.ts';
import { BRAM_RELATIONS, bramNodes } from './bram-rig.ts';
import { withTimeline } from './timeline.ts';
import type { Keys } from './timeline.ts';

interface Plan {
  readonly name: string;
  readonly tags: readonly string[];
  readonly end: number;
  readonly timeline: Readonly<Record<ChannelId, Keys>>;
}

/** Both sides alike: a left channel and its right one, turned the other way where it mirrors. */
const both = (name: string, keys: Keys, mirrored = false): Readonly<Record<ChannelId, Keys>> => {
  const [node, channel] = name.split('.') as [string, string];
  const other = mirrored ? keys.map((value, i) => (i % 2 === 0 || value === 0 ? value : -value)) : keys;
  return { [`${node}_l.${channel}`]: keys, [`${node}_r.${channel}`]: other };
};

/** Arms by their own joints, hanging. */
const HANGING = {
  ...both('hand_goal.ik', [0, 0]),
  ...both('forearm.ry', [0, -12], true),
};

const PLANS: readonly Plan[] = [
  {
    name: 'Blink',
    tags: ['face', 'small'],
    end: 8,
    timeline: {
      ...both('eye.rx', [0, 0, 2, 26, 4, 26, 8, 0]),
      ...both('brow.ty', [0, 0, 2, -1.6, 4, -1.4, 8, 0]),
    },
  },
  {
    name: 'Nod',
    tags: ['head', 'small'],
    end: 20,
    timeline: {
      'head.rx': [0, 0, 3, -4, 7, 14, 11, 3, 14, 9, 20, 0],
      'neck.rx': [0, 0, 3, -2, 7, 6, 11, 2, 14, 4, 20, 0],
      ...both('eye.rx', [0, 0, 6, -8, 12, -2, 20, 0]),
    },
  },
  {
    name: 'Shrug',
    tags: ['shoulders', 'doubt'],
    end: 30,
    timeline: {
      ...HANGING,
      ...both('clavicle.rz', [0, 0, 4, -4, 9, 22, 19, 20, 30, 0], true),
      ...both('upperarm.rz', [0, -72, 9, -60, 19, -58, 30, -72], true),
      ...both('forearm.rx', [0, 0, 9, -50, 19, -46, 30, 0]),
      ...both('hand.rx', [0, 0, 9, -40, 19, -36, 30, 0]),
      'head.rz': [0, 0, 9, 9, 19, 11, 30, 0],
      'head.rx': [0, 0, 9, -4, 19, -2, 30, 0],
      ...both('brow.ty', [0, 0, 7, 2.4, 20, 2, 30, 0]),
      'jaw.rx': [0, 0, 10, 5, 20, 4, 30, 0],
    },
  },
  {
    name: 'Sneeze',
    tags: ['head', 'big'],
    end: 36,
    timeline: {
      'chest.rx': [0, 0, 8, -5, 16, -10, 19, 12, 25, 7, 36, 0],
      'spine_high.rx': [0, 0, 8, -2, 16, -6, 19, 9, 25, 4, 36, 0],
      'neck.rx': [0, 0, 8, -5, 16, -12, 19, 14, 26, 6, 36, 0],
      'head.rx': [0, 0, 8, -7, 12, -5, 16, -18, 19, 18, 24, 7, 36, 0],
      'jaw.rx': [0, 0, 8, 6, 16, 17, 19, 2, 36, 0],
      'moustache.rx': [0, 0, 10, -14, 16, -30, 19, 38, 23, -10, 36, 0],
      ...both('brow.ty', [0, 0, 8, 1.6, 16, 3, 19, -2, 36, 0]),
      ...both('clavicle.rz', [0, 0, 8, 6, 16, 14, 19, -6, 36, 0], true),
      'tassel_1.rx': [0, 0, 16, -14, 20, 46, 25, -12, 30, 6, 36, 0],
      'tassel_2.rx': [0, 0, 16, -10, 21, 38, 26, -14, 31, 6, 36, 0],
    },
  },
  {
    name: 'Wave',
    tags: ['arm', 'greeting'],
    end: 44,
    timeline: {
      'hand_goal_l.ik': [0, 0],
      'clavicle_l.rz': [0, 0, 8, 14, 36, 12, 44, 0],
      'upperarm_l.rz': [0, -72, 9, 14, 34, 10, 44, -72],
      'upperarm_l.ry': [0, 0, 9, -18, 34, -16, 44, 0],
      'forearm_l.rz': [0, 0, 9, 46, 14, 74, 19, 40, 24, 72, 29, 42, 34, 58, 44, 0],
      'forearm_l.rx': [0, 0, 9, -60, 34, -56, 44, 0],
      'hand_l.rz': [0, 0, 10, -10, 15, 18, 20, -16, 25, 16, 30, -12, 44, 0],
      'head.ry': [0, 0, 10, 12, 34, 10, 44, 0],
      'head.rz': [0, 0, 12, -5, 34, -4, 44, 0],
      ...both('brow.ty', [0, 0, 9, 2.2, 34, 1.6, 44, 0]),
    },
  },
  {
    name: 'Sigh',
    tags: ['body', 'slow'],
    end: 60,
    timeline: {
      'chest.rx': [0, 0, 18, -9, 40, 7, 60, 0],
      'belly.rx': [0, 0, 20, -5, 42, 3, 60, 0],
      'spine_high.rx': [0, 0, 19, -4, 41, 6, 60, 0],
      ...both('clavicle.rz', [0, 0, 18, 11, 38, -7, 60, 0], true),
      'neck.rx': [0, 0, 18, -4, 42, 9, 60, 0],
      'head.rx': [0, 0, 18, -6, 44, 12, 60, 0],
      'jaw.rx': [0, 0, 16, 2, 26, 9, 40, 5, 60, 0],
      ...both('brow.ty', [0, 0, 18, 1.4, 40, -1.2, 60, 0]),
    },
  },
];

export interface Shelved {
  readonly action: ActionJson;
  /** What its picture is drawn from. */
  readonly shot: Shot;
}

/** The six, with the shots that they come from. */
export function shelf(): readonly Shelved[] {
  return PLANS.map(({ name, tags, end, timeline }) => {
    const bare = newShot(
      name,
      bramNodes([]),
      BRAM_RELATIONS,
      { numerator: 24, denominator: 1 },
      { start: 0, end },
    );
    const shot = withTimeline(
      { ...bare, characters: [{ id: 'bram', name: 'Bram' }] },
      { ...ARMS, ...timeline },
    );
    const nodes = [...new Set(Object.keys(timeline).map((id) => splitChannel(id).node))];
    const channels = Object.keys(timeline);
    const selection = { ...NOTHING, channels, nodes: [], range: { start: 0, end } };
    const { made } = runEdit('actions.save', shot, selection, {
      name,
      tags,
      notes: `From the shelf; ${nodes.length} controls.`,
    });
    return { action: made as ActionJson, shot };
  });
}

/** Under actions that leave the arms alone they hang, so that the pictures are no scarecrows. */
const ARMS: Readonly<Record<ChannelId, Keys>> = {
  ...both('hand_goal.ik', [0, 0]),
  ...both('upperarm.rz', [0, -72], true),
  ...both('foot_goal.ik', [0, 1]),
};
