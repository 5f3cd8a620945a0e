/** How much larger one figure is than another: by what is paired of them, and by nothing that is no body. */
import { finish } from '../base/work.ts';
import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import { seededRandom } from '../base/random.ts';
import { nightRound } from '../demo/night-round.ts';
import { readBvh } from '../interchange/bvh/read-bvh.ts';
import { AT_REST } from '../rig/node.ts';
import { bonesOf, measured } from '../rig/skeleton.ts';
import type { Bone, Skeleton } from '../rig/skeleton.ts';
import { skeletonOf } from './skeletons.ts';
import { matchSkeletons } from './match.ts';
import type { Pair } from './match.ts';
import { proportionOf } from './proportion.ts';
import { transferMotion } from './transfer.ts';
import { curve } from '../testing/shot-literals.ts';
import { evaluate } from '../curve/evaluate.ts';

const carriedOver = (...given: Parameters<typeof transferMotion>) => finish(transferMotion(...given));

const walk = readBvh(readFileSync('/usr/share/assimp/models/BVH/01_01.bvh', 'utf8'), '01_01').shot;
const captured: Skeleton = { bones: bonesOf(walk.nodes), facing: 0 };
const alike = (of: Skeleton): Pair[] => of.bones.map(({ id }) => ({ source: id, target: id, how: 'name' }));
const bone = (id: string, parent: string | null, translation: [number, number, number]): Bone => ({
  ...{ id, parent, order: 'xyz', side: 'centre', channels: ['tx', 'ty', 'tz', 'rx', 'ry', 'rz'] },
  rest: { ...AT_REST, translation, rotation: [0, 0, 0, 1], scale: [1, 1, 1] },
});
const ratio = (from: Skeleton, to: Skeleton, pairs = alike(from)) =>
  proportionOf(measured(from), measured(to), pairs);

/** The figure with legs so many times as long, a body of another size, and things that are no body. */
function reshaped(of: Skeleton, legs: number, body: number, more: readonly Bone[] = []): Skeleton {
  const isLeg = (id: string) => /(Leg|Foot|Toe)/.test(id);
  const bones = of.bones.map((one) => {
    const size = isLeg(one.id) ? legs : body;
    const translation = one.rest.translation.map((value) => value * size) as [number, number, number];
    return { ...one, rest: { ...one.rest, translation } };
  });
  return { ...of, bones: [...bones, ...more] };
}

describe('the proportion of two figures', () => {
  test('is that of their legs, whatever their bodies, banners, trays and cameras', () => {
    const { next } = seededRandom(5);
    for (let i = 0; i < 20; i += 1) {
      const [legs, body] = [0.4 + 2 * next(), 0.4 + 2 * next()];
      const props = [
        bone('banner', captured.bones[0]!.id, [0, 300 * next(), 0]),
        bone('tray', null, [900 * next(), 0, 0]),
      ];
      expect(ratio(captured, reshaped(captured, legs, body, props))).toBeCloseTo(legs, 9);
      expect(
        ratio(reshaped(captured, 1, 1, props), reshaped(captured, legs, body), alike(captured)),
      ).toBeCloseTo(legs, 9);
    }
  });

  test('of one figure on both sides is 1, of one tray and another too', () => {
    expect(ratio(captured, captured)).toBe(1);
    const [small, far] = [
      [1, 0, 2],
      [90, 40, -300],
    ].map((at) => ({ facing: 0, bones: [bone('tray', null, at as [number, number, number])] }));
    expect(ratio(small!, far!)).toBe(1);
    expect(ratio(captured, captured, [])).toBe(1);
  });

  test('is none of how broad they are in the hips', () => {
    const bram = skeletonOf(nightRound(), 'bram');
    const bones = bram.bones.map((one) => {
      const [x, y, z] = one.rest.translation;
      return one.parent === 'hips'
        ? { ...one, rest: { ...one.rest, translation: [3 * x, y, z] as [number, number, number] } }
        : one;
    });
    expect(ratio(bram, { ...bram, bones })).toBeCloseTo(1, 12);
  });

  test('where no legs are paired it goes by what is, with the sizes of all above', () => {
    const arm = captured.bones
      .filter(({ id }) => /LeftArm|LeftForeArm|LeftHand$/.test(id))
      .map(({ id }) => ({ source: id, target: id, how: 'name' as const }));
    expect(ratio(captured, reshaped(captured, 3, 0.7), arm)).toBeCloseTo(0.7, 9);
    const grown = captured.bones.map((one) =>
      one.parent === null
        ? { ...one, rest: { ...one.rest, scale: [2.5, 2.5, 2.5] as [number, number, number] } }
        : one,
    );
    expect(ratio(captured, { ...captured, bones: grown })).toBeCloseTo(2.5, 9);
  });
});

describe('a place is carried, and not a channel', () => {
  const hips = captured.bones.find(({ parent }) => parent === null)!;
  const motion = new Map([[`${hips.id}.ty`, curve([0, 17, 12, 15.5, 24, 17.5])]]);
  const raised = (by: number): Skeleton => ({
    ...captured,
    bones: captured.bones.map((one) =>
      one === hips
        ? { ...one, rest: { ...one.rest, translation: [0, by, 0] as [number, number, number] } }
        : one,
    ),
  });

  test('a rest that holds the height of the hips and one that does not stand on the same floor', () => {
    for (const [from, to] of [
      [0, 92],
      [92, 0],
      [17, 3],
    ] as const) {
      const { curves } = carriedOver(raised(from), raised(to), alike(captured), motion, true);
      const after = curves.get(`${hips.id}.ty`)!;
      for (const frame of [0, 5.5, 12, 24])
        expect(to + evaluate(after, frame)).toBeCloseTo(
          from + evaluate(motion.get(`${hips.id}.ty`)!, frame),
          2,
        );
    }
    const { curves } = carriedOver(raised(92), raised(92), alike(captured), motion, true);
    expect(curves.get(`${hips.id}.ty`)).toBe(motion.get(`${hips.id}.ty`));
  });

  test('keys, handles and what a curve does past them stay', () => {
    const looped = { ...motion.get(`${hips.id}.ty`)!, leadOut: 'loop' as const };
    const { curves } = carriedOver(
      raised(0),
      raised(92),
      alike(captured),
      new Map([[`${hips.id}.ty`, looped]]),
      true,
    );
    const after = curves.get(`${hips.id}.ty`)!;
    expect([after.leadOut, [...after.times], [...after.slopesOut]]).toEqual([
      'loop',
      [...looped.times],
      [...looped.slopesOut],
    ]);
    expect(evaluate(after, 31.5)).toBeCloseTo(evaluate(looped, 31.5) - 92, 9);
  });

  test('a number that is said is what places are multiplied by', () => {
    const { curves, size } = carriedOver(raised(0), raised(0), alike(captured), motion, 3);
    expect([size, evaluate(curves.get(`${hips.id}.ty`)!, 12)]).toEqual([3, 46.5]);
  });

  test('captured motion (CMU, 01_01.bvh) onto Bram: his hips stand as high over his legs as the actor’s', () => {
    const shot = nightRound();
    const bram = skeletonOf(shot, 'bram');
    const { pairs } = matchSkeletons(captured, bram, 'both');
    const [a, b] = [measured(captured), measured(bram)];
    const size = proportionOf(a, b, pairs);
    const top = pairs.find(({ source }) => source === hips.id)!;
    const own = new Map(
      walk.nodes.flatMap(({ id }, row) =>
        Object.entries(walk.curves[row] ?? {}).map(([name, of]) => [`${id}.${name}`, of] as const),
      ),
    );
    const { curves } = carriedOver(captured, bram, pairs, own, true);
    const there = b.at[b.rig.indexOf(top.target)]![1];
    for (const frame of [0, 400, 1200, 2751]) {
      const was = a.at[a.rig.indexOf(hips.id)]![1] + evaluate(own.get(`${hips.id}.ty`)!, frame);
      const is = there + evaluate(curves.get(`${top.target}.ty`)!, frame);
      expect(Math.abs(is / (was * size) - 1)).toBeLessThan(0.01);
    }
  });
});
