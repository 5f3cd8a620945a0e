/** Which joint stands for which: captured skeletons under other names and in another order, with joints missing and more, and Bram and Nib. */
import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import { seededRandom } from '../base/random.ts';
import { bramNodes } from '../demo/bram-rig.ts';
import { nibNodes } from '../demo/nib-rig.ts';
import { readBvh } from '../interchange/bvh/read-bvh.ts';
import { matchSkeletons } from './match.ts';
import { bonesOf } from '../rig/skeleton.ts';
import type { Bone, Skeleton } from '../rig/skeleton.ts';

const captured = (name: string): Skeleton => {
  const { shot } = readBvh(readFileSync(`/usr/share/assimp/models/BVH/${name}.bvh`, 'utf8'), name);
  // Sides are read from names: what has no name that says so has none.
  return { bones: bonesOf(shot.nodes).map((bone) => ({ ...bone, side: 'centre' })), facing: 0 };
};
const FILES = ['01_01', '01_03'];

/** The same skeleton with every joint called something else, in another order. */
function disguised(
  { bones, facing }: Skeleton,
  seed: number,
): { skeleton: Skeleton; nameOf: (id: string) => string } {
  const { next } = seededRandom(seed);
  const names = new Map(bones.map(({ id }) => [id, `${Math.floor(next() * 1e9).toString(36)}${seed}`]));
  const nameOf = (id: string) => names.get(id)!;
  const renamed = bones.map((bone) => ({
    ...bone,
    id: nameOf(bone.id),
    parent: bone.parent && nameOf(bone.parent),
  }));
  const mixed = renamed
    .map((bone) => ({ bone, place: next() }))
    .sort((a, b) => a.place - b.place)
    .map(({ bone }) => bone);
  return { skeleton: { bones: mixed, facing }, nameOf };
}

describe.each(FILES)('%s.bvh (Debian, assimp-testmodels)', (file) => {
  const plain = captured(file);

  test('under 100 sets of nonsense names and orders each joint finds itself', () => {
    for (let seed = 1; seed <= 100; seed += 1) {
      const { skeleton, nameOf } = disguised(plain, seed);
      const { pairs, missing, spare } = matchSkeletons(plain, skeleton, 'structure');
      expect(pairs.filter(({ source, target }) => nameOf(source) !== target)).toEqual([]);
      expect([pairs.length, missing, spare]).toEqual([plain.bones.length, [], []]);
    }
  });

  test('a finger that is missing, a twist joint and a root more are said, and the rest finds itself', () => {
    const { skeleton, nameOf } = disguised(plain, 7);
    const thumb = plain.bones.find(({ id }) => /LThumb/i.test(id))!;
    const gone = new Set([nameOf(thumb.id)]);
    const elbow = nameOf(plain.bones.find(({ id }) => /LeftForeArm$/i.test(id))!.id);
    const shoulder = nameOf(plain.bones.find(({ id }) => /LeftArm$/i.test(id))!.id);
    const root = nameOf(plain.bones.find(({ parent }) => parent === null)!.id);
    const half = (v: readonly number[]): [number, number, number] => [v[0]! / 2, v[1]! / 2, v[2]! / 2];
    const bones = skeleton.bones
      .filter(({ id, parent }) => !gone.has(id) && !(parent !== null && gone.has(parent)))
      .map((bone): Bone => {
        if (bone.id === root) return { ...bone, parent: 'more' };
        if (bone.id !== elbow) return bone;
        return { ...bone, parent: 'twist', rest: { ...bone.rest, translation: half(bone.rest.translation) } };
      });
    const bone = bones.find(({ id }) => id === elbow)!;
    const still = {
      translation: [0, 0, 0] as const,
      rotation: [0, 0, 0, 1] as const,
      scale: [1, 1, 1] as const,
    };
    const more: Bone[] = [
      { ...bone, id: 'twist', parent: shoulder },
      {
        ...bone,
        id: 'more',
        parent: null,
        rest: { translation: [...still.translation], rotation: [...still.rotation], scale: [...still.scale] },
      },
    ];
    const { pairs, missing, spare } = matchSkeletons(
      plain,
      { bones: [...bones, ...more], facing: 0 },
      'structure',
    );
    expect(pairs.filter(({ source, target }) => nameOf(source) !== target)).toEqual([]);
    expect(missing).toContain(thumb.id);
    expect(missing.length).toBe(plain.bones.length - bones.length);
    expect([...spare].sort()).toEqual(['more', 'twist']);
  });

  test('turned to face +x and half as large it still finds itself', () => {
    const { skeleton, nameOf } = disguised(plain, 3);
    const half = Math.SQRT1_2;
    const bones = skeleton.bones.map((bone) => {
      const [x, y, z] = bone.rest.translation.map((value) => value / 2) as [number, number, number];
      if (bone.parent !== null)
        return { ...bone, rest: { ...bone.rest, translation: [x, y, z] as [number, number, number] } };
      return {
        ...bone,
        rest: {
          ...bone.rest,
          translation: [z, y, -x] as [number, number, number],
          rotation: [0, half, 0, half] as [number, number, number, number],
        },
      };
    });
    const { pairs } = matchSkeletons(plain, { bones, facing: 90 }, 'structure');
    expect(pairs.filter(({ source, target }) => nameOf(source) !== target)).toEqual([]);
    expect(pairs).toHaveLength(plain.bones.length);
  });
});

describe('names with namespaces, paths and words that all carry', () => {
  const plain = captured('01_01');
  const under = (call: (id: string) => string): Skeleton => ({
    ...plain,
    bones: plain.bones.map((bone) => ({
      ...bone,
      id: call(bone.id),
      parent: bone.parent && call(bone.parent),
    })),
  });
  test.each<[string, (id: string) => string]>([
    ['a namespace in a namespace', (id) => `a:b:${id}`],
    ['a path, a word ahead and one behind', (id) => `grp|x_${id}_jnt`],
    ['small letters', (id) => id.toLowerCase()],
    ['none at all', (id) => id],
  ])('%s: each joint is found by name, in both directions', (_, call) => {
    const other = under(call);
    const there = matchSkeletons(plain, other, 'names').pairs;
    expect(there.map(({ source, target, how }) => [source, target, how])).toEqual(
      expect.arrayContaining(plain.bones.map(({ id }) => [id, call(id), 'name'])),
    );
    expect(there.length).toBe(plain.bones.length);
    expect(matchSkeletons(other, plain, 'names').missing).toEqual([]);
  });

  test('two that would be called alike are left alone, and what is called so exactly goes first', () => {
    const named = (...ids: string[]): Skeleton => ({
      facing: 0,
      bones: ids.map((id) => ({ ...plain.bones[0]!, id, parent: null })),
    });
    expect(matchSkeletons(named('a:hand', 'b:hand', 'c:foot'), named('hand', 'foot'), 'names').pairs).toEqual(
      [{ source: 'c:foot', target: 'foot', how: 'name' }],
    );
    expect(matchSkeletons(named('a:foot', 'foot'), named('foot'), 'names').pairs).toEqual([
      { source: 'foot', target: 'foot', how: 'name' },
    ]);
  });
});

describe('Bram and Nib', () => {
  const bram: Skeleton = { bones: bonesOf(bramNodes([])), facing: 0 };
  const nib: Skeleton = { bones: bonesOf(nibNodes()), facing: 0 };

  test('by name nothing agrees, by structure the body does', () => {
    expect(matchSkeletons(bram, nib, 'names').pairs).toEqual([]);
    const { pairs } = matchSkeletons(bram, nib, 'both');
    const of = new Map(pairs.map(({ source, target }) => [source, target]));
    const body = {
      hips: 'pelvis',
      spine_low: 'waist',
      chest: 'breast',
      neck: 'throat',
      head: 'skull',
      jaw: 'mouth',
      upperarm_l: 'arm_top.L',
      forearm_l: 'arm_low.L',
      hand_l: 'palm.L',
      upperarm_r: 'arm_top.R',
      hand_r: 'palm.R',
      thigh_l: 'leg_top.L',
      shin_l: 'leg_low.L',
      foot_r: 'sole.R',
      hand_goal_l: 'reach.L',
      foot_goal_r: 'step.R',
    };
    expect(Object.fromEntries(Object.keys(body).map((id) => [id, of.get(id)]))).toEqual(body);
  });

  test('what is said by hand goes before all else, and names before structure', () => {
    const { pairs, missing } = matchSkeletons(bram, nib, 'both', { head: 'mouth', jaw: null });
    expect(pairs).toContainEqual({ source: 'head', target: 'mouth', how: 'hand' });
    expect(missing).toContain('jaw');
    expect(pairs.filter(({ target }) => target === 'mouth')).toHaveLength(1);
    const same = matchSkeletons(
      bram,
      {
        ...nib,
        bones: nib.bones.map((bone) =>
          bone.id === 'skull'
            ? { ...bone, id: 'jaw' }
            : { ...bone, parent: bone.parent === 'skull' ? 'jaw' : bone.parent },
        ),
      },
      'both',
    );
    expect(same.pairs).toContainEqual({ source: 'jaw', target: 'jaw', how: 'name' });
  });
});

test('two that lie in one place are told apart by their sides', () => {
  const bone = (id: string, parent: string | null, side: Bone['side']): Bone => ({
    ...{ id, parent, side, order: 'xyz', channels: [] },
    rest: { translation: [0, parent === null ? 0 : 10, 0], rotation: [0, 0, 0, 1], scale: [1, 1, 1] },
  });
  const from = [bone('r', null, 'centre'), bone('a', 'r', 'left'), bone('b', 'r', 'right')];
  const to = [bone('q', null, 'centre'), bone('x', 'q', 'right'), bone('y', 'q', 'left')];
  const { pairs } = matchSkeletons({ bones: from, facing: 0 }, { bones: to, facing: 0 }, 'structure');
  expect(pairs.map(({ source, target }) => `${source}${target}`).sort()).toEqual(['ay', 'bx', 'rq']);
});

test.each(FILES)('%s finds its body in Bram and in Nib, joint by joint', (file) => {
  const { shot } = readBvh(readFileSync(`/usr/share/assimp/models/BVH/${file}.bvh`, 'utf8'), file);
  const from: Skeleton = { bones: bonesOf(shot.nodes), facing: 0 };
  const limbs = ['UpLeg', 'Leg', 'Foot', 'ToeBase', 'Shoulder', 'Arm', 'ForeArm', 'Hand'];
  const ours = ['thigh', 'shin', 'foot', 'toe', 'clavicle', 'upperarm', 'forearm', 'hand'];
  const theirs = ['leg_top', 'leg_low', 'sole', 'toes', 'collar', 'arm_top', 'arm_low', 'palm'];
  for (const [nodes, names, end] of [
    [bramNodes([]), ours, (side: string) => `_${side.toLowerCase()}`],
    [nibNodes(), theirs, (side: string) => `.${side}`],
  ] as const) {
    const { pairs } = matchSkeletons(from, { bones: bonesOf(nodes), facing: 0 }, 'both');
    const of = new Map(pairs.map(({ source, target }) => [source, target]));
    for (const [word, side] of [
      ['Left', 'L'],
      ['Right', 'R'],
    ] as const)
      expect(limbs.map((limb) => of.get(`${word}${limb}`))).toEqual(
        names.map((name) => `${name}${end(side)}`),
      );
    expect(['hips', 'pelvis']).toContain(of.get('Hips'));
  }
});
