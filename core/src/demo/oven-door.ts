/**
 * *Oven door*: Bram brings a tray in his left hand, takes it over with his right and sets it on the shelf, while the shot camera goes round him on
 * a slow arc; Nib stands by and looks at the rolls. The tray follows the left hand all through: that is what is wrong with it.
 */
import { runEdit } from '../edits/run-edit.ts';
import { NOTHING } from '../document/selection.ts';
import { newShot } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { BRAM_RELATIONS, bramNodes } from './bram-rig.ts';
import { NIB_RELATIONS, nibNodes } from './nib-rig.ts';
import { withTimeline } from './timeline.ts';
import type { Keys } from './timeline.ts';

const END = 96;

const TIMELINE: Readonly<Record<string, Keys>> = {
  'foot_goal_l.ik': [0, 1],
  'foot_goal_r.ik': [0, 1],
  'hand_goal_l.ik': [0, 1],
  'hand_goal_r.ik': [0, 1],
  'foot_goal_l.tx': [0, 3],
  'foot_goal_r.tx': [0, -4, 52, -4, 60, -9],
  'foot_goal_r.ry': [0, -12, 52, -12, 60, -34],
  'foot_goal_r.ty': [50, 0, 55, 5, 60, 0],
  'foot_goal_l.ry': [0, 12],
  'hips.ty': [0, -3, 20, -4.5, 34, -3, 50, -4, 71, -6, 84, -3],
  'hips.tx': [0, 4, 22, 3, 34, 0, 54, -3, 71, -9, 90, -4],
  'hips.ry': [0, 14, 24, 8, 34, 0, 54, -16, 71, -32, 90, -18],
  'hips.rz': [0, 2, 34, 0, 71, -3, 90, -1],
  'spine_low.rx': [0, -3, 34, 2, 71, 8, 90, 1],
  'spine_high.ry': [0, 6, 34, 0, 71, -14, 90, -6],
  'chest.rx': [0, -4, 34, 1, 71, 5, 90, -1],
  'chest.ry': [0, 5, 34, 0, 71, -10, 90, -4],
  'neck.rx': [0, 3, 34, 6, 71, 4, 90, 0],
  'head.ry': [0, 16, 26, 4, 38, -8, 60, -20, 78, -12, 92, 20],
  'head.rx': [0, 4, 30, 14, 60, 6, 74, 10, 92, 0],
  'jaw.rx': [0, 3, 34, 6, 71, 3, 86, 9],
  'hand_goal_l.tx': [0, -40, 26, -52, 34, -56, 46, -50, 60, -44],
  'hand_goal_l.ty': [0, -26, 26, -22, 34, -22, 46, -48, 60, -60],
  'hand_goal_l.tz': [0, 36, 26, 44, 34, 46, 46, 26, 60, 6],
  'hand_goal_l.ry': [0, -50, 34, -64, 60, -20],
  'hand_goal_l.rz': [0, 0, 34, 0, 60, -66],
  'hand_goal_r.tx': [0, 46, 18, 44, 34, 52, 52, 30, 71, 6, 78, 8, 90, 42],
  'hand_goal_r.ty': [0, -62, 18, -44, 34, -22, 52, -18, 71, -34, 78, -30, 90, -60],
  'hand_goal_r.tz': [0, 4, 18, 30, 34, 46, 52, 48, 71, 40, 78, 36, 90, 4],
  'hand_goal_r.ry': [0, 20, 34, 64, 71, 24, 90, 20],
  'hand_goal_r.rz': [0, 72, 34, 0, 74, 0, 90, 70],
  'elbow_pole_l.ty': [0, -50],
  'elbow_pole_r.ty': [0, -50],
  'tassel_1.rx': [0, -8, 34, -14, 60, -4, 80, -12],
  'tassel_1.rz': [0, -6, 40, 6, 74, 12, 92, 0],
  'camera.tx': [0, -120, 96, 110],
  'camera.tz': [0, -20, 48, 0, 96, -16],
  'camera.ry': [0, -16, 96, 15],
  'step.L.ik': [0, 1],
  'step.R.ik': [0, 1],
  'reach.L.ik': [0, 1],
  'reach.R.ik': [0, 1],
  'nib.ry': [0, -38],
  'pelvis.ty': [0, -1.5, 30, -3, 60, -1.5, 90, -3],
  'pelvis.ry': [0, 6, 60, -6, 90, -2],
  'reach.L.tx': [0, -28, 40, -30, 80, -28],
  'reach.L.ty': [0, -26, 40, -24, 80, -26],
  'reach.L.tz': [0, 18, 40, 20, 80, 18],
  'reach.R.tx': [0, 28, 40, 30, 80, 28],
  'reach.R.ty': [0, -26, 40, -24, 80, -26],
  'reach.R.tz': [0, 18, 40, 20, 80, 18],
  'elbow.L.ty': [0, -34],
  'elbow.R.ty': [0, -34],
  'tray.tx': [0, 30],
  'tray.ty': [0, 117],
  'tray.tz': [0, 47],
};

export function ovenDoor(): Shot {
  const bare: Shot = {
    ...newShot(
      'Oven door',
      [...bramNodes(['tray', 'shelf', 'camera']), ...nibNodes()],
      [...BRAM_RELATIONS, ...NIB_RELATIONS],
      { numerator: 24, denominator: 1 },
      { start: 0, end: END },
    ),
    characters: [
      { id: 'bram', name: 'Bram' },
      { id: 'nib', name: 'Nib' },
    ],
  };
  const keyed = withTimeline(bare, TIMELINE);
  const carried = runEdit(
    'spaces.add',
    keyed,
    { ...NOTHING, nodes: ['tray'] },
    {
      targets: ['hand_l', 'hand_r', 'shelf'],
      frame: 0,
    },
  ).shot;
  return runEdit(
    'spaces.add',
    carried,
    { ...NOTHING, nodes: ['skull'] },
    {
      kind: 'aim',
      targets: ['tray'],
      keep: false,
      frame: 0,
    },
  ).shot;
}
