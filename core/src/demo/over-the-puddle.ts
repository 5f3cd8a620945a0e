/**
 * *Over the puddle*: Bram leaps across the alley, and lands in the puddle that he meant to clear. Blocked every six frames on columns, so that he hangs in the air as no body does: the landing
 * must go farther and higher, onto the crate.
 */
import { newShot } from '../document/shot.ts';
import type { ChannelId, Shot } from '../document/shot.ts';
import { BRAM_RELATIONS, bramNodes } from './bram-rig.ts';
import { withTimeline } from './timeline.ts';

const GAP = 6;
const POSES = 10;

/** Values of a channel pose by pose; shorter rows go on with their last value. */
type Poses = readonly number[];

/** 0 stands at the edge, 2 is down with his arms back, 3 takes off, 4 is highest, 5 lands, 6 is down again, 9 looks at his wet feet. */
const BLOCKING: Readonly<Record<ChannelId, Poses>> = {
  'foot_goal_l.ik': [1],
  'foot_goal_r.ik': [1],
  'hand_goal_l.ik': [1],
  'hand_goal_r.ik': [1],
  'root.tz': [0, 0, 0, 0, 52, 104],
  'root.ty': [0, 0, 0, 0, 22, 0],
  'hips.ty': [-2, -14, -24, 2, -4, -9, -28, -12, -4, -6],
  'hips.tz': [0, -8, -9, 17, 2, -7, 6, 10, 12, 12],
  'hips.rx': [0, 14, 26, 4, 12, -6, 24, 10, 2, 6],
  'spine_low.rx': [0, 8, 14, -6, 10, 6, 14, 6, 0, 6],
  'spine_high.rx': [0, 8, 12, -8, 8, 6, 12, 4, 0, 6],
  'chest.rx': [0, 6, 10, -8, 6, 4, 10, 2, -2, 6],
  'neck.rx': [4, 0, -10, -6, 2, 8, 0, 4, 10, 14],
  'head.rx': [10, 4, -14, -8, 4, 14, 6, 10, 18, 26],
  'head.ry': [0, 0, 0, 0, 0, 0, 0, -6, -10, 4],
  'eye_l.rx': [10, 6, 4, 4, 10, 14, 10, 10, 14, 16],
  'eye_r.rx': [10, 6, 4, 4, 10, 14, 10, 10, 14, 16],
  'jaw.rx': [2, 3, 4, 10, 14, 12, 4, 8, 10, 5],
  'brow_l.ty': [0.4, -0.4, -0.8, 1.2, 1.8, 1.8, -0.6, 1, 1.4, -0.4],
  'brow_r.ty': [0.4, -0.4, -0.8, 1.2, 1.8, 1.8, -0.6, 1, 1.4, -0.6],
  'foot_goal_l.tx': [2],
  'foot_goal_r.tx': [-2],
  'foot_goal_l.tz': [0, 0, 0, 0, -8, 15],
  'foot_goal_r.tz': [0, 0, 0, 0, -2, 12],
  'foot_goal_l.ty': [0, 0, 0, 0, 24, 0],
  'foot_goal_r.ty': [0, 0, 0, 0, 28, 0],
  'foot_goal_l.rx': [0, 0, 0, 0, 26, -14, 0],
  'foot_goal_r.rx': [0, 0, 0, 0, 22, -14, 0],
  'ball_l.rx': [0, 0, 4, 38, 8, 0],
  'ball_r.rx': [0, 0, 4, 38, 8, 0],
  'hand_goal_l.tx': [-42, -44, -46, -40, -26, -30, -40, -44, -44, -40],
  'hand_goal_l.ty': [-58, -52, -46, -16, 12, -12, -50, -58, -58, -54],
  'hand_goal_l.tz': [4, -16, -42, 34, 38, 38, 22, 8, 4, 12],
  'hand_goal_r.tx': [42, 44, 46, 38, 24, 28, 40, 44, 44, 40],
  'hand_goal_r.ty': [-58, -52, -46, -12, 16, -8, -50, -58, -58, -54],
  'hand_goal_r.tz': [4, -16, -42, 36, 40, 40, 22, 8, 4, 12],
  'clavicle_l.rz': [0, 2, 4, -8, -14, -8, 4, 2, 0, 0],
  'clavicle_r.rz': [0, -2, -4, 8, 14, 8, -4, -2, 0, 0],
  'tassel_1.rx': [0, 8, 14, -30, 10, 34, 24, -10, 4, 0],
  'tassel_2.rx': [0, 6, 12, -26, 4, 30, 26, -8, 4, 0],
};

const TIMELINE = Object.fromEntries(
  Object.entries(BLOCKING).map(([channel, values]) => [
    channel,
    Array.from({ length: POSES }, (_, pose) => [GAP * pose, values[pose] ?? values.at(-1)!]).flat(),
  ]),
);

export function overThePuddle(): Shot {
  const nodes = bramNodes(['puddle', 'crate', 'camera']);
  const rate = { numerator: 24, denominator: 1 };
  const bare: Shot = {
    ...newShot('Over the puddle', nodes, BRAM_RELATIONS, rate, { start: 0, end: GAP * (POSES - 1) }),
    characters: [{ id: 'bram', name: 'Bram' }],
  };
  return withTimeline(bare, TIMELINE);
}
