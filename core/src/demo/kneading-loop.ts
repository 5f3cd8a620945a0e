/**
 * *Kneading loop*: Bram leans into the dough, folds it and comes back, in 24 frames. The last pose does not quite meet the first, so
 * the seam shows; the gaps are all alike, so the rhythm is dull.
 */
import { newShot } from '../document/shot.ts';
import type { ChannelId, Shot } from '../document/shot.ts';
import { BRAM_RELATIONS, bramNodes } from './bram-rig.ts';
import { withTimeline } from './timeline.ts';
import type { Keys } from './timeline.ts';

const LENGTH = 24;
const GAP = 6;

/** Up, over, press, fold, up again: the last number is what should have been the first. */
const poses = (...values: readonly number[]): Keys => values.flatMap((value, i) => [i * GAP, value]);
const still = (value: number): Keys => [0, value, LENGTH, value];

const KNEADING: Readonly<Record<ChannelId, Keys>> = {
  'foot_goal_l.ik': still(1),
  'foot_goal_r.ik': still(1),
  'hand_goal_l.ik': still(1),
  'hand_goal_r.ik': still(1),
  'foot_goal_l.tx': still(5),
  'foot_goal_r.tx': still(-6),
  'foot_goal_r.tz': still(-12),
  'foot_goal_l.tz': still(8),
  'foot_goal_r.ry': still(-16),
  'foot_goal_l.ry': still(8),
  'heel_r.rx': poses(0, 0, 0, 0, 0),
  'ball_r.rx': poses(2, 10, 24, 12, 6),
  'hips.tx': poses(0, 1, 2, -1, 0.8),
  'hips.ty': poses(-4, -7, -13, -9, -5.2),
  'hips.tz': poses(-6, 0, 6, 0, -4.4),
  'hips.rx': poses(6, 14, 24, 14, 8),
  'hips.ry': poses(4, 0, -6, 3, 5.5),
  'spine_low.rx': poses(4, 10, 16, 12, 6.5),
  'spine_high.rx': poses(4, 10, 18, 12, 6),
  'chest.rx': poses(2, 8, 14, 10, 4),
  'chest.ry': poses(4, 0, -8, 4, 6),
  'neck.rx': poses(2, -2, -8, -4, 1),
  'head.rx': poses(8, 4, -2, 6, 9.5),
  'head.rz': poses(2, 0, -3, 1, 3),
  'eye_l.rx': still(14),
  'eye_r.rx': still(14),
  'jaw.rx': poses(2, 3, 7, 3, 2.5),
  'brow_l.ty': poses(0, -0.3, -0.9, -0.2, 0.1),
  'brow_r.ty': poses(0, -0.3, -0.9, -0.2, 0.1),
  'clavicle_l.rz': poses(-4, 0, 6, 2, -2.5),
  'clavicle_r.rz': poses(4, 0, -6, -2, 2.5),
  'hand_goal_l.tx': poses(-56, -58, -60, -54, -55),
  'hand_goal_l.ty': poses(-34, -40, -46, -38, -35.5),
  'hand_goal_l.tz': poses(36, 44, 54, 46, 38.5),
  'hand_goal_r.tx': poses(56, 58, 60, 64, 57),
  'hand_goal_r.ty': poses(-34, -40, -46, -36, -32.5),
  'hand_goal_r.tz': poses(36, 44, 54, 40, 37),
  'hand_goal_l.ry': still(-70),
  'hand_goal_r.ry': still(70),
  'hand_goal_l.rx': poses(10, 24, 40, 20, 14),
  'hand_goal_r.rx': poses(10, 24, 40, 20, 12),
  'elbow_pole_l.ty': still(-40),
  'elbow_pole_r.ty': still(-40),
  'dough.ty': still(88),
  'dough.tz': poses(54, 57, 61, 58, 55),
  'dough.tx': poses(0, 0, 0, 2, 0.6),
  'dough.ry': poses(0, 8, 14, 30, 5),
  'dough.sx': poses(1.15, 1.25, 1.5, 1.2, 1.18),
  'dough.sy': poses(0.95, 0.8, 0.55, 0.85, 0.92),
  'dough.sz': poses(1.1, 1.25, 1.4, 1.05, 1.12),
  'tassel_1.rx': poses(-10, -20, -34, -12, -14),
  'tassel_2.rx': poses(-6, -12, -8, 10, -3),
  'string_1_l.rx': poses(6, 12, 22, 14, 9),
  'string_1_r.rx': poses(6, 12, 22, 14, 9),
};

export function kneadingLoop(): Shot {
  const nodes = bramNodes(['dough', 'counter', 'board', 'camera']);
  const bare: Shot = {
    ...newShot(
      'Kneading loop',
      nodes,
      BRAM_RELATIONS,
      { numerator: 24, denominator: 1 },
      { start: 0, end: LENGTH },
    ),
    characters: [{ id: 'bram', name: 'Bram' }],
  };
  return withTimeline(bare, KNEADING);
}
