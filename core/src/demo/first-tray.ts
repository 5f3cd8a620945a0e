/**
 * *First tray*: Bram sees the tray on the counter, bends to it, lifts it and turns to go. Stepped blocking: 14 poses at even gaps, every
 * one of them a column; his brows and the cap's tassel were forgotten at three of them.
 */
import { SEGMENT } from '../curve/curve.ts';
import type { Curve } from '../curve/curve.ts';
import { allRows, rebuild } from '../curve/rebuild.ts';
import { curvesIn, newShot, splitChannel, withCurves } from '../document/shot.ts';
import type { ChannelId, Shot } from '../document/shot.ts';
import { BRAM_RELATIONS, bramNodes } from './bram-rig.ts';
import { withTimeline } from './timeline.ts';

const GAP = 8;
const POSES = 14;

/** Values of a channel pose by pose; shorter rows go on with their last value. */
type Poses = readonly number[];

/** 0 stands and looks about, 2 sees the tray, 4 bends, 6 grips, 8 lifts, 10 holds it at the chest, 13 turned to go. */
const BLOCKING: Readonly<Record<ChannelId, Poses>> = {
  'foot_goal_l.ik': [1],
  'foot_goal_r.ik': [1],
  'hand_goal_l.ik': [1],
  'hand_goal_r.ik': [1],
  'foot_goal_l.tx': [4, 4, 4, 5, 6],
  'foot_goal_r.tx': [-4, -4, -4, -5, -6],
  'foot_goal_l.tz': [0, 0, 0, 0, 6, 6, 6, 6, 6, 6, 6, 6, 4, -4],
  'foot_goal_r.ry': [-10, -10, -12, -12, -14, -14, -14, -14, -14, -14, -12, -20, -40, -52],
  'foot_goal_l.ry': [10, 10, 8, 8, 8, 8, 8, 8, 8, 8, 8, 4, -16, -34],
  'hips.ty': [-2, -1, -2, -3, -12, -20, -22, -24, -12, -4, -3, -4, -5, -3],
  'hips.tz': [0, 0, -1, -2, -9, -13, -14, -14, -8, -4, -3, -3, -2, -2],
  'hips.tx': [0, 2, 1, 0, 0, 0, 0, 0, 0, -1, -2, -4, -5, -3],
  'hips.rx': [0, 0, 2, 4, 22, 32, 34, 36, 16, 2, -2, 0, 2, 0],
  'hips.ry': [6, 12, 4, 0, 0, 0, 0, 0, 0, 0, -4, -14, -28, -40],
  'hips.rz': [1, 3, 1, 0, 0, 0, 0, 0, 0, 1, 2, 4, 3, 1],
  'spine_low.rx': [0, -2, 2, 4, 12, 16, 16, 18, 8, -4, -7, -5, -3, -5],
  'spine_high.rx': [2, 0, 4, 6, 12, 14, 14, 15, 6, -6, -9, -7, -4, -6],
  'chest.rx': [2, 0, 2, 4, 8, 10, 10, 8, 2, -6, -8, -6, -4, -5],
  'spine_high.ry': [4, 10, 4, 0, 0, 0, 0, 0, 0, 0, -2, -8, -10, -6],
  'chest.ry': [3, 8, 3, 0, 0, 0, 0, 0, 0, 0, -3, -8, -8, -5],
  'neck.rx': [0, -4, 4, 6, -8, -12, -10, -4, 2, 8, 6, 2, 0, -2],
  'head.rx': [2, -6, 10, 12, -10, -14, -8, 2, 10, 14, 8, 2, -2, -6],
  'head.ry': [18, 30, -6, -2, 0, 0, 0, 2, 0, 0, -8, -22, -26, -18],
  'head.rz': [4, 8, -4, 0, 0, 2, 0, -3, 0, 2, 0, -4, -4, 0],
  'eye_l.ry': [10, 16, -6, 0, 0, 0, 0, 0, 0, 0, -6, -12, -10, 0],
  'eye_r.ry': [10, 16, -6, 0, 0, 0, 0, 0, 0, 0, -6, -12, -10, 0],
  'eye_l.rx': [0, -4, 12, 14, 8, 6, 10, 14, 10, 8, 4, 0, 0, -4],
  'eye_r.rx': [0, -4, 12, 14, 8, 6, 10, 14, 10, 8, 4, 0, 0, -4],
  'jaw.rx': [2, 4, 10, 4, 3, 3, 6, 8, 5, 3, 2, 6, 3, 2],
  'brow_l.ty': [0, 0.8, 1.8, 1, 0.2, -0.6, -0.8, -1, -0.6, 0.2, 0.6, 1.2, 0.6, 0.2],
  'brow_r.ty': [0, 0.6, 1.8, 1, 0.2, -0.6, -0.8, -1, -0.6, 0.2, 0.6, 1.4, 0.8, 0.2],
  'clavicle_l.rz': [0, -4, -8, -2, 4, 8, 8, 8, 0, -8, -6, -4, -4, -4],
  'clavicle_r.rz': [0, 4, 8, 2, -4, -8, -8, -8, 0, 8, 6, 4, 4, 4],
  // Arms hang, spread as he sees it, reach, grip, lift to the chest.
  'hand_goal_l.tx': [-44, -36, -32, -40, -48, -47, -47, -47, -48, -49, -49, -50, -55, -58],
  'hand_goal_l.ty': [-58, -54, -30, -50, -62, -68, -70, -68, -46, -24, -22, -23, -24, -22],
  'hand_goal_l.tz': [4, 8, 20, 26, 40, 46, 48, 48, 46, 40, 38, 38, 34, 28],
  'hand_goal_r.tx': [44, 36, 32, 40, 48, 47, 47, 47, 48, 49, 49, 47, 38, 31],
  'hand_goal_r.ty': [-58, -62, -30, -50, -62, -68, -70, -68, -46, -24, -22, -23, -24, -22],
  'hand_goal_r.tz': [4, 2, 20, 26, 40, 46, 48, 48, 46, 40, 38, 40, 44, 46],
  'hand_goal_l.rz': [-70, -66, -30, -30, -14, -8, 0, 0, 0],
  'hand_goal_r.rz': [70, 72, 30, 30, 14, 8, 0, 0, 0],
  'hand_goal_l.ry': [-20, -20, -40, -50, -60, -62, -62, -62, -62, -62, -62, -66, -80, -92],
  'hand_goal_r.ry': [20, 20, 40, 50, 60, 62, 62, 62, 62, 62, 62, 58, 44, 34],
  'elbow_pole_l.ty': [-50],
  'elbow_pole_r.ty': [-50],
  'tray.tx': [0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, -3, -12, -20],
  'tray.ty': [70, 70, 70, 70, 70, 70, 70, 72, 95, 117, 119, 118, 117, 119],
  'tray.tz': [52, 52, 52, 52, 52, 52, 52, 52, 50, 44, 42, 42, 40, 37],
  'tray.ry': [0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, -8, -24, -36],
  'tray.rx': [0, 0, 0, 0, 0, 0, 0, -4, 3, 0],
  'tassel_1.rx': [-6, -10, -4, -8, -24, -34, -34, -36, -20, -2, 2, -4, -8, -4],
  'tassel_2.rx': [-4, -8, 2, -4, -12, -18, -16, -18, -4, 6, 4, 0, -6, -2],
  'string_1_l.rx': [2, 2, 4, 6, 16, 22, 22, 24, 12, 2, 0, 2, 4, 2],
  'string_1_r.rx': [2, 2, 4, 6, 16, 22, 22, 24, 12, 2, 0, 2, 4, 2],
};

/** Poses at which these controls were not keyed. */
const FORGOTTEN: Readonly<Record<string, readonly number[]>> = { brow_r: [3, 6, 9], tassel_2: [3, 6, 9] };

export function firstTray(): Shot {
  const end = (POSES - 1) * GAP;
  const bare: Shot = {
    ...newShot(
      'First tray',
      bramNodes(['tray', 'counter', 'camera']),
      BRAM_RELATIONS,
      { numerator: 24, denominator: 1 },
      { start: 0, end: end + GAP },
    ),
    characters: [{ id: 'bram', name: 'Bram' }],
  };
  const timeline = Object.entries(BLOCKING).map(([id, poses]) => {
    const at = (pose: number) => poses[Math.min(pose, poses.length - 1)]!;
    return [id, Array.from({ length: POSES }, (_, pose) => [pose * GAP, at(pose)]).flat()] as const;
  });
  return stepped(withTimeline(bare, Object.fromEntries(timeline)));
}

function stepped(shot: Shot): Shot {
  const changed = new Map<ChannelId, Curve>();
  for (const [id, curve] of curvesIn(shot.curves, shot.nodes)) {
    const forgotten = FORGOTTEN[splitChannel(id).node] ?? [];
    const kept = allRows(curve).filter((row) => !forgotten.includes(row));
    changed.set(
      id,
      rebuild(curve, kept, (columns) => columns.segments.fill(SEGMENT.stepped)),
    );
  }
  return withCurves(shot, null, changed);
}
