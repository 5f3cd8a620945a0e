/** What moves with what: held against moving it and looking. */
import { describe, expect, test } from '@jest/globals';
import { nightRound } from '../demo/night-round.ts';
import { puppet, puppetNodes } from '../testing/shot-literals.ts';
import { rigOf } from '../document/shot.ts';
import { bodyPoints, movedBy, partFor } from './influence.ts';
import type { Node } from './node.ts';
import { computeWorld, newWorldPose } from './pose.ts';
import { compileRig } from './rig.ts';

describe('what a control moves', () => {
  const shot = nightRound();
  const rig = rigOf(shot);
  const names = rig.nodes.filter(({ channels }) => channels.length > 0).map(({ id }) => id);

  test.each(names)('%s: every node whose world changes is among those that are said to move', (name) => {
    const i = rig.indexOf(name);
    const said = movedBy(rig, [i]);
    const pose = (by: number) => {
      // Limbs half under IK, so that both ways count.
      const values = rig.channels.map(
        ({ node, rest, name: channel }) => (channel === 'ik' ? 0.5 : rest) + (node === i ? by : 0),
      );
      const world = newWorldPose(rig);
      computeWorld(rig, values, world);
      return world.matrices;
    };
    const [at, away] = [pose(0), pose(0.37)];
    rig.nodes.forEach(({ id }, k) => {
      const changed = Array.from({ length: 16 }, (_, m) =>
        Math.abs(at[k * 16 + m]! - away[k * 16 + m]!),
      ).some((gap) => gap > 1e-9);
      if (changed) expect([id, said[k]]).toEqual([id, 1]);
    });
  });

  test('no more than depends on it: a goal moves its own limb, its switch too, and nothing beside', () => {
    const moved = (...names: string[]) => {
      const said = movedBy(
        rig,
        names.map((name) => rig.indexOf(name)),
      );
      return new Set(rig.nodes.filter((_, k) => said[k] === 1).map(({ id }) => id));
    };
    for (const [goal, limb, other] of [
      ['hand_goal_l', ['upperarm_l', 'forearm_l', 'hand_l'], 'upperarm_r'],
      ['foot_goal_r', ['thigh_r', 'shin_r', 'foot_r'], 'thigh_l'],
    ] as const) {
      const all = moved(goal);
      for (const joint of limb) expect([joint, all.has(joint)]).toEqual([joint, true]);
      for (const still of [other, 'hips', 'head', 'root'])
        expect([still, all.has(still)]).toEqual([still, false]);
    }
    const tail = moved('head');
    expect(tail.has('chest')).toBe(false);
    expect([...moved()]).toEqual([]);
  });

  test.each(rig.nodes.map(({ id }) => id))(
    '%s lies in its part of the rig where it lies in all of it',
    (id) => {
      const i = rig.indexOf(id);
      const part = partFor(rig, [i]);
      const values = rig.channels.map(
        ({ rest, name }, c) => (name === 'ik' ? 0.5 : rest) + 0.21 * Math.sin(c),
      );
      const [all, some] = [newWorldPose(rig), newWorldPose(rig)];
      computeWorld(rig, values, all);
      // Channels of others are not asked for.
      const asked = new Set(part.channels);
      const partly = values.map((value, c) => (asked.has(c) ? value : NaN));
      computeWorld(rig, partly, some, null, part.order);
      expect(some.matrices.subarray(i * 16, i * 16 + 16)).toEqual(all.matrices.subarray(i * 16, i * 16 + 16));
    },
  );

  test('a part holds what moves a node, and leaves out what is beside it', () => {
    const moved = rig.nodes.map((_, k) => movedBy(rig, [k]));
    const partOf = (i: number) => new Set(partFor(rig, [i]).order);
    rig.nodes.forEach(({ id }, i) => {
      const part = partOf(i);
      const missing = rig.nodes.filter((_, k) => moved[k]![i] === 1 && !part.has(k));
      expect([id, missing.map((one) => one.id)]).toEqual([id, []]);
    });
    const leftArm = partOf(rig.indexOf('hand_l'));
    for (const beside of ['hand_r', 'upperarm_r', 'thigh_l', 'head'])
      expect([beside, leftArm.has(rig.indexOf(beside))]).toEqual([beside, false]);
  });

  test('a hand does not move the hips, the root moves all of him', () => {
    expect(movedBy(rig, [rig.indexOf('hand_l')])[rig.indexOf('hips')]).toBe(0);
    const all = movedBy(rig, [rig.indexOf('root')]);
    rig.nodes.forEach(({ character }, k) => character === 'bram' && expect(all[k]).toBe(1));
  });
});

test('points of a body: each joint, and the far end of those that nothing goes on from', () => {
  const shot = nightRound();
  const rig = rigOf(shot);
  const ends = bodyPoints(rig).filter(({ at }) => at.some((part) => part !== 0));
  const names = ends.map(({ node }) => rig.nodes[node]!.id);
  expect(names).toContain('index_l');
  expect(names).toContain('toe_r');
  expect(names).not.toContain('hips');
  expect(bodyPoints(rigOf(puppet()))).toHaveLength(5);
});

test('the far end of a leaf is what lies farthest in its solids', () => {
  const [hips, ...rest] = puppetNodes();
  const withSolids = (solids: Node['solids']) => {
    const last = rest[rest.length - 1]!;
    const nodes = [hips!, ...rest.slice(0, -1), { ...last, solids }];
    const rig = compileRig(nodes, []);
    return bodyPoints(rig).filter(({ node }) => node === nodes.length - 1);
  };
  const box = { kind: 'box', centre: [1, -4, 0], size: [2, 6, 1], colour: 'skin' } as const;
  expect(withSolids([box]).map(({ at }) => at)).toEqual([
    [0, 0, 0],
    [1, -7, 0],
  ]);
  const ball = { kind: 'ellipsoid', centre: [3, 0, 0], radii: [2, 8, 1], colour: 'skin' } as const;
  expect(Math.abs(withSolids([ball])[1]!.at[1])).toBe(8);
  const stick = {
    kind: 'capsule',
    from: [0, 1, 0],
    to: [0, 0, -9.5],
    radiusFrom: 1,
    radiusTo: 1,
    colour: 'skin',
  } as const;
  expect(withSolids([ball, stick])[1]!.at).toEqual([0, 0, -9.5]);
  expect(withSolids([])).toHaveLength(1);
});
