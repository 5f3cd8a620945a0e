import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { AnimationMixer, LoopOnce, Vector3, Quaternion as ThreeQuaternion } from 'three';
import { BVHLoader } from 'three/examples/jsm/loaders/BVHLoader.js';
import { InputError } from '../../base/finding.ts';
import { angleBetween } from '../../math/quaternion.ts';
import type { Quaternion } from '../../math/euler.ts';
import { placeIn, worldAt } from '../../evaluation/evaluation.ts';
import { curveOf, keyCount, rigOf } from '../../document/shot.ts';
import { openData } from '../../testing/open-data.ts';
import { readBvh } from './read-bvh.ts';

const text = new TextDecoder().decode(openData('BVH/01_01.bvh'));
const { shot, findings } = readBvh(text, '01_01');

/** A small file: a root with position, a child whose channels stand in another order, an end site. */
const small = (rows: string, more: { order?: string; child?: string; frames?: number } = {}) => `HIERARCHY
ROOT Hips
{
  OFFSET 1 2 3
  CHANNELS 6 Xposition Yposition Zposition ${more.order ?? 'Zrotation Yrotation Xrotation'}
  JOINT Arm
  {
    OFFSET 10 0 0
    CHANNELS ${more.child ?? '3 Yrotation Xrotation Zrotation'}
    End Site
    {
      OFFSET 0 5 0
    }
  }
}
MOTION
Frames: ${more.frames ?? rows.trim().split('\n').length}
Frame Time: 0.0416667
${rows}`;

const refusal = (body: string) => {
  try {
    readBvh(body, 'x');
  } catch (error) {
    if (error instanceof InputError) return error.finding;
    throw error;
  }
  throw new Error('it was read');
};

describe('captured motion 01_01.bvh (Debian, assimp-testmodels)', () => {
  test('31 joints, 96 channels, 2,752 frames at 120 per second', () => {
    expect([shot.nodes.length, rigOf(shot).channels.length, shot.range.end, shot.rate]).toEqual([
      31,
      96,
      2751,
      { numerator: 120, denominator: 1 },
    ]);
    expect(keyCount(shot)).toBe(96 * 2752);
    expect(findings).toEqual([]);
  });

  test('channels hold the numbers of the file, in its order', () => {
    const row = text.slice(text.indexOf('Frame Time')).split('\n')[101]!.trim().split(/\s+/).map(Number);
    const values = rigOf(shot).channels.map(({ id }) => curveOf(shot, null, id).values[100]);
    expect(values).toEqual(row);
  });

  test('forward kinematics at frame 100: LeftHand as published in the list of checks', () => {
    const [x, y, z] = placeIn(worldAt(shot, 100), rigOf(shot).indexOf('LeftHand'));
    expect([x, y, z].map((value) => value.toFixed(6))).toEqual(['13.954392', '18.841866', '-14.725453']);
  });

  test('places and orientations of every joint agree with a second reader (three’s BVHLoader, float32)', () => {
    // It adds OFFSET to position channels as we do; its joints are float32, hence the tolerance.
    const other = new BVHLoader().parse(text);
    const root = other.skeleton.bones[0]!;
    const mixer = new AnimationMixer(root);
    const action = mixer.clipAction(other.clip).setLoop(LoopOnce, 1);
    action.clampWhenFinished = true;
    action.play();
    const rig = rigOf(shot);
    for (const frame of [0, 1, 100, 777, 1500, 2750]) {
      mixer.setTime(frame / 120);
      root.updateMatrixWorld(true);
      const world = worldAt(shot, frame);
      for (const bone of other.skeleton.bones.filter(({ name }) => name !== 'ENDSITE')) {
        const row = rig.indexOf(bone.name);
        const place = bone.getWorldPosition(new Vector3());
        expect(
          Math.hypot(...placeIn(world, row).map((value, axis) => value - place.getComponent(axis))),
        ).toBeLessThan(2e-3);
        const turn = bone.getWorldQuaternion(new ThreeQuaternion());
        const own = Array.from(world.turns.subarray(row * 4, row * 4 + 4)) as Quaternion;
        expect(angleBetween(own, [turn.x, turn.y, turn.z, turn.w])).toBeLessThan(0.02);
      }
    }
  });

  test('hierarchy and offsets agree with a third reader (assimp-utils)', () => {
    const out = join(mkdtempSync(join(tmpdir(), 'kneader-')), 'x.json');
    execFileSync('assimp', ['export', '/usr/share/assimp/models/BVH/01_01.bvh', out, '-f', 'assjson']);
    interface Tree {
      name: string;
      transformation: number[];
      children?: Tree[];
    }
    const { rootnode } = JSON.parse(readFileSync(out, 'utf8')) as { rootnode: Tree };
    let seen = 0;
    const visit = (tree: Tree, parent: string | null) => {
      const node = shot.nodes.find(({ id }) => id === tree.name);
      if (node) {
        seen += 1;
        expect(node.parent).toBe(parent);
        [3, 7, 11].forEach((at, axis) =>
          expect(tree.transformation[at]).toBeCloseTo(node.rest.translation[axis]!, 4),
        );
      }
      for (const child of tree.children ?? []) visit(child, node ? tree.name : parent);
    };
    visit(rootnode, null);
    expect(seen).toBe(31);
  });

  test('sides and pairs come from the names', () => {
    const sides = shot.nodes.map(({ side }) => side);
    expect(['left', 'right', 'centre'].map((side) => sides.filter((one) => one === side).length)).toEqual([
      12, 12, 7,
    ]);
    const byId = new Map(shot.nodes.map((node) => [node.id, node]));
    for (const node of shot.nodes) expect(byId.get(byId.get(node.id)!.pair!)!.pair).toBe(node.id);
  });
});

describe('other makes', () => {
  test('a translation is OFFSET plus the position channels', () => {
    const { shot: one } = readBvh(small('10 20 30 0 0 0 0 0 0'), 'x');
    expect(placeIn(worldAt(one, 0), 0)).toEqual([11, 22, 33]);
  });

  test.each([
    ['Zrotation Yrotation Xrotation', 'zyx'],
    ['Yrotation Xrotation Zrotation', 'yxz'],
    ['XROTATION Zrotation yrotation', 'xzy'],
  ])('rotations listed as %s multiply in that order', (order, expected) => {
    expect(readBvh(small('0 0 0 10 20 30 0 0 0', { order }), 'x').shot.nodes[0]!.order).toBe(expected);
  });

  test('a joint with one rotation channel, and one with six', () => {
    const one = readBvh(small('0 0 0 0 0 0 45', { child: '1 Zrotation' }), 'x').shot;
    expect(one.nodes[1]!.channels).toEqual(['rz']);
    const six = readBvh(
      small('0 0 0 0 0 0 1 2 3 4 5 6', {
        child: '6 Xposition Yposition Zposition Zrotation Xrotation Yrotation',
      }),
      'x',
    ).shot;
    expect(placeIn(worldAt(six, 0), 1)).toEqual([1 + 10 + 1, 2 + 2, 3 + 3]);
  });

  test('angles beyond 360° stay as written', () => {
    const { shot: one } = readBvh(small('0 0 0 725.5 -400 0 0 0 0'), 'x');
    expect(curveOf(one, null, 'Hips.rz').values[0]).toBe(725.5);
  });

  test('more or fewer rows than announced are read and reported', () => {
    const rows = '0 0 0 0 0 0 0 0 0\n1 0 0 0 0 0 0 0 0\n2 0 0 0 0 0 0 0 0';
    for (const frames of [1, 5]) {
      const result = readBvh(small(rows, { frames }), 'x');
      expect(result.shot.range.end).toBe(2);
      expect(result.findings[0]!.sentence).toBe(
        `The header announces ${frames} frames, the file holds 3: the 3 that are there were read.`,
      );
    }
  });

  test('two joints of one name, tabs, returns and no last newline', () => {
    const body = small('0 0 0 0 0 0 0 0 0')
      .replace('JOINT Arm', 'JOINT Hips')
      .replace(/\n/g, '\r\n')
      .replace(/ {2}/g, '\t')
      .trimEnd();
    expect(readBvh(body, 'x').shot.nodes.map(({ id }) => id)).toEqual(['Hips', 'Hips 2']);
  });

  test.each([
    ['0.0333333', { numerator: 30, denominator: 1 }],
    ['0.0333667', { numerator: 30000, denominator: 1001 }],
    ['0.0416667', { numerator: 24, denominator: 1 }],
    ['0.008333', { numerator: 120, denominator: 1 }],
    ['0.0312500', { numerator: 32, denominator: 1 }],
  ])('frame time %s', (time, rate) => {
    expect(readBvh(small('0 0 0 0 0 0 0 0 0').replace('0.0416667', time), 'x').shot.rate).toEqual(rate);
  });
});

describe('bad files are refused with the line', () => {
  test.each<[string, string, number, RegExp]>([
    ['no hierarchy', 'MOTION\nFrames: 1', 1, /HIERARCHY/],
    ['a word for a number', small('0 0 0 0 x 0 0 0 0'), 19, /“x” is not a number/],
    ['a short row', small('1 2 3\n0 0 0 0 0 0 0 0 0'), 19, /A row has 3 values where the channels need 9/],
    ['an unknown channel', small('0', { child: '1 Wrotation' }), 9, /“Wrotation” is not a channel/],
    ['a channel that stands twice', small('0', { child: '2 Zrotation Zrotation' }), 9, /“Zrotation” twice/],
    ['cut short in the hierarchy', small('0').slice(0, 70), 5, /file ends where a channel should stand/],
  ])('%s', (_, body, line, sentence) => {
    const problem = refusal(body);
    expect(problem.sentence).toMatch(sentence);
    expect(problem.where.line).toBe(line);
  });

  test('a skeleton without a frame', () => {
    expect(refusal(small('')).code).toBe('bvhNoFrames');
  });
});
