/**
 * *Night round*: half a walk cycle, one step with the tray, right foot leading. Hand-made keys on few frames: contact,
 * down, passing, up, contact.
 */
import type { Curve } from '../curve/curve.ts';
import { addKeysKeepingShape } from '../curve/split.ts';
import { curvesIn, newShot, splitChannel, withCurves } from '../document/shot.ts';
import type { ChannelId, Shot } from '../document/shot.ts';
import { BRAM_RELATIONS, bramNodes } from './bram-rig.ts';
import { withTimeline } from './timeline.ts';
import type { Keys } from './timeline.ts';

/** Frames of half a cycle; a stride covers 2 × 34 cm. */
const HALF = 16;
const STEP_CM = 34;

/** The tray and the hands under it go with the chest's height and lean. */
const CARRY: Keys = [0, 0, 4, -3.4, 8, -0.6, 12, 1.6, HALF, 0];
const lifted = (by: number): Keys => CARRY.map((value, i) => (i % 2 === 0 ? value : value + by));

const STEP: Readonly<Record<ChannelId, Keys>> = {
  'root.tz': [0, 0, HALF, STEP_CM],
  'foot_goal_l.ik': [0, 1],
  'foot_goal_r.ik': [0, 1],
  'hand_goal_l.ik': [0, 1],
  'hand_goal_r.ik': [0, 1],
  // The right foot is planted ahead; in the root's frame it slides back under him.
  'foot_goal_r.tz': [0, STEP_CM * 0.5, HALF, -STEP_CM * 0.5],
  'foot_goal_r.ry': [0, -8, HALF, -8],
  'heel_r.rx': [0, -24, 3, 0, HALF, 0],
  'ball_r.rx': [0, 0, 10, 0, HALF, 26],
  // The left foot pushes off and swings through.
  'foot_goal_l.tz': [0, -STEP_CM * 0.5, 4, -STEP_CM * 0.42, 8, 2, 12, STEP_CM * 0.46, HALF, STEP_CM * 0.5],
  'foot_goal_l.ty': [0, 0, 4, 7, 8, 11, 12, 5, HALF, 0],
  'foot_goal_l.rx': [0, 0, 4, 24, 8, 12, 12, -8, HALF, 0],
  'foot_goal_l.ry': [0, 8, HALF, 8],
  'heel_l.rx': [0, 0, 12, -6, HALF, -24],
  'ball_l.rx': [0, 26, 4, 12, 8, 0, HALF, 0],
  'hips.tx': [0, 0, 4, -2.4, 8, -3.6, 12, -2, HALF, 0],
  'hips.ty': [0, -5.5, 4, -8.6, 8, -4, 12, -2.6, HALF, -5.5],
  'hips.rx': [0, 3, 4, 5, 8, 3, HALF, 3],
  'hips.ry': [0, 7, 8, 0, HALF, -7],
  'hips.rz': [0, 0, 4, 3.4, 8, 2.4, 12, -1, HALF, 0],
  'spine_low.ry': [0, -4, 8, 0, HALF, 4],
  'spine_low.rx': [0, -3, 4, -1, 8, -3, HALF, -3],
  'spine_high.ry': [0, -5, 8, 0, HALF, 5],
  'spine_high.rz': [0, 0, 4, -2.4, 8, -1.8, 12, 0.6, HALF, 0],
  'chest.rx': [0, -4, 4, -2, 10, -5, HALF, -4],
  'chest.ry': [0, -4, 8, 0, HALF, 4],
  'neck.rx': [0, 2, 5, 5, 9, 2, HALF, 2],
  'head.rx': [0, 2, 6, 6, 10, 1, HALF, 2],
  'head.ry': [0, 4, 8, 0, HALF, -4],
  'head.rz': [0, 0, 5, 2, 10, -1, HALF, 0],
  'jaw.rx': [0, 3, HALF, 3],
  'eye_l.rx': [0, 6, HALF, 6],
  'eye_r.rx': [0, 6, HALF, 6],
  // Both hands under the tray.
  'tray.tx': [0, 0, 5, -1.6, 10, -2, HALF, 0],
  'tray.ty': lifted(118),
  'tray.tz': [0, 44, HALF, 44 + STEP_CM],
  'tray.rx': [0, -1, 6, 3, 11, -2, HALF, -1],
  'tray.rz': [0, 0, 5, 2.6, 10, 0.6, HALF, 0],
  'hand_goal_l.tx': [0, -51, 5, -52.6, 10, -53, HALF, -51],
  'hand_goal_l.ty': lifted(-23.5),
  'hand_goal_l.tz': [0, 40, HALF, 40],
  'hand_goal_l.ry': [0, -62, HALF, -62],
  'hand_goal_l.rx': [0, 0, HALF, 0],
  'hand_goal_r.tx': [0, 51, 5, 49.4, 10, 49, HALF, 51],
  'hand_goal_r.ty': lifted(-23.5),
  'hand_goal_r.tz': [0, 40, HALF, 40],
  'hand_goal_r.ry': [0, 62, HALF, 62],
  'hand_goal_r.rx': [0, 0, HALF, 0],
  'elbow_pole_l.ty': [0, -50, HALF, -50],
  'elbow_pole_r.ty': [0, -50, HALF, -50],
  'clavicle_l.rz': [0, -6, 6, -10, 11, -5, HALF, -6],
  'clavicle_r.rz': [0, 6, 6, 10, 11, 5, HALF, 6],
  'tassel_1.rx': [0, -8, 5, 6, 10, -14, HALF, -8],
  'tassel_2.rx': [0, -6, 6, 8, 11, -12, HALF, -6],
  'tassel_1.rz': [0, 6, 8, 0, HALF, -6],
  'tassel_2.rz': [0, 7, 8, 0, HALF, -7],
  'string_1_l.rx': [0, 4, 6, -5, 11, 8, HALF, 4],
  'string_1_r.rx': [0, 4, 6, -5, 11, 8, HALF, 4],
};

export function nightRound(): Shot {
  const nodes = bramNodes(['tray', 'camera']);
  const rate = { numerator: 24, denominator: 1 };
  const bare: Shot = {
    ...newShot('Night round', nodes, BRAM_RELATIONS, rate, { start: 0, end: HALF }),
    characters: [{ id: 'bram', name: 'Bram' }],
  };
  return withPoseColumns(withTimeline(bare, STEP));
}

/** The frames at which the body is posed, and what is posed there: keys as an animator sets them, on everything at once. */
const COLUMNS = [4, 8, 12];
const POSED = ['root', 'hips', 'spine_low', 'spine_high', 'chest', 'neck', 'head', 'tray'];
const POSED_BOTH = ['foot_goal', 'heel', 'ball', 'hand_goal', 'clavicle'];

function withPoseColumns(shot: Shot): Shot {
  const posed = new Set([...POSED, ...POSED_BOTH.flatMap((name) => [`${name}_l`, `${name}_r`])]);
  const changed = new Map<ChannelId, Curve>();
  for (const [id, curve] of curvesIn(shot.curves, shot.nodes)) {
    if (posed.has(splitChannel(id).node) && curve.times.length > 1)
      changed.set(id, addKeysKeepingShape(curve, COLUMNS));
  }
  return withCurves(shot, null, changed);
}
