/** A motion that is kept: under uneven scales, under passes, with as few keys as it has, and above a limb. */
import { describe, expect, test } from '@jest/globals';
import { angleBetween } from '../../math/quaternion.ts';
import { AT_REST } from '../../rig/node.ts';
import type { Node } from '../../rig/node.ts';
import { reachOf } from '../../rig/relations/reach.ts';
import { NO_OFFSET } from '../../rig/relations/relation.ts';
import type { Relation } from '../../rig/relations/relation.ts';
import { placeIn, worldAt, worldsOver } from '../../evaluation/evaluation.ts';
import { constantCurve, curveOf, newShot, rigOf, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { choose, curve, filter, pass } from '../../testing/shot-literals.ts';
import { apart, done, follower, whole } from '../../testing/spaces.ts';
import { runEdit } from '../run-edit.ts';

const RATE = { numerator: 24, denominator: 1 };
const TRANSFORM = ['tx', 'ty', 'tz', 'rx', 'ry', 'rz'];

/** Greatest distance of the origins, cm, and angle, degrees: what channels can keep where what carries them is sheared. */
function astray(before: Shot, after: Shot, node: string, frames: readonly number[]): [number, number] {
  const found = frames.map((frame) => {
    const [a, b] = [before, after].map((shot) => {
      const row = rigOf(shot).indexOf(node);
      const pose = worldAt(shot, frame);
      return { place: placeIn(pose, row), turn: pose.turns.slice(row * 4, row * 4 + 4) };
    });
    return [
      Math.hypot(...a!.place.map((value, axis) => value - b!.place[axis]!)),
      angleBetween(a!.turn, b!.turn),
    ] as const;
  });
  return [Math.max(...found.map(([far]) => far)), Math.max(...found.map(([, turned]) => turned))];
}

describe.each([1, 2, 3, 4, 5, 6])('seed %i', (seed) => {
  test('where what carries it is scaled unevenly, place and orientation are kept', () => {
    const { shot, node, relation } = follower(seed, { motion: 'stay' }, true);
    expect(shot.nodes[0]!.rest.scale[0]).not.toBe(shot.nodes[0]!.rest.scale[1]);
    const switched = done(shot, 'spaces.switch', { relation: relation.id, frame: 11, to: 1 });
    const matched = done(
      switched,
      'spaces.match',
      { relation: relation.id, to: 2, space: 0.5, turn: 0.1 },
      choose({ range: { start: 13, end: 20 } }),
    );
    const baked = done(matched, 'spaces.bake', { keys: 'every' }, choose({ nodes: [node] }));
    const [placed, turned] = astray(shot, switched, node, [0, 10, 11]);
    expect([placed < 1e-6, turned < 1e-5]).toEqual([true, true]);
    const [far, wide] = astray(switched, matched, node, [13, 16.4, 20]);
    expect([far < 0.05, wide < 0.1]).toEqual([true, true]);
    const [off, round] = astray(matched, baked, node, whole);
    expect([off < 1e-6, round < 1e-5]).toEqual([true, true]);
  });

  test.each(['channels', 'orientations'] as const)(
    'under a pass whose rotations are %s it stays as well',
    (rotations) => {
      const { shot: bare, node, relation } = follower(seed, { motion: 'stay' });
      const row = bare.nodes.findIndex(({ id }) => id === node);
      const own = { ty: curve([0, 0, 9, 6, 24, -3]), ry: curve([0, 4, 13, 30]), rz: curve([0, -12, 24, 20]) };
      const curves = bare.nodes.map((_, i) => (i === row ? own : undefined));
      const over = pass('lift', { rotations, members: [node], curves, weight: constantCurve(0.7) });
      const shot = { ...bare, layers: [over] };
      const switched = done(shot, 'spaces.switch', { relation: relation.id, frame: 11, to: 1 });
      expect(apart(shot, switched, node, [0, 5, 10, 11])).toBeLessThan(1e-6);
      const baked = done(switched, 'spaces.bake', { keys: 'every' }, choose({ nodes: [node] }));
      expect(apart(switched, baked, node, whole)).toBeLessThan(1e-6);
      expect(baked.layers).toEqual(shot.layers);
    },
  );

  test('worlds over a range are those of single frames, to the bit', () => {
    const { shot } = follower(seed);
    const frames = Float64Array.from({ length: 121 }, (_, i) => i / 5);
    let i = 0;
    for (const { pose } of worldsOver(shot, frames)) {
      expect(pose.matrices).toEqual(worldAt(shot, frames[i]!).matrices);
      i += 1;
    }
    expect(i).toBe(121);
  });
});

test('a filter that shows other frames over it is said, and nothing is written', () => {
  const { shot, node, relation } = follower(2, { motion: 'stay' });
  const late = { ...shot, layers: [filter('shift', [node], { frames: 3 })] };
  const { shot: after, report } = runEdit('spaces.switch', late, choose({}), {
    relation: relation.id,
    frame: 11,
    to: 1,
  });
  expect([after, report.findings[0]?.code]).toEqual([late, 'layerOverSpace']);
});

test('what repeats becomes keys first, so that it goes on repeating wherever nothing was asked; that is said', () => {
  const { shot: bare, node, relation } = follower(2);
  const swing = { ...curve([0, 0, 4, 20, 8, 0]), leadOut: 'loop' as const };
  const shot = withCurves(bare, null, new Map([[`${node}.tx`, swing]]));
  const { shot: after, report } = runEdit('spaces.switch', shot, choose({}), {
    relation: relation.id,
    frame: 18,
    to: 1,
  });
  expect(apart(shot, after, node, whole.slice(0, 19))).toBeLessThan(1e-6);
  expect(report.findings.map(({ code }) => code)).toContain('repeatsBaked');
});

test('what is scaled to nothing carries nothing: that is said, and nothing is written', () => {
  const { shot, relation } = follower(4, { motion: 'stay' });
  const flat = {
    ...shot,
    nodes: shot.nodes.map((one) =>
      one.id === relation.targets[1]!.node
        ? { ...one, rest: { ...one.rest, scale: [0, 0, 0] as const } }
        : one,
    ),
  };
  const options = { relation: relation.id, frame: 11, to: 1 };
  const { shot: after, report } = runEdit('spaces.switch', flat, choose({}), options);
  expect([after, report.findings[0]?.code]).toEqual([flat, 'flatSpace']);
});

test('a weight beyond 0 … 1 counts as 0 or 1', () => {
  const { shot, node, relation } = follower(5);
  const weighed = (value: number) =>
    withCurves(shot, null, new Map([[relation.weight!, constantCurve(value)]]));
  expect(apart(weighed(1), weighed(3.5), node, whole)).toBe(0);
  expect(apart(weighed(0), weighed(-2), node, whole)).toBe(0);
  expect(apart(weighed(0), weighed(1), node, whole)).toBeGreaterThan(0.1);
});

test('matched under a locked pass, the pass stays and so does the motion', () => {
  const { shot: bare, node, relation } = follower(6, { motion: 'stay' });
  const row = bare.nodes.findIndex(({ id }) => id === node);
  const curves = bare.nodes.map((_, i) => (i === row ? { ty: curve([0, 0, 9, 6, 24, -3]) } : undefined));
  const shot = { ...bare, layers: [pass('lift', { members: [node], curves, locked: true })] };
  const matched = done(
    shot,
    'spaces.match',
    { relation: relation.id, to: 2, space: 0.5, turn: 0.1 },
    choose({ range: { start: 6, end: 17 }, layer: 'lift' }),
  );
  expect(matched.layers).toEqual(shot.layers);
  expect(apart(shot, matched, node, whole)).toBeLessThan(0.1);
});

const node = (id: string, parent: string | null, more: Partial<Node> = {}): Node => ({
  ...{ id, parent, kind: 'control', rest: AT_REST, order: 'xyz', channels: TRANSFORM },
  ...{ side: 'centre', pair: null, part: 'extra', character: null, solids: [] },
  ...more,
});

test('what moves as another does needs no more keys in the world than that one has, and two at the ends', () => {
  const nodes = [node('leader', null), node('rider', null)];
  const bare = newShot('Rider', nodes, [], RATE, { start: 0, end: 60 });
  const moving = TRANSFORM.map(
    (name, i) => [`leader.${name}`, curve([0, i, 11, 30 - i, 23.5, -8, 37, 14 + i, 60, 0])] as const,
  );
  const ride = done(
    withCurves(bare, null, new Map(moving)),
    'spaces.add',
    { targets: ['leader', 'world'], frame: 0, keep: false },
    choose({ nodes: ['rider'] }),
  );
  const matched = done(
    ride,
    'spaces.match',
    { relation: ride.relations[0]!.id, to: 1, space: 1, turn: 0.1 },
    choose({ range: { start: 5, end: 50 } }),
  );
  for (const name of TRANSFORM) {
    const led = curveOf(matched, null, `leader.${name}`).times.filter((time) => time >= 5 && time <= 50);
    const keyed = curveOf(matched, null, `rider.${name}`).times.filter((time) => time >= 5 && time <= 50);
    expect(keyed.length).toBeLessThanOrEqual(led.length + 2);
  }
  const [far] = astray(
    ride,
    matched,
    'rider',
    Array.from({ length: 226 }, (_, i) => 5 + i / 5),
  );
  expect(far).toBeLessThan(0.1);
});

test('a limb whose root follows something starts from there', () => {
  const at = (translation: [number, number, number]) => ({ rest: { ...AT_REST, translation } });
  const nodes = [
    node('cart', null, at([0, 90, 0])),
    node('upper', null, at([0, 100, 0])),
    node('lower', 'upper', at([20, 0, 0])),
    node('hand', 'lower', at([18, 0, 0])),
    node('goal', null, { ...at([30, 108, 4]), kind: 'goal', channels: [...TRANSFORM, 'ik'] }),
    node('pole', null, at([15, 100, -40])),
  ];
  const limb = reachOf({
    ...{ id: 'arm', root: 'upper', middle: 'lower', end: 'hand', target: 'goal', pole: 'pole' },
    ...{ blend: 'goal.ik', tip: null },
  });
  const lowered = [...NO_OFFSET.matrix];
  lowered[13] = -90;
  const bare = newShot('Cart', nodes, [limb], RATE, { start: 0, end: 24 });
  const shot = withCurves(
    bare,
    null,
    new Map([
      ['goal.ik', constantCurve(1)],
      ['cart.ty', curve([0, 0, 12, 9])],
      ['cart.rz', curve([0, 0, 24, 25])],
    ]),
  );
  const carried: Relation = {
    ...{ id: 'carried', kind: 'parent', node: 'upper', weight: null, switch: null, settings: {} },
    targets: [{ node: 'cart', offset: { ...NO_OFFSET, matrix: lowered }, share: null }],
  };
  const led = { ...shot, relations: [...shot.relations, carried] };
  const row = (id: string) => rigOf(led).indexOf(id);
  for (const frame of [0, 7.3, 19]) {
    const [was, is] = [worldAt(shot, frame), worldAt(led, frame)];
    const way = (id: string) =>
      Math.hypot(...placeIn(is, row(id)).map((value, axis) => value - placeIn(was, row(id))[axis]!));
    expect(way('hand')).toBeLessThan(1e-9);
    if (frame > 0) expect(way('upper')).toBeGreaterThan(0.5);
  }
});

test('keys outside the shot are kept, and named', () => {
  const { shot: bare, node } = follower(2, { motion: 'stay' });
  const shot = { ...bare, range: { start: 6, end: 18 } };
  for (const keys of ['needed', 'every', 'existing']) {
    const { shot: baked, report } = runEdit('spaces.bake', shot, choose({ nodes: [node] }), { keys });
    const [placed, turned] = astray(shot, baked, node, [6, 11, 13.4, 18]);
    expect([placed < 0.1, turned < 0.3]).toEqual([true, true]);
    const { times, values } = curveOf(baked, null, `${node}.ty`);
    const was = curveOf(shot, null, `${node}.ty`);
    for (const at of [0, was.times.length - 1]) {
      const row = times.indexOf(was.times[at]!);
      expect([keys, values[row]]).toEqual([keys, was.values[at]]);
    }
    expect(report.findings.map(({ code }) => code)).toContain('outsideStays');
  }
});
