/** What moves with what: held against moving it and looking. */
import { describe, expect, test } from '@jest/globals';
import { nightRound } from '../demo/night-round.ts';
import { puppet } from '../testing/shot-literals.ts';
import { rigOf } from '../shot/shot.ts';
import { bodyPoints, movedBy } from './influence.ts';
import { computeWorld, newWorldPose } from './pose.ts';

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
