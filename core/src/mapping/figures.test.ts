/** Figures of different makes against each other: nothing lost that has a partner, no limb exchanged, limbs that point as they pointed. */
import { finish } from '../base/work.ts';
import { expect, test } from '@jest/globals';
import { seededRandom } from '../base/random.ts';
import type { Curve } from '../curve/curve.ts';
import { evaluate } from '../curve/evaluate.ts';
import { newShot, rigOf, withCurves } from '../document/shot.ts';
import { placeIn, worldAt } from '../evaluation/evaluation.ts';
import type { Triple } from '../math/euler.ts';
import { rotate } from '../math/quaternion.ts';
import { AT_REST } from '../rig/node.ts';
import { turnAbout } from '../rig/skeleton.ts';
import type { Bone, Skeleton } from '../rig/skeleton.ts';
import { anyFigure } from '../testing/any-figure.ts';
import type { Figure, FigureMake } from '../testing/any-figure.ts';
import { curve } from '../testing/shot-literals.ts';
import { matchSkeletons } from './match.ts';
import { transferMotion } from './transfer.ts';

const carriedOver = (...given: Parameters<typeof transferMotion>) => finish(transferMotion(...given));

const MAKES: Record<string, Partial<FigureMake>> = {
  usual: {},
  'no spine': { spine: 0 },
  'one spine joint': { spine: 1 },
  'five spine joints': { spine: 5 },
  'a pelvis': { pelvis: true, spine: 2 },
  'a ground': { above: 'ground' },
  'a cog': { above: 'cog', pelvis: true },
  twists: { twists: true },
  'clavicles under the neck': { clavicles: 'neck', spine: 4 },
  'no clavicles': { clavicles: 'none' },
  fingers: { fingers: 5, spine: 4 },
  'three fingers, A': { fingers: 3, arms: 45, legs: 8 },
  'A, no toes': { arms: 50, toes: false },
  everything: { fingers: 5, twists: true, pelvis: true, above: 'ground', spine: 5, arms: 40 },
};

/** Where clavicles hang on the neck of one and on the chest of the other, either may be what the other's neck is. */
const isOpen = (one: string, other: string, joint: string) =>
  joint === 'neck' && one.includes('under the neck') !== other.includes('under the neck');
test.each(Object.keys(MAKES).flatMap((one) => Object.keys(MAKES).map((other) => [one, other] as const)))(
  '%s onto %s: by structure each joint that both have is found',
  (one, other) => {
    for (const seed of [1, 2]) {
      const make = { named: null, sides: seed === 1 };
      const a = anyFigure({ ...MAKES[one], ...make, seed });
      const facing = seed === 1 ? 90 : 0;
      const b = anyFigure({ ...MAKES[other], ...make, size: 0.7, axes: true, facing, seed: seed + 50 });
      const { pairs, doubtful } = matchSkeletons(a.skeleton, b.skeleton, 'structure');
      const of = new Map(pairs.map(({ source, target }) => [a.jointOf.get(source)!, b.jointOf.get(target)!]));
      const wanted = [...a.nameOf.keys()].filter(
        (joint) =>
          b.nameOf.has(joint) &&
          !/spine|twist|finger|cog|ground|pelvis/.test(joint) &&
          !isOpen(one, other, joint),
      );
      expect(wanted.length).toBeGreaterThan(11);
      expect(
        wanted.flatMap((joint) => (of.get(joint) === joint ? [] : [`${joint} → ${of.get(joint)}`])),
      ).toEqual([]);
      for (const [joint, to] of of) if (/[LR]$/.test(joint)) expect(to.slice(-1)).toBe(joint.slice(-1));
      expect(doubtful).toEqual([]);
    }
  },
);

test('figures made at random, arms of other lengths among them: each joint that both have is found', () => {
  const { next } = seededRandom(77);
  const pick = <T>(...all: readonly T[]) => all[Math.floor(next() * all.length)]!;
  const any = (seed: number): Partial<FigureMake> => ({
    ...{ seed, named: null, sides: pick(true, false), size: 0.5 + 1.5 * next(), arms: pick(0, 20, 45, 60) },
    ...{
      legs: pick(0, 10),
      spine: pick(0, 1, 2, 3, 4, 5),
      pelvis: pick(true, false),
      twists: pick(true, false),
    },
    ...{
      above: pick('none', 'ground', 'cog'),
      fingers: pick(0, 3, 5),
      toes: pick(true, false),
      deep: pick(0, 4),
    },
    ...{ clavicles: pick('none', 'chest', 'neck'), axes: pick(true, false), facing: pick(0, 90, -40, 180) },
  });
  /** Arms longer or shorter by so much, the elbow elsewhere on them. */
  const stretched = ({ skeleton, ...figure }: Figure): Figure => {
    const [long, upper] = [0.8 + 0.4 * next(), 0.9 + 0.2 * next()];
    const times = (joint: string) =>
      /^(forearm|armtwist)/.test(joint) ? long * upper : /^(hand|foretwist)/.test(joint) ? long : 1;
    const bones = skeleton.bones.map((bone): Bone => {
      const by = times(figure.jointOf.get(bone.id)!);
      return {
        ...bone,
        rest: { ...bone.rest, translation: bone.rest.translation.map((v) => v * by) as Triple },
      };
    });
    return { ...figure, skeleton: { ...skeleton, bones } };
  };
  const wrong = Array.from({ length: 200 }, (_, k) => {
    const [one, other] = [any(2 * k + 1), any(2 * k + 2)];
    const [a, b] = [stretched(anyFigure(one)), stretched(anyFigure(other))];
    const { pairs } = matchSkeletons(a.skeleton, b.skeleton, 'structure');
    const of = new Map(pairs.map(({ source, target }) => [a.jointOf.get(source)!, b.jointOf.get(target)!]));
    const necks = (one.clavicles === 'neck') === (other.clavicles === 'neck');
    return [...a.nameOf.keys()].flatMap((joint) =>
      !b.nameOf.has(joint) ||
      /spine|twist|finger|cog|ground|pelvis/.test(joint) ||
      (joint === 'neck' && !necks) ||
      of.get(joint) === joint
        ? []
        : [`${k}: ${joint} → ${of.get(joint)}`],
    );
  }).flat();
  expect(wrong).toEqual([]);
});

const RATE = { numerator: 24, denominator: 1 };
const LENGTH = 12;
const shotOf = ({ bones }: Skeleton, curves: ReadonlyMap<string, Curve>) => {
  const nodes = bones.map((bone) => ({
    ...{ kind: 'joint' as const, pair: null, part: 'extra' as const, character: null, solids: [] },
    ...bone,
    rest: { ...AT_REST, ...bone.rest },
  }));
  return withCurves(newShot('Any', nodes, [], RATE, { start: 0, end: LENGTH }), null, curves);
};
/** From one joint to another, of length 1, as if the figure faced +z. */
function bones({ skeleton, nameOf }: Figure, curves: ReadonlyMap<string, Curve>, frame: number) {
  const shot = shotOf(skeleton, curves);
  const pose = worldAt(shot, frame);
  const back = turnAbout(-skeleton.facing);
  return (from: string, to: string): Triple => {
    const [p, q] = [from, to].map((joint) => placeIn(pose, rigOf(shot).indexOf(nameOf.get(joint)!)));
    const way = rotate(back, q![0] - p![0], q![1] - p![1], q![2] - p![2]);
    const length = Math.hypot(...way);
    return way.map((value) => value / length) as Triple;
  };
}
const between = (a: Triple, b: Triple) =>
  (Math.acos(Math.min(1, a[0] * b[0] + a[1] * b[1] + a[2] * b[2])) * 180) / Math.PI;
/** All turn but twist joints, which would bend a limb that has none. */
const motionOf = ({ skeleton, jointOf }: Figure, seed: number, size: number) => {
  const { next } = seededRandom(seed);
  const curves = new Map<string, Curve>();
  for (const { id } of skeleton.bones.filter((bone) => !jointOf.get(bone.id)!.includes('twist')))
    for (const name of ['rx', 'ry', 'rz'])
      curves.set(
        `${id}.${name}`,
        curve([0, size * (next() - 0.5), 5, size * (next() - 0.5), LENGTH, size * (next() - 0.5)]),
      );
  return curves;
};
const byCanon = (a: Figure, b: Figure) =>
  [...a.nameOf].flatMap(([joint, source]) =>
    b.nameOf.has(joint) ? [{ source, target: b.nameOf.get(joint)!, how: 'hand' as const }] : [],
  );

test.each(Object.keys(MAKES).flatMap((one) => Object.keys(MAKES).map((other) => [one, other] as const)))(
  '%s onto %s: limbs point as they pointed, hands and feet go on as they lie on their limbs',
  (one, other) => {
    const a = anyFigure({ ...MAKES[one], axes: true, seed: 3, facing: 40 });
    const b = anyFigure({ ...MAKES[other], axes: true, seed: 4, size: 1.3, facing: -70 });
    const pairs = byCanon(a, b);
    const own = motionOf(a, 9, 50);
    const { curves } = carriedOver(a.skeleton, b.skeleton, pairs, own, true);
    for (const frame of [0, 3.3, 7, 12]) {
      const [was, is] = [bones(a, own, frame), bones(b, curves, frame)];
      for (const side of ['L', 'R'])
        for (const [from, to] of [
          ['upperarm', 'forearm'],
          ['forearm', 'hand'],
          ['thigh', 'shin'],
          ['shin', 'foot'],
        ])
          expect([
            from,
            between(was(`${from}${side}`, `${to}${side}`), is(`${from}${side}`, `${to}${side}`)) < 0.5,
          ]).toEqual([from, true]);
    }
    // At rest: what no joint of the other says lies on its limb as it lay.
    const { curves: still } = carriedOver(a.skeleton, b.skeleton, pairs, motionOf(a, 9, 0), true);
    const [rest, now] = [bones(b, new Map(), 0), bones(b, still, 0)];
    const ends = [
      ['forearm', 'hand', 'finger1a'],
      ['shin', 'foot', 'toe'],
    ] as const;
    for (const [limb, end, beyond] of ends) {
      if (!b.nameOf.has(`${beyond}L`) || a.nameOf.has(`${beyond}L`)) continue;
      for (const side of ['L', 'R']) {
        const bend = (way: typeof rest) =>
          between(way(`${limb}${side}`, `${end}${side}`), way(`${end}${side}`, `${beyond}${side}`));
        expect(Math.abs(bend(now) - bend(rest))).toBeLessThan(0.1);
      }
    }
  },
);

test.each(
  [1, 2, 3, 5].flatMap((one) =>
    [1, 2, 3, 4, 5].flatMap((other) => (one === other ? [] : [[one, other] as const])),
  ),
)(
  'a back of %d joints bent onto one of %d: chest and neck as they were, each joint with its part',
  (one, other) => {
    const plain = anyFigure({ spine: one });
    const b = anyFigure({ spine: other, size: 0.8 });
    // Called alike, so that by name the first joints of both are one.
    const { pairs } = matchSkeletons(plain.skeleton, b.skeleton, 'names');
    const bend = new Map(
      Array.from({ length: one }, (_, k) => [`spine${k + 1}.rx`, curve([0, 0, LENGTH, 80 / one])] as const),
    );
    const { curves, shared, along, pairs: said } = carriedOver(plain.skeleton, b.skeleton, pairs, bend, true);
    expect([shared?.ours.length, shared?.theirs.length, along, said.length]).toEqual([
      one,
      other,
      [],
      pairs.length,
    ]);
    for (const frame of [0, 4.5, LENGTH]) {
      const [was, is] = [bones(plain, bend, frame), bones(b, curves, frame)];
      expect(between(was('neck', 'head'), is('neck', 'head'))).toBeLessThan(0.5);
      for (const side of ['L', 'R'])
        expect(
          between(was(`upperarm${side}`, `forearm${side}`), is(`upperarm${side}`, `forearm${side}`)),
        ).toBeLessThan(0.5);
    }
    // Bent by 80° in all, each joint by its part of them, but for how the two backs are curved at rest.
    for (let k = 1; k <= other; k += 1)
      expect(Math.abs(evaluate(curves.get(`spine${k}.rx`)!, LENGTH) - 80 / other)).toBeLessThan(10);
  },
);

test.each([
  ['none', 'none', 0],
  ['none', 'ground', 0],
  ['ground', 'none', 7],
  ['ground', 'ground', 0],
  ['cog', 'none', 0],
  ['none', 'cog', 11],
] as const)(
  '%s onto %s, hip joints lower and legs longer: feet stand as high as they stood',
  (one, other, high) => {
    const a = anyFigure({ above: one, seed: 3, axes: true });
    // Hip joints as far below the hips as there, and more.
    const b = anyFigure({ above: other, size: 1.4, deep: 6, axes: true, seed: 4, facing: 90 });
    const pairs = byCanon(a, b);
    const mover = a.nameOf.get(one === 'none' ? 'hips' : one)!;
    // High is how far the mover lies off its rest.
    const own = new Map([...motionOf(a, 2, 0), [`${mover}.ty`, curve([0, high, LENGTH, high + 5])] as const]);
    const { curves, size } = carriedOver(a.skeleton, b.skeleton, pairs, own, true);
    expect(size).toBeCloseTo(1.4, 6);
    const heights = ({ skeleton, nameOf }: Figure, of: ReadonlyMap<string, Curve>, frame: number) => {
      const shot = shotOf(skeleton, of);
      const pose = worldAt(shot, frame);
      return ['L', 'R'].map((side) => placeIn(pose, rigOf(shot).indexOf(nameOf.get(`foot${side}`)!))[1]);
    };
    for (const frame of [0, LENGTH]) {
      const [was, is] = [heights(a, own, frame), heights(b, curves, frame)];
      was.forEach((value, k) => expect(is[k]! - size * value).toBeCloseTo(0, 6));
    }
  },
);

test('a figure under a root of another scale shares its bend alike', () => {
  const a = anyFigure({ above: 'ground', spine: 2 });
  const b = anyFigure({ above: 'ground', spine: 4, arms: 30 });
  const scaled: Skeleton = {
    ...a.skeleton,
    bones: a.skeleton.bones.map((one) => ({
      ...one,
      rest:
        one.parent === null
          ? { ...one.rest, scale: [50, 50, 50] }
          : { ...one.rest, translation: one.rest.translation.map((value) => value / 50) as Triple },
    })),
  };
  const { pairs } = matchSkeletons(a.skeleton, b.skeleton, 'names');
  const [plain, other] = [a.skeleton, scaled].map((from) =>
    carriedOver(from, b.skeleton, pairs, motionOf(a, 3, 40), true),
  );
  expect(plain!.shared).not.toBeNull();
  plain!.pairs.forEach(({ longer, turned }, k) => {
    expect(other!.pairs[k]!.longer).toBeCloseTo(longer, 6);
    expect(other!.pairs[k]!.turned).toBeCloseTo(turned, 4);
  });
  for (const [id, curve] of plain!.curves)
    expect(Math.abs(evaluate(curve, 7) - evaluate(other!.curves.get(id)!, 7))).toBeLessThan(1e-4);
});

test('a foot with a higher ankle, toes turned out: the sole lies flat, and points where it pointed', () => {
  const a = anyFigure({ seed: 3, axes: true });
  const b = anyFigure({ seed: 4, axes: true, ankle: 5, out: 20 });
  const own = motionOf(a, 9, 0);
  const { curves } = carriedOver(a.skeleton, b.skeleton, byCanon(a, b), own, true);
  const [was, is, rest] = [bones(a, own, 0), bones(b, curves, 0), bones(b, new Map(), 0)];
  for (const side of ['L', 'R']) {
    const [there, here, lay] = [was, is, rest].map((way) => way(`foot${side}`, `toe${side}`));
    expect(here![1]).toBeCloseTo(lay![1], 6);
    expect(Math.atan2(here![0], here![2])).toBeCloseTo(Math.atan2(there![0], there![2]), 6);
  }
});

test('two limbs that could as well change places are named', () => {
  const bone = (id: string, parent: string | null, x: number, side: Bone['side'] = 'centre'): Bone => ({
    ...{ id, parent, side, order: 'xyz', channels: ['rx'] },
    rest: { translation: [x, parent === null ? 50 : 10, 0], rotation: [0, 0, 0, 1], scale: [1, 1, 1] },
  });
  const tails = (a: number, b: number, ...sides: Bone['side'][]): Skeleton => ({
    facing: 0,
    bones: [bone('r', null, 0), bone('a', 'r', a, sides[0]), bone('b', 'r', b, sides[1])],
  });
  const doubtful = (one: Skeleton, other: Skeleton) => matchSkeletons(one, other, 'structure').doubtful;
  expect(doubtful(tails(0.02, 0), tails(0, 0.02))).toEqual([['a', 'b']]);
  expect(doubtful(tails(0, 0, 'left', 'right'), tails(0, 0, 'right', 'left'))).toEqual([]);
});
