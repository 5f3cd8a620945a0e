import { describe, expect, test } from '@jest/globals';
import { Bone, Euler, MathUtils, Quaternion as ThreeQuaternion, Vector3 } from 'three';
import { seededRandom } from '../base/random.ts';
import { BRAM_CHAINS, bramNodes } from '../demo/bram-rig.ts';
import { angleBetween, multiply } from '../math/quaternion.ts';
import type { Quaternion } from '../math/euler.ts';
import { puppetNodes } from '../testing/shot-literals.ts';
import { computeWorld, newWorldPose } from './pose.ts';
import { compileRig } from './rig.ts';
import type { Rig } from './rig.ts';
import { pairNames, partOf } from './sides.ts';
import { solidMesh } from './solid-mesh.ts';
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
  test.each([
    ['hand_l', 'left', 'hand_r'],
    ['Hand.R', 'right', 'Hand.L'],
    ['LeftArm', 'left', 'RightArm'],
    ['RThumb', 'right', 'LThumb'],
    ['l_hand', 'left', 'r_hand'],
    ['armL', 'left', 'armR'],
    ['rig:LeftFoot', 'left', 'rig:RightFoot'],
    ['leftHand', 'left', 'rightHand'],
    ['spine', 'centre', null],
    ['LowerBack', 'centre', null],
    ['collar', 'centre', null],
    ['pelvis', 'centre', null],
  ])('%s is %s of %s', (name, side, partner) => {
    const pairs = pairNames(partner === null ? [name] : [name, partner]);
    expect(pairs.get(name)).toEqual({ side, pair: partner ?? name });
  });

  test('a side without a partner in the rig has no pair', () => {
    expect(pairNames(['hand_l']).get('hand_l')).toEqual({ side: 'left', pair: null });
    expect(pairNames(['LowerBack', 'Spine']).get('LowerBack')!.side).toBe('centre');
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
  const rig = compileRig(bramNodes(['dough', 'tray', 'peel', 'camera']), BRAM_CHAINS);

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

  test('solids are closed meshes with normals outward', () => {
    for (const node of rig.nodes) {
      for (const solid of node.solids) {
        const { positions, normals, indices } = solidMesh(solid);
        expect(Math.max(...indices)).toBeLessThan(positions.length / 3);
        for (let i = 0; i < indices.length; i += 3) {
          const [a, b, c] = [0, 1, 2].map((k) =>
            Array.from(positions.subarray(indices[i + k]! * 3, indices[i + k]! * 3 + 3)),
          ) as [number[], number[], number[]];
          const u = b.map((value, axis) => value - a[axis]!);
          const v = c.map((value, axis) => value - a[axis]!);
          const cross = [
            u[1]! * v[2]! - u[2]! * v[1]!,
            u[2]! * v[0]! - u[0]! * v[2]!,
            u[0]! * v[1]! - u[1]! * v[0]!,
          ];
          const normal = Array.from(normals.subarray(indices[i]! * 3, indices[i]! * 3 + 3));
          const facing = cross.reduce((sum, value, axis) => sum + value * normal[axis]!, 0);
          if (Math.hypot(...cross) > 1e-6) expect(facing).toBeGreaterThan(0);
        }
      }
    }
  });
});

test('turns are composed parent first', () => {
  const rig = compileRig(puppetNodes(), []);
  const { turn } = worldOf(rig, { 'hips.ry': 90, 'arm_l.rz': -90 });
  expect(
    angleBetween(turn('arm_l'), multiply(turn('hips'), [0, 0, -Math.SQRT1_2, Math.SQRT1_2])),
  ).toBeLessThan(1e-9);
});
