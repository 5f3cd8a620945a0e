/** Motion on another skeleton: the same places where only axes, orders and names differ; the same directions where bones are longer. */
import { finish } from '../base/work.ts';
import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import { seededRandom } from '../base/random.ts';
import type { FrameRange } from '../base/frame-range.ts';
import { partOf } from '../curve/part.ts';
import type { Curve } from '../curve/curve.ts';
import { nightRound } from '../demo/night-round.ts';
import { nibNodes } from '../demo/nib-rig.ts';
import { readBvh } from '../interchange/bvh/read-bvh.ts';
import { curve } from '../testing/shot-literals.ts';
import { evaluate } from '../curve/evaluate.ts';
import { EULER_ORDERS } from '../math/euler.ts';
import type { Quaternion, Triple } from '../math/euler.ts';
import { angleBetween, conjugate, multiply, rotate, unit } from '../math/quaternion.ts';
import { AT_REST } from '../rig/node.ts';
import type { Node } from '../rig/node.ts';
import { placeIn, worldAt } from '../evaluation/evaluation.ts';
import { curvesIn, newShot, rigOf, withCurves } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { transferMotion } from './transfer.ts';
import { matchSkeletons } from './match.ts';
import { bonesOf, turnAbout } from '../rig/skeleton.ts';
import type { Bone, Skeleton } from '../rig/skeleton.ts';

const carriedOver = (...given: Parameters<typeof transferMotion>) => finish(transferMotion(...given));

const RANGE: FrameRange = { start: 300, end: 340 };
const walk = readBvh(readFileSync('/usr/share/assimp/models/BVH/01_01.bvh', 'utf8'), '01_01').shot;
const curvesOf = (shot: Shot, range: FrameRange): Map<string, Curve> =>
  new Map([...curvesIn(shot.curves, shot.nodes)].map(([id, curve]) => [id, partOf(curve, range)]));
const plain: Skeleton = { bones: bonesOf(walk.nodes), facing: 0 };

const shotOf = ({ bones }: Skeleton, curves: ReadonlyMap<string, Curve>): Shot => {
  const nodes = bones.map((bone): Node => ({
    ...bone,
    ...{ kind: 'joint', pair: null, part: 'extra', character: null, solids: [] },
    rest: { ...AT_REST, ...bone.rest },
  }));
  const bare = newShot(
    'Other',
    nodes,
    [],
    { numerator: 24, denominator: 1 },
    { start: 0, end: RANGE.end - RANGE.start },
  );
  return withCurves(bare, null, curves);
};
const still = shotOf(plain, curvesOf(walk, RANGE));

/** The same figure with axes and orders of angles of its own in each joint, turned about the upright and scaled, under other names. */
function reworked(seed: number, facing: number, size: number): Skeleton {
  const { next } = seededRandom(seed);
  const rig = rigOf(walk);
  const turned = turnAbout(facing);
  const own = walk.nodes.map((): Quaternion => unit([next() - 0.5, next() - 0.5, next() - 0.5, next()]));
  const worlds = walk.nodes.map((_, i) => unit(multiply(multiply(turned, rig.restTurns[i]!), own[i]!)));
  const bones = walk.nodes.map((node, i): Bone => {
    const parent = rig.parents[i]!;
    const carrier: Quaternion = parent < 0 ? [0, 0, 0, 1] : worlds[parent]!;
    const [p, q] = [parent < 0 ? [0, 0, 0] : rig.restPlaces[parent]!, rig.restPlaces[i]!];
    const way = rotate(turned, ...([0, 1, 2].map((axis) => size * (q[axis]! - p[axis]!)) as Triple));
    return {
      id: `x${seed}_${i * 7 + 3}`,
      parent: parent < 0 ? null : `x${seed}_${parent * 7 + 3}`,
      rest: {
        translation: rotate(conjugate(carrier), ...way),
        rotation: unit(multiply(conjugate(carrier), worlds[i]!)),
        scale: [1, 1, 1],
      },
      order: EULER_ORDERS[Math.floor(next() * 6)]!,
      side: node.side,
      channels: [...node.channels],
    };
  });
  return { bones, facing };
}

describe.each([1, 2, 3, 4, 5])('other axes, orders and names, seed %i (01_01.bvh)', (seed) => {
  const [facing, size] = [[0, 90, -137, 180, 33][seed - 1]!, [1, 0.5, 1.7, 1, 0.8][seed - 1]!];
  const other = reworked(seed, facing, size);
  const { pairs } = matchSkeletons(plain, other, 'structure');
  const { curves, pairs: carried, lacking } = carriedOver(plain, other, pairs, curvesOf(walk, RANGE), true);
  const shot = shotOf(other, curves);

  test('each joint goes where it went, turned and scaled as the figure is', () => {
    expect([pairs.length, lacking]).toEqual([walk.nodes.length, []]);
    const turned = turnAbout(facing);
    for (let frame = 0; frame <= 40; frame += 4) {
      const [was, is] = [worldAt(still, frame), worldAt(shot, frame)];
      walk.nodes.forEach((_, i) => {
        const place = rotate(turned, ...placeIn(was, i));
        placeIn(is, i).forEach((value, axis) =>
          expect(Math.abs(value - size * place[axis]!)).toBeLessThan(1e-6),
        );
      });
    }
  });

  test('between frames no farther than keys on each frame allow, and nothing turns the long way', () => {
    for (const [id, curve] of curves)
      if (/\.r[xyz]$/.test(id))
        for (let k = 1; k < curve.times.length; k += 1)
          expect(Math.abs(curve.values[k]! - curve.values[k - 1]!)).toBeLessThan(181);
    for (const one of carried)
      expect([one.turned < 1e-3, Math.abs(one.longer - 1) < 1e-6]).toEqual([true, true]);
  });
});

describe.each([1, 2, 3])('joints of the source that nothing stands for, seed %i', (seed) => {
  const { next } = seededRandom(seed);
  const wave = (size: number) =>
    curve([0, size * (next() - 0.5), 13, size * (next() - 0.5), 40, size * (next() - 0.5)]);
  const bone = (id: string, parent: string | null, more: Partial<Bone>): Bone => ({
    ...{ id, parent, side: 'centre', order: EULER_ORDERS[Math.floor(next() * 6)]! },
    ...{
      channels: ['rx', 'ry', 'rz'],
      rest: { translation: [0, 0, 0], rotation: [0, 0, 0, 1], scale: [1, 1, 1] },
    },
    ...more,
  });
  const turned = (): Quaternion => unit([next() - 0.5, next() - 0.5, next() - 0.5, next()]);
  // A root above the hips, which lies and stands elsewhere, and a twist joint in the left elbow: what hangs on them lies at rest as it lay.
  const [root, twist] = [turned(), turned()];
  const elbow = plain.bones.find(({ id }) => /LeftForeArm$/.test(id))!;
  const [hips] = plain.bones.filter(({ parent }) => parent === null);
  const lifted = { ...hips!, rest: { ...hips!.rest, translation: [3, 95, -4] as Triple } };
  const target = { ...plain, bones: plain.bones.map((one) => (one === hips ? lifted : one)) };
  const under = (one: Bone, parent: string, turn: Quaternion, place: Triple, size: number): Bone => ({
    ...one,
    parent,
    rest: {
      translation: rotate(
        conjugate(turn),
        ...(one.rest.translation.map((value, axis) => (value - place[axis]!) / size) as Triple),
      ),
      rotation: unit(multiply(conjugate(turn), one.rest.rotation)),
      scale: [1 / size, 1 / size, 1 / size],
    },
  });
  const stand: Triple = [7, 3, -11];
  const grown = 1.6;
  const more: Skeleton = {
    facing: 0,
    bones: [
      bone('ground', null, {
        channels: ['tx', 'ty', 'tz', 'rx', 'ry', 'rz'],
        rest: { translation: stand, rotation: root, scale: [grown, grown, grown] },
      }),
      bone('twist', elbow.parent, { rest: { ...elbow.rest, rotation: twist } }),
      ...plain.bones.map((one) =>
        one === hips
          ? under(lifted, 'ground', root, stand, grown)
          : one === elbow
            ? under(one, 'twist', twist, elbow.rest.translation, 1)
            : one,
      ),
    ],
  };
  const moving = new Map([
    ...curvesOf(walk, RANGE),
    ...['rx', 'ry', 'rz'].map((name) => [`twist.${name}`, wave(150)] as const),
    ...['rx', 'ry', 'rz'].map((name) => [`ground.${name}`, wave(200)] as const),
    ...['tx', 'ty', 'tz'].map((name) => [`ground.${name}`, wave(90)] as const),
  ]);

  test.each([
    ['turn and move', moving],
    ['turn', new Map([...moving].filter(([id]) => !id.startsWith('ground.t')))],
  ])('%s what is below them all the same: each joint goes where it went', (_, motion) => {
    const pairs = plain.bones.map(({ id }) => ({ source: id, target: id, how: 'name' as const }));
    const { curves, lacking, along } = carriedOver(more, target, pairs, motion, false);
    expect([lacking, [...along].sort()]).toEqual([[], ['ground', 'twist']]);
    const [full, is] = [shotOf(more, motion), shotOf(target, curves)];
    for (let frame = 0; frame <= 40; frame += 4) {
      const [was, now] = [worldAt(full, frame), worldAt(is, frame)];
      for (const { id } of plain.bones) {
        const place = placeIn(was, rigOf(full).indexOf(id));
        placeIn(now, rigOf(is).indexOf(id)).forEach((value, axis) =>
          expect(Math.abs(value - place[axis]!)).toBeLessThan(1e-6),
        );
      }
    }
  });
});

test('a limb that hangs elsewhere, on a joint farther up, turns as it turned', () => {
  const arm = plain.bones.find(({ id }) => /LeftArm$/.test(id))!;
  const hips = plain.bones.find(({ parent }) => parent === null)!;
  const rig = rigOf(still);
  const [from, to] = [hips, arm].map(({ id }) => rig.restPlaces[rig.indexOf(id)]!);
  const elsewhere: Skeleton = {
    ...plain,
    bones: plain.bones.map((one) =>
      one === arm
        ? {
            ...one,
            parent: hips.id,
            rest: { ...one.rest, translation: to!.map((value, axis) => value - from![axis]!) as Triple },
          }
        : one,
    ),
  };
  const pairs = plain.bones.map(({ id }) => ({ source: id, target: id, how: 'name' as const }));
  const own = curvesOf(walk, RANGE);
  const { curves, along } = carriedOver(plain, elsewhere, pairs, own, false);
  // What it hung on has a partner of its own: nothing is missing.
  expect(along).toEqual([]);
  const is = shotOf(elsewhere, curves);
  for (const frame of [0, 13, 28, 40]) {
    const turns = [still, is].map((shot) => {
      const row = rigOf(shot).indexOf(arm.id);
      return worldAt(shot, frame).turns.slice(4 * row, 4 * row + 4);
    });
    expect(angleBetween(turns[0]!, turns[1]!)).toBeLessThan(1e-5);
  }
});

test('onto the same skeleton the curves are the same objects', () => {
  const own = curvesOf(walk, RANGE);
  const { pairs } = matchSkeletons(plain, plain, 'names');
  const { curves } = carriedOver(plain, plain, pairs, own, true);
  expect(curves.size).toBe(own.size);
  for (const [id, curve] of own) expect(curves.get(id)).toBe(curve);
});

test('where only the order of the angles is another the joints turn as they turned', () => {
  const other: Skeleton = {
    ...plain,
    bones: plain.bones.map((bone, i) => ({ ...bone, order: EULER_ORDERS[i % 6]! })),
  };
  const { pairs } = matchSkeletons(plain, other, 'names');
  const { curves } = carriedOver(plain, other, pairs, curvesOf(walk, RANGE), false);
  for (const frame of [0, 7, 31]) {
    const [was, is] = [still, shotOf(other, curves)].map((shot) => worldAt(shot, frame).turns);
    for (const [k, value] of was!.entries()) expect(Math.abs(is![k]!)).toBeCloseTo(Math.abs(value), 6);
  }
});

test('onto Nib, whose bones are shorter, each bone points where Bram’s does', () => {
  const bram = nightRound();
  const body = bram.nodes.filter(({ part, character }) => part !== 'prop' && character === 'bram');
  const [from, to]: [Skeleton, Skeleton] = [
    { bones: bonesOf(body), facing: 0 },
    { bones: bonesOf(nibNodes()), facing: 0 },
  ];
  const { pairs } = matchSkeletons(from, to, 'both');
  const range = { start: 0, end: 16 };
  const free = ({ bones }: Skeleton, curves: ReadonlyMap<string, Curve>) =>
    shotOf({ bones, facing: 0 }, curves);
  const own = new Map(
    [...curvesIn(bram.curves, bram.nodes)]
      .filter(([id]) => body.some((node) => id.startsWith(`${node.id}.`)))
      .map(([id, curve]) => [id, partOf(curve, range)]),
  );
  const { curves, pairs: carried } = carriedOver(from, to, pairs, own, true);
  const [was, is] = [free(from, own), free(to, curves)];
  const partner = new Map(pairs.map(({ source, target }) => [source, target]));
  const bone = (shot: Shot, frame: number, a: string, b: string) => {
    const pose = worldAt(shot, frame);
    const [p, q] = [a, b].map((id) => placeIn(pose, rigOf(shot).indexOf(id)));
    const way = q!.map((value, axis) => value - p![axis]!);
    const length = Math.hypot(...way);
    return way.map((part) => part / length);
  };
  const limbs = [
    ['upperarm_l', 'forearm_l'],
    ['forearm_r', 'hand_r'],
    ['thigh_l', 'shin_l'],
    ['shin_r', 'foot_r'],
    ['neck', 'head'],
  ] as const;
  for (const frame of [0, 5, 11])
    for (const [a, b] of limbs) {
      const [p, q] = [bone(was, frame, a, b), bone(is, frame, partner.get(a)!, partner.get(b)!)];
      p.forEach((value, axis) => expect([a, Math.abs(value - q[axis]!) < 1e-6]).toEqual([a, true]));
    }
  // That his bones are of another length is said.
  expect(carried.some(({ longer }) => Math.abs(longer - 1) > 0.05)).toBe(true);
});

test('a joint that turns twice round goes on turning on other axes', () => {
  const bone = (id: string, more: Partial<Bone> = {}): Bone => ({
    ...{ id, parent: null, side: 'centre', order: 'xyz', channels: ['rx', 'ry', 'rz'] },
    rest: { translation: [0, 0, 0], rotation: [0, 0, 0, 1], scale: [1, 1, 1] },
    ...more,
  });
  const from: Skeleton = { bones: [bone('wheel')], facing: 0 };
  const to: Skeleton = {
    bones: [
      bone('disc', {
        order: 'zyx',
        rest: { translation: [0, 0, 0], rotation: unit([0.2, -0.5, 0.1, 0.8]), scale: [1, 1, 1] },
      }),
    ],
    facing: 40,
  };
  const spin = curve([0, 0, 40, 720], 'linear');
  const { pairs } = matchSkeletons(from, to, 'structure');
  const { curves } = carriedOver(from, to, pairs, new Map([['wheel.rz', spin]]), true);
  const at = (frame: number) =>
    ['rx', 'ry', 'rz'].map((name) => evaluate(curves.get(`disc.${name}`)!, frame));
  for (let frame = 1; frame <= 40; frame += 1) {
    const [was, is] = [at(frame - 1), at(frame)];
    expect(Math.max(...was.map((value, axis) => Math.abs(is[axis]! - value)))).toBeLessThan(120);
  }
});
