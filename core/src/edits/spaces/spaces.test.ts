/** Relations on seeded rigs of every order, rest turn and scale: nothing jumps, nothing moves that should stay, and `three` says the same. */
import { describe, expect, test } from '@jest/globals';
import { Matrix4, Object3D, Quaternion, Vector3 } from 'three';
import { angleBetween } from '../../math/quaternion.ts';
import { placeIn, worldAt } from '../../evaluation/evaluation.ts';
import { curveOf, rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { randomRig } from '../../testing/random-rigs.ts';
import { apart, done, follower, last, targetsFor, whole } from '../../testing/spaces.ts';
import { choose } from '../../testing/shot-literals.ts';
import { readShotFile } from '../../interchange/shot-file/read-shot.ts';
import { writeShotFile } from '../../interchange/shot-file/write-shot.ts';
import { runEdit } from '../run-edit.ts';

const SEEDS = [1, 2, 3, 4, 5, 6, 7, 8];

describe.each(SEEDS)('seed %i', (seed) => {
  test.each(['parent', 'position', 'orientation', 'aim'])(
    'adding %s moves nothing on its frame, and goes along after it',
    (kind) => {
      const rig = randomRig(seed);
      const [a] = targetsFor(rig);
      const node = last(rig);
      const shot = done(rig, 'spaces.add', { kind, targets: [a], frame: 5 }, choose({ nodes: [node] }));
      expect(apart(rig, shot, node, [5])).toBeLessThan(1e-9);
      const stays = done(
        rig,
        'spaces.add',
        { kind, targets: [a], frame: 5, motion: 'stay' },
        choose({ nodes: [node] }),
      );
      expect(apart(rig, stays, node, whole)).toBeLessThan(0.1);
      expect(readShotFile(writeShotFile(shot)).relations).toEqual(shot.relations);
    },
  );

  test('switching moves nothing at the switch; a switch that is moved moves nothing at all; matched, it moves as it did', () => {
    const { shot, node, relation } = follower(seed, { motion: 'stay' });
    const switched = done(shot, 'spaces.switch', { relation: relation.id, frame: 11, to: 1 });
    expect(apart(shot, switched, node, [0, 5, 10, 11, 13, 24])).toBeLessThan(1e-6);
    expect([...curveOf(switched, null, relation.switch!).times]).toEqual([0, 11]);
    for (const frame of [14, 8]) {
      const moved = done(switched, 'spaces.moveSwitch', { relation: relation.id, from: 11, frame });
      expect([...curveOf(moved, null, relation.switch!).times]).toEqual([0, frame]);
      expect(apart(switched, moved, node, whole)).toBeLessThan(1e-6);
    }
    // One that goes along, with channels that have no keys: what lies ahead of the switch stays.
    const along = follower(seed);
    const over = done(along.shot, 'spaces.switch', { relation: along.relation.id, frame: 11, to: 1 });
    expect(apart(along.shot, over, node, [0, 3, 5, 8, 10, 11])).toBeLessThan(1e-6);
    const matched = done(
      shot,
      'spaces.match',
      { relation: relation.id, to: 2, space: 0.5, turn: 0.1 },
      choose({ range: { start: 6, end: 17 } }),
    );
    expect(apart(shot, matched, node, whole)).toBeLessThan(0.1);
    expect(apart(shot, matched, node, [6, 7, 13, 17])).toBeLessThan(1e-6);
  });

  test('removed or baked, it moves as it did, between frames too; no angle jumps', () => {
    const { shot, node, relation } = follower(seed);
    const switched = done(shot, 'spaces.switch', { relation: relation.id, frame: 11, to: 1 });
    const removed = done(shot, 'spaces.remove', { relation: relation.id, space: 1, turn: 0.2 });
    expect(removed.relations).toEqual([]);
    expect(removed.nodes.find(({ id }) => id === node)!.channels).toEqual([
      'tx',
      'ty',
      'tz',
      'rx',
      'ry',
      'rz',
    ]);
    expect(
      apart(
        shot,
        removed,
        node,
        Array.from({ length: 121 }, (_, i) => i / 5),
      ),
    ).toBeLessThan(0.1);
    const baked = done(switched, 'spaces.bake', { keys: 'every' }, choose({ nodes: [node] }));
    expect(apart(switched, baked, node, whole)).toBeLessThan(1e-6);
    for (const name of ['rx', 'ry', 'rz']) {
      const { values, times } = curveOf(baked, null, `${node}.${name}`);
      const steps = values
        .slice(1)
        .map((value, i) => Math.abs(value - values[i]!) / (times[i + 1]! - times[i]!));
      expect(Math.max(...steps)).toBeLessThan(181);
    }
  });

  test('three’s attach keeps what a change of parent keeps', () => {
    const { rig, shot, node, a } = follower(seed, { motion: 'stay' });
    const world = worldAt(rig, 7);
    const at = (row: number) => {
      const object = new Object3D();
      new Matrix4()
        .fromArray(world.matrices, row * 16)
        .decompose(object.position, object.quaternion, object.scale);
      object.updateMatrixWorld(true);
      return object;
    };
    const [parent, child] = [at(rigOf(rig).indexOf(a)), at(rigOf(rig).indexOf(node))];
    parent.attach(child);
    parent.updateMatrixWorld(true);
    const place = new Vector3().setFromMatrixPosition(child.matrixWorld);
    const ours = placeIn(worldAt(shot, 7), rigOf(shot).indexOf(node));
    expect(Math.hypot(place.x - ours[0], place.y - ours[1], place.z - ours[2])).toBeLessThan(0.1);
  });

  test('three’s lookAt turns as an aim does', () => {
    const rig = randomRig(seed);
    const [a] = targetsFor(rig);
    const node = last(rig);
    const shot = done(
      rig,
      'spaces.add',
      { kind: 'aim', targets: [a], frame: 0, keep: false },
      choose({ nodes: [node] }),
    );
    const still = {
      ...shot,
      curves: shot.curves.map((entries, row) =>
        shot.nodes[row]!.id === node
          ? { tx: entries!['tx']!, ty: entries!['ty']!, tz: entries!['tz']! }
          : entries,
      ),
    };
    const pose = worldAt(still, 9);
    const row = rigOf(still).indexOf(node);
    const [from, to] = [placeIn(pose, row), placeIn(pose, rigOf(still).indexOf(a))];
    const object = new Object3D();
    object.position.set(...from);
    object.lookAt(new Vector3(...to));
    const turn = new Quaternion().copy(object.quaternion);
    // Rest turns do not count: the control points, whatever its rest.
    expect(angleBetween(turn.toArray(), pose.turns.subarray(row * 4, row * 4 + 4))).toBeLessThan(1e-4);
  });

  test('a parent control changes nothing until it is moved; dissolved, the motion stays', () => {
    const rig = randomRig(seed);
    const node = last(rig);
    const parented = done(
      rig,
      'spaces.addParent',
      { name: 'lift', pivot: 'place', x: 30, y: 4, z: -9, frame: 3 },
      choose({ nodes: [node] }),
    );
    expect(apart(rig, parented, node, whole)).toBeLessThan(1e-9);
    const turned = done(parented, 'keys.add', { frame: 0 }, choose({ channels: ['lift.rz'] }));
    const moved = done(turned, 'keys.setValue', { value: 8 }, choose({ channels: ['lift.rz'] }));
    expect(apart(rig, moved, node, [12])).toBeGreaterThan(0.1);
    const dissolved = done(moved, 'spaces.dissolve', { control: 'lift' });
    expect(dissolved.nodes.map(({ id }) => id)).toEqual(rig.nodes.map(({ id }) => id));
    expect(apart(moved, dissolved, node, whole)).toBeLessThan(0.1);
  });
});

describe('what cannot be', () => {
  const rig = randomRig(3);
  const [a] = targetsFor(rig);
  const node = last(rig);
  const code = (edit: string, options: object, of: Shot = rig, nodes: readonly string[] = [node]) =>
    runEdit(edit, of, choose({ nodes }), edit === 'spaces.add' ? { frame: 0, ...options } : options).report
      .findings[0]?.code;

  test('is refused with a sentence', () => {
    expect(code('spaces.add', {})).toBe('noTargets');
    expect(code('spaces.add', { targets: ['nobody'] })).toBe('unknownNode');
    expect(code('spaces.add', { targets: [node] })).toBe('onlyTargets');
    const one = done(rig, 'spaces.add', { targets: [a], frame: 0 }, choose({ nodes: [node] }));
    expect(code('spaces.add', { targets: ['world'] }, one)).toBe('alreadyHeld');
    expect(code('spaces.add', { targets: [node] }, one, [a])).toBe('circle');
    expect(code('spaces.switch', { relation: 'relation-1', frame: 4, to: 1 }, one)).toBe('noSwitch');
    const { shot, relation } = follower(3);
    expect(code('spaces.switch', { relation: relation.id, frame: 400, to: 1 }, shot)).toBe('switchOutside');
    expect(code('spaces.switch', { relation: relation.id, frame: 4, to: 9 }, shot)).toBe('noTarget');
    expect(code('spaces.moveSwitch', { relation: relation.id, from: 3, frame: 9 }, shot)).toBe(
      'noSwitchThere',
    );
    expect(code('spaces.match', { relation: 'gone' }, shot)).toBe('unknownRelation');
    expect(code('spaces.bake', {}, rig)).toBe('nothingHolds');
    expect(code('spaces.addGoals', {}, rig)).toBe('noLimbs');
    expect(code('spaces.steady', {}, rig)).toBe('noCamera');
  });
});

describe('settings of a relation', () => {
  const rig = randomRig(4);
  const [a] = targetsFor(rig);
  const node = last(rig);
  const row = rigOf(rig).indexOf(node);
  const placed = (shot: Shot, frame: number) => placeIn(worldAt(shot, frame), rigOf(shot).indexOf(node));

  test('a place is held along some axes of the world, and along the others it is its own', () => {
    const held = done(
      rig,
      'spaces.add',
      { kind: 'position', targets: [a], frame: 0 },
      choose({ nodes: [node] }),
    );
    const id = held.relations[0]!.id;
    const part = done(held, 'spaces.set', { relation: id, settings: { y: false }, frame: 0 });
    const [own, all, some] = [placed(rig, 15), placed(held, 15), placed(part, 15)];
    expect(some[1]).toBeCloseTo(own[1], 9);
    expect([some[0], some[2]]).toEqual([all[0], all[2]]);
    expect(Math.abs(all[1] - own[1])).toBeGreaterThan(0.1);
  });

  test('a place is followed without the turn, and the turn without the place', () => {
    const held = done(rig, 'spaces.add', { targets: [a], frame: 0 }, choose({ nodes: [node] }));
    const id = held.relations[0]!.id;
    const turned = (shot: Shot) => worldAt(shot, 15).turns.slice(row * 4, row * 4 + 4);
    const moves = done(held, 'spaces.set', { relation: id, settings: { turns: false }, frame: 0 });
    expect(angleBetween(turned(moves), turned(rig))).toBeLessThan(1e-6);
    placed(moves, 15).forEach((value, axis) => expect(value).toBeCloseTo(placed(held, 15)[axis]!, 9));
    const turns = done(held, 'spaces.set', { relation: id, settings: { moves: false }, frame: 0 });
    expect(angleBetween(turned(turns), turned(held))).toBeLessThan(1e-6);
    placed(turns, 15).forEach((value, axis) => expect(value).toBeCloseTo(placed(rig, 15)[axis]!, 9));
  });
});
