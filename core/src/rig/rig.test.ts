import { describe, expect, test } from '@jest/globals';
import { Bone, Euler, MathUtils, Quaternion as ThreeQuaternion, Vector3 } from 'three';
import { seededRandom } from '../base/random.ts';
import { BRAM_RELATIONS, bramNodes } from '../demo/bram-rig.ts';
import { angleBetween, multiply } from '../math/quaternion.ts';
import type { Quaternion } from '../math/euler.ts';
import { puppetNodes } from '../testing/shot-literals.ts';
import { computeWorld, newWorldPose } from './pose.ts';
import { compileRig } from './rig.ts';
import type { Rig } from './rig.ts';
import { pairNames, partOf } from './sides.ts';
import { solveTwoBone } from './two-bone.ts';

describe('two-bone IK', () => {
  test('reach 3, 4 at distance 5: inner angle 90°, root 53.130102° (law of cosines)', () => {
    const { middle, end } = solveTwoBone([0, 0, 0], [5, 0, 0], [0, 0, 10], 3, 4, [0, 1, 0]);
    expect((Math.atan2(middle[2], middle[0]) * 180) / Math.PI).toBeCloseTo(53.130102, 6);
    expect(Math.hypot(...middle)).toBeCloseTo(3, 12);
    expect(middle[0] * (end[0] - middle[0]) + middle[2] * (end[2] - middle[2])).toBeCloseTo(0, 12);
    expect(end).toEqual([5, 0, 0]);
  });

  test('out of reach it stretches toward the target; on the line of the pole it still bends', () => {
    expect(solveTwoBone([0, 0, 0], [0, -20, 0], [0, 0, 5], 3, 4, [0, 0, 1]).end[1]).toBeCloseTo(-7, 12);
    const { middle } = solveTwoBone([0, 0, 0], [0, -5, 0], [0, -9, 0], 3, 4, [0, 0, 1]);
    expect(Math.hypot(...middle)).toBeCloseTo(3, 12);
    expect(middle[2]).toBeGreaterThan(1);
  });
});

describe('sides and pairs', () => {
  // Habits of naming that are common practice, no source.
  const pairs = `
    hand_l hand_r | hand_L hand_R | HAND_L HAND_R | Hand.L Hand.R | hand.l hand.r | hand-l hand-r | hand l hand r
    l_hand r_hand | L_hand R_hand | L_HAND R_HAND | L.hand R.hand | l-hand r-hand | L Hand R Hand
    handL handR | HandL HandR | LHand RHand | lHand rHand | LeftHand RightHand | leftHand rightHand | HandLeft HandRight
    hand_left hand_right | left_hand right_hand | Left_Hand Right_Hand | LEFT_HAND RIGHT_HAND | Left Hand Right Hand
    lefthand righthand | handleft handright | LEFTHAND RIGHTHAND | LHIPJOINT RHIPJOINT | larm rarm | eyel eyer
    hand_lf hand_rt | lf_hand rt_hand | LfHand RtHand | HandLf HandRt | lt_hand rt_hand | hand_lft hand_rgt | Lft_hand Rgt_hand
    hand_l_ctrl hand_r_ctrl | hand_L_ctl hand_R_ctl | ctrl_hand_l ctrl_hand_r | ctl_L_hand ctl_R_hand | handL_ctrl handR_ctrl
    hand_left_ctrl hand_right_ctrl | CTRL_HandLeft CTRL_HandRight | handLeftCtrl handRightCtrl | jnt_l_hand_01 jnt_r_hand_01
    hand_l.001 hand_r.001 | hand.L.002 hand.R.002 | hand_l_2 hand_r_2 | finger1_l finger1_r | finger_l1 finger_r1 | fingerL1 fingerR1
    finger1L finger1R | L1_finger R1_finger | Fig:LeftHand Fig:RightHand | a:hand_l a:hand_r | body|arm_l body|arm_r | LF_leg RF_leg
  `
    .split(/[|\n]/)
    .map((pair) => pair.trim())
    .filter((pair) => pair !== '');
  const halves = (pair: string): [string, string] => {
    const words = pair.split(' ');
    return [words.slice(0, words.length / 2).join(' '), words.slice(words.length / 2).join(' ')];
  };

  test.each(pairs.filter((pair) => !pair.startsWith('body') && !pair.startsWith('arm_')))('%s', (pair) => {
    const [left, right] = halves(pair);
    const found = pairNames([left, right, 'spine', 'head']);
    expect([found.get(left), found.get(right)]).toEqual([
      { side: 'left', pair: right },
      { side: 'right', pair: left },
    ]);
  });

  test.each([
    'ROOT RIBCAGE LOWER_BACK RIBS LEG',
    'Root LowerBack Roll Lid Lip Rib Ring',
    'root ribcage lowerback roll lip rear collar pelvis',
    'upright bright spine_01 tail_r01_tip_of_none',
  ])('no side is read out of %s', (words) => {
    const names = words.split(' ').filter((name) => !name.startsWith('tail'));
    const found = pairNames(names);
    for (const name of names) expect([name, found.get(name)]).toEqual([name, { side: 'centre', pair: name }]);
  });

  test('a side without a partner has none, and is one to ask about', () => {
    expect(pairNames(['hand_l', 'arm_l', 'arm_r']).get('hand_l')).toEqual({ side: 'left', pair: null });
    expect(pairNames(['LeftEar', 'Head']).get('LeftEar')).toEqual({ side: 'left', pair: null });
  });

  test('places are a witness: what does not lie opposite is no pair, and joined letters need the place too', () => {
    const places: Record<string, [number, number, number]> = {
      arm_l: [20, 100, 0],
      arm_r: [-20, 100, 0],
      leg_l: [9, 50, 0],
      leg_r: [-9, 50, 0],
      pouch_l: [15, 80, 0],
      pouch_r: [16, 84, 0],
      lamp: [2, 150, 0],
      ramp: [60, 0, 90],
      spine: [0, 110, 0],
    };
    const found = pairNames(Object.keys(places), (name) => places[name]!);
    expect(found.get('arm_l')).toEqual({ side: 'left', pair: 'arm_r' });
    expect(found.get('pouch_l')).toEqual({ side: 'left', pair: null });
    expect(found.get('lamp')).toEqual({ side: 'centre', pair: 'lamp' });
    // Where nothing is known of places, names decide.
    expect(pairNames(['pouch_l', 'pouch_r']).get('pouch_l')!.pair).toBe('pouch_r');
  });

  test('body parts', () => {
    expect(['LeftUpLeg', 'hand_l', 'neck', 'Spine1', 'tassel_1'].map(partOf)).toEqual([
      'leg',
      'hand',
      'head',
      'torso',
      'extra',
    ]);
  });
});

function worldOf(rig: Rig, values: Record<string, number>) {
  const pose = newWorldPose(rig);
  computeWorld(
    rig,
    rig.channels.map(({ id, rest }) => values[id] ?? rest),
    pose,
  );
  const place = (id: string) => {
    const m = rig.indexOf(id) * 16 + 12;
    return [pose.matrices[m]!, pose.matrices[m + 1]!, pose.matrices[m + 2]!] as const;
  };
  const turn = (id: string) =>
    Array.from(pose.turns.subarray(rig.indexOf(id) * 4, rig.indexOf(id) * 4 + 4)) as Quaternion;
  return { place, turn };
}

test('forward kinematics agree with three’s bones', () => {
  const rig = compileRig(puppetNodes(), []);
  const random = seededRandom(5);
  const values = Object.fromEntries(
    rig.channels.map(({ id, kind }) => [
      id,
      kind === 'rotation' ? random.next() * 360 - 180 : random.gaussian() * 5,
    ]),
  );
  const bones = new Map<string, Bone>();
  for (const node of rig.nodes) {
    const bone = new Bone();
    const [x, y, z] = node.rest.translation;
    bone.position.set(
      x + values[`${node.id}.tx`]!,
      y + values[`${node.id}.ty`]!,
      z + values[`${node.id}.tz`]!,
    );
    const [rx, ry, rz] = ['rx', 'ry', 'rz'].map((name) =>
      MathUtils.degToRad(values[`${node.id}.${name}`]!),
    ) as [number, number, number];
    bone.setRotationFromEuler(new Euler(rx, ry, rz, node.order.toUpperCase() as 'XYZ'));
    if (node.parent) bones.get(node.parent)!.add(bone);
    bones.set(node.id, bone);
  }
  bones.get('hips')!.updateMatrixWorld(true);
  const { place, turn } = worldOf(rig, values);
  for (const [id, bone] of bones) {
    bone
      .getWorldPosition(new Vector3())
      .toArray()
      .forEach((value, axis) => expect(place(id)[axis]).toBeCloseTo(value, 9));
    expect(angleBetween(turn(id), bone.getWorldQuaternion(new ThreeQuaternion()).toArray())).toBeLessThan(
      1e-6,
    );
  }
});

describe('Bram', () => {
  const rig = compileRig(bramNodes(['dough', 'tray', 'peel', 'camera']), BRAM_RELATIONS);

  test('has about 60 controls and over 250 channels, pairs on both sides', () => {
    expect(rig.nodes.filter((node) => node.channels.length > 0).length).toBeGreaterThanOrEqual(58);
    expect(rig.channels.length).toBeGreaterThan(250);
    for (const node of rig.nodes)
      if (node.side !== 'centre') expect(rig.indexOf(node.pair!)).toBeGreaterThanOrEqual(0);
  });

  test('IK puts ankle and hand on their goals and bends knees forward, elbows back', () => {
    const { place, turn } = worldOf(rig, {
      'foot_goal_l.ik': 1,
      'hips.ty': -12,
      'foot_goal_l.tz': 15,
      'hand_goal_r.ik': 1,
      'hand_goal_r.tx': 25,
      'hand_goal_r.ry': 40,
    });
    place('foot_l').forEach((value, axis) => expect(value).toBeCloseTo(place('ankle_l')[axis]!, 9));
    place('hand_r').forEach((value, axis) => expect(value).toBeCloseTo(place('hand_goal_r')[axis]!, 9));
    expect(place('shin_l')[2]).toBeGreaterThan((place('thigh_l')[2] + place('foot_l')[2]) / 2);
    expect(place('forearm_r')[2]).toBeLessThan(place('upperarm_r')[2]);
    expect(angleBetween(turn('hand_r'), turn('hand_goal_r'))).toBeLessThan(1e-6);
    // Bone lengths are kept.
    const length = (a: string, b: string) =>
      Math.hypot(...place(a).map((value, axis) => value - place(b)[axis]!));
    expect(length('thigh_l', 'shin_l')).toBeCloseTo(40, 9);
    expect(length('upperarm_r', 'forearm_r')).toBeCloseTo(27, 9);
  });

  test('at rest IK changes nothing', () => {
    const off = worldOf(rig, {});
    const on = worldOf(rig, {
      'foot_goal_l.ik': 1,
      'foot_goal_r.ik': 1,
      'hand_goal_l.ik': 1,
      'hand_goal_r.ik': 1,
    });
    for (const node of rig.nodes) {
      on.place(node.id).forEach((value, axis) => expect(value).toBeCloseTo(off.place(node.id)[axis]!, 3));
      expect(angleBetween(on.turn(node.id), off.turn(node.id))).toBeLessThan(0.01);
    }
  });

  test('the heel lifts about the ball and the toes stay on the floor', () => {
    const flat = worldOf(rig, { 'foot_goal_l.ik': 1, 'hips.ty': -10 });
    const up = worldOf(rig, { 'foot_goal_l.ik': 1, 'hips.ty': -10, 'ball_l.rx': 30 });
    expect(up.place('foot_l')[1]).toBeGreaterThan(flat.place('foot_l')[1] + 3);
    expect(angleBetween(up.turn('toe_l'), flat.turn('toe_l'))).toBeLessThan(1e-6);
  });

  test('a circle of nodes is refused with their names', () => {
    const nodes = bramNodes([]);
    const circle = nodes.map((node) => (node.id === 'root' ? { ...node, parent: 'head' } : node));
    expect(() => compileRig(circle, [])).toThrow(/root.*head|head.*root/);
  });
});

test('turns are composed parent first', () => {
  const rig = compileRig(puppetNodes(), []);
  const { turn } = worldOf(rig, { 'hips.ry': 90, 'arm_l.rz': -90 });
  expect(
    angleBetween(turn('arm_l'), multiply(turn('hips'), [0, 0, -Math.SQRT1_2, Math.SQRT1_2])),
  ).toBeLessThan(1e-9);
});
