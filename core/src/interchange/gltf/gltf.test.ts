import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { Document, NodeIO } from '@gltf-transform/core';
import validator from 'gltf-validator';
import { AnimationMixer, LoopOnce, Quaternion as ThreeQuaternion, Vector3 } from 'three';
import type { Object3D } from 'three';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { InputError } from '../../base/finding.ts';
import { DEMO_SHOTS } from '../../demo/bakery.ts';
import { angleBetween } from '../../math/quaternion.ts';
import type { Quaternion } from '../../math/euler.ts';
import { placeIn, worldAt } from '../../evaluation/evaluation.ts';
import { curveOf, framesPerSecond, keyCount, rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { openData } from '../../testing/open-data.ts';
import { curve, puppet } from '../../testing/shot-literals.ts';
import { readBvh } from '../bvh/read-bvh.ts';
import { sourcesOf } from '../../document/sources.ts';
import type { Neighbour } from './open-gltf.ts';
import { readGltf } from './read-gltf.ts';
import { writeGlb, writeGltfText } from './write-gltf.ts';

const refusal = async (bytes: Uint8Array, neighbour?: Neighbour) => {
  try {
    await readGltf(bytes, 'x', neighbour && { neighbour });
  } catch (error) {
    if (error instanceof InputError) return error.finding.sentence;
    throw error;
  }
  throw new Error('it was read');
};
const encode = (json: unknown) => new TextEncoder().encode(JSON.stringify(json));
const turnAt = (turns: Float64Array, row: number) =>
  Array.from(turns.subarray(row * 4, row * 4 + 4)) as Quaternion;

/** Places (cm) and orientations of a glTF's nodes at a time, by three's loader and mixer: float32. */
async function secondReader(bytes: Uint8Array) {
  // The loader wants an ArrayBuffer of just these bytes.
  const { scene, animations } = await new GLTFLoader().parseAsync(bytes.slice().buffer, '');
  const mixer = new AnimationMixer(scene);
  const action = mixer.clipAction(animations[0]!).setLoop(LoopOnce, 1);
  action.clampWhenFinished = true;
  action.play();
  const byName = new Map<string, Object3D>();
  scene.traverse((object) => byName.set((object.userData as { name?: string }).name ?? object.name, object));
  return (name: string, seconds: number) => {
    // A clip that has come to its end is paused, and would stay at its beginning.
    action.paused = false;
    mixer.setTime(seconds);
    scene.updateMatrixWorld(true);
    const object = byName.get(name)!;
    const turn = object.getWorldQuaternion(new ThreeQuaternion());
    return {
      place: object.getWorldPosition(new Vector3()).multiplyScalar(100).toArray(),
      turn: [turn.x, turn.y, turn.z, turn.w] as Quaternion,
    };
  };
}

async function greatestGap(shot: Shot, bytes: Uint8Array, frames: readonly number[]) {
  const other = await secondReader(bytes);
  const rig = rigOf(shot);
  let [cm, degrees] = [0, 0];
  for (const frame of frames) {
    const world = worldAt(shot, frame);
    for (const node of shot.nodes) {
      const { place, turn } = other(node.id, frame / framesPerSecond(shot.rate));
      const row = rig.indexOf(node.id);
      cm = Math.max(cm, Math.hypot(...placeIn(world, row).map((value, axis) => value - place[axis]!)));
      degrees = Math.max(degrees, angleBetween(turnAt(world.turns, row), turn));
    }
  }
  return { cm, degrees };
}

const captured = () => readBvh(new TextDecoder().decode(openData('BVH/01_01.bvh')), '01_01').shot;

describe('export', () => {
  const shots: [string, () => Shot][] = [
    ...DEMO_SHOTS.map(({ id, make }): [string, () => Shot] => [id, make]),
    ['captured motion', captured],
    ['a shot that does not move', () => puppet()],
  ];

  test.each(shots)(
    '%s: zero errors in the official validator (gltf-validator), and read back by @gltf-transform',
    async (_, make) => {
      const shot = make();
      const glb = await writeGlb(shot);
      for (const bytes of [glb, new TextEncoder().encode(await writeGltfText(shot))]) {
        const { issues } = await validator.validateBytes(bytes);
        expect([issues.numErrors, issues.messages.slice(0, 3)]).toEqual([0, issues.messages.slice(0, 3)]);
      }
      const root = (await new NodeIO().readBinary(glb)).getRoot();
      expect(root.listNodes().map((node) => node.getName())).toEqual(shot.nodes.map(({ id }) => id));
      expect(root.listAnimations().length).toBe(keyCount(shot) > 0 ? 1 : 0);
    },
  );

  test('captured motion in a second reader (three): no joint farther off than the export’s tolerance adds up to', async () => {
    const shot = captured();
    const { cm, degrees } = await greatestGap(shot, await writeGlb(shot), [0, 1, 100, 999, 1500, 2751]);
    // 0.02° on each joint of the longest chain, and 0.005 cm at the root.
    expect(degrees).toBeLessThan(0.2);
    expect(cm).toBeLessThan(0.2);
  });

  test('the demo with IK and passes in a second reader: joints where the stage draws them', async () => {
    const shot = DEMO_SHOTS[1]!.make();
    const { cm } = await greatestGap(shot, await writeGlb(shot), [0, 5, 11, shot.range.end]);
    expect(cm).toBeLessThan(0.1);
  });

  test('durations in a third reader (assimp-utils)', async () => {
    const path = join(mkdtempSync(join(tmpdir(), 'kneader-')), 'x.glb');
    const shot = puppet({ 'hips.ty': curve([0, 0, 12, 30, 24, 0]) });
    writeFileSync(path, await writeGlb(shot));
    const out = `${path}.json`;
    execFileSync('assimp', ['export', path, out, '-f', 'assjson']);
    const read = JSON.parse(readFileSync(out, 'utf8')) as {
      animations: { duration: number; tickspersecond: number }[];
    };
    expect(read.animations[0]!.duration / (read.animations[0]!.tickspersecond || 1)).toBeCloseTo(1, 3);
  });

  test('out and in again: the same places', async () => {
    const shot = puppet({
      'hips.ty': curve([0, 0, 12, 30, 24, 0]),
      'arm_l.rz': curve([0, 0, 24, 350], 'linear'),
    });
    const back = (await readGltf(await writeGlb(shot), 'back')).shot;
    // On whole frames: between them the export's samples are joined by straight lines.
    for (const frame of [0, 3, 11, 24]) {
      const [a, b] = [worldAt(shot, frame), worldAt(back, frame)];
      for (const { id } of shot.nodes) {
        const [was, now] = [placeIn(a, rigOf(shot).indexOf(id)), placeIn(b, rigOf(back).indexOf(id))];
        expect(Math.hypot(...was.map((value, axis) => value - now[axis]!))).toBeLessThan(0.05);
      }
    }
  });
});

/** One node whose translation and rotation are driven in one mode; tangents are zero but for the middle key's. */
async function animated(mode: 'STEP' | 'LINEAR' | 'CUBICSPLINE') {
  const document = new Document();
  const buffer = document.createBuffer();
  const node = document.createNode('arm');
  document.createScene().addChild(node);
  const h = Math.SQRT1_2;
  const keys = {
    translation: [
      [0, 0, 0],
      [1, 2, 0],
      [1, 0, -1],
    ],
    rotation: [
      [0, 0, 0, 1],
      [h, 0, 0, h],
      [0, h, 0, h],
    ],
  };
  const tangents = {
    translation: [
      [0, 0, 0],
      [0.5, -1, 2],
      [0, 0, 0],
    ],
    rotation: [
      [0, 0, 0, 0],
      [0.3, 0.2, 0, 0.1],
      [0, 0, 0, 0],
    ],
  };
  const animation = document.createAnimation('a');
  const input = document
    .createAccessor()
    .setArray(new Float32Array([0, 1, 2]))
    .setBuffer(buffer);
  for (const path of ['translation', 'rotation'] as const) {
    const rows = keys[path].flatMap((value, i) =>
      mode === 'CUBICSPLINE' ? [...tangents[path][i]!, ...value, ...tangents[path][i]!] : value,
    );
    const output = document
      .createAccessor()
      .setType(path === 'rotation' ? 'VEC4' : 'VEC3')
      .setArray(new Float32Array(rows))
      .setBuffer(buffer);
    const sampler = document
      .createAnimationSampler()
      .setInput(input)
      .setOutput(output)
      .setInterpolation(mode);
    animation
      .addSampler(sampler)
      .addChannel(
        document.createAnimationChannel().setTargetNode(node).setTargetPath(path).setSampler(sampler),
      );
  }
  return new NodeIO().writeBinary(document);
}

/** glTF 2.0, appendix C, written out for the keys above; seconds in, metres and a quaternion out. */
function appendixC(mode: string, t: number) {
  const h = Math.SQRT1_2;
  const T = [
    [0, 0, 0],
    [1, 2, 0],
    [1, 0, -1],
  ];
  const dT = [
    [0, 0, 0],
    [0.5, -1, 2],
    [0, 0, 0],
  ];
  const R = [
    [0, 0, 0, 1],
    [h, 0, 0, h],
    [0, h, 0, h],
  ];
  const dR = [
    [0, 0, 0, 0],
    [0.3, 0.2, 0, 0.1],
    [0, 0, 0, 0],
  ];
  const k = Math.min(Math.floor(t), 1);
  const u = t - k;
  if (mode === 'STEP') return { place: T[Math.floor(t)]!, turn: R[Math.floor(t)]! };
  const spline = (v: number[][], d: number[][]) =>
    v[k]!.map(
      (_, i) =>
        (2 * u ** 3 - 3 * u ** 2 + 1) * v[k]![i]! +
        (u ** 3 - 2 * u ** 2 + u) * d[k]![i]! +
        (-2 * u ** 3 + 3 * u ** 2) * v[k + 1]![i]! +
        (u ** 3 - u ** 2) * d[k + 1]![i]!,
    );
  const unit = (q: number[]) => q.map((part) => part / Math.hypot(...q));
  if (mode === 'CUBICSPLINE') return { place: spline(T, dT), turn: unit(spline(R, dR)) };
  const dot = R[k]!.reduce((sum, part, i) => sum + part * R[k + 1]![i]!, 0);
  const angle = Math.acos(Math.abs(dot));
  const turn = R[k]!.map(
    (part, i) =>
      (Math.sin(angle * (1 - u)) / Math.sin(angle)) * part +
      ((Math.sign(dot) * Math.sin(angle * u)) / Math.sin(angle)) * R[k + 1]![i]!,
  );
  return { place: T[k]!.map((value, i) => value + u * (T[k + 1]![i]! - value)), turn };
}

describe('import', () => {
  test.each(['STEP', 'LINEAR', 'CUBICSPLINE'] as const)(
    '%s as glTF 2.0, appendix C, samples it',
    async (mode) => {
      const { shot } = await readGltf(await animated(mode), 'x', { rate: { numerator: 24, denominator: 1 } });
      for (const seconds of [0, 0.125, 0.5, 0.875, 1, 1.25, 1.75, 2]) {
        const expected = appendixC(mode, seconds);
        const world = worldAt(shot, seconds * 24);
        placeIn(world, 0).forEach((cm, axis) => expect(cm / 100).toBeCloseTo(expected.place[axis]!, 5));
        expect(angleBetween(turnAt(world.turns, 0), expected.turn as unknown as Quaternion)).toBeLessThan(
          0.05,
        );
      }
    },
  );

  test('simple_skin (Debian, assimp-testmodels): unnamed joints get names, 12 keys over 5.5 s', async () => {
    const { shot } = await readGltf(openData('glTF2/simple_skin/simple_skin.gltf'), 'simple_skin');
    expect(shot.nodes.every(({ id }) => id.length > 0)).toBe(true);
    expect((shot.range.end - shot.range.start) / framesPerSecond(shot.rate)).toBeCloseTo(5.5, 2);
  });

  test.each([
    ['glTF2/wrongTypes/badArray.gltf', /scenes\[0\]|array/i],
    ['glTF2/wrongTypes/badUint.gltf', /baseColorTexture\.index/],
    ['glTF2/wrongTypes/badNumber.gltf', /number/],
    ['glTF2/TestNoRootNode/NoScene.gltf', /./],
    ['glTF2/IndexOutOfRange/IndexOutOfRange.gltf', /./],
  ])('the broken %s is refused with a sentence', async (path, sentence) => {
    const beside = (uri: string) =>
      Promise.resolve(openData(`${path.slice(0, path.lastIndexOf('/'))}/${uri}`));
    const text = await refusal(openData(path), beside);
    expect(text).toMatch(sentence);
    expect(text).toMatch(/^[A-Z].*\.$/s);
  });

  test('glTF 1.0 is refused by its version', async () => {
    expect(await refusal(openData('glTF/TwoBoxes/TwoBoxes.gltf'))).toMatch(/glTF 1\.\d|glTF 2\.0/);
    expect(await refusal(encode({ asset: { version: '1.0' } }))).toMatch(
      /is glTF 1\.0; Kneader reads glTF 2\.0/,
    );
  });

  test('morph weights are read as channels of the node that has the mesh', async () => {
    const document = await new NodeIO().readBinary(await animated('LINEAR'));
    const [animation] = document.getRoot().listAnimations();
    const [buffer] = document.getRoot().listBuffers();
    const positions = document
      .createAccessor()
      .setType('VEC3')
      .setArray(new Float32Array(9))
      .setBuffer(buffer!);
    const mesh = document
      .createMesh()
      .addPrimitive(
        document
          .createPrimitive()
          .setAttribute('POSITION', positions)
          .addTarget(document.createPrimitiveTarget().setAttribute('POSITION', positions)),
      );
    const face = document.createNode('face').setMesh(mesh);
    document.getRoot().listScenes()[0]!.addChild(face);
    const sampler = document
      .createAnimationSampler()
      .setInput(
        document
          .createAccessor()
          .setArray(new Float32Array([0, 1]))
          .setBuffer(buffer!),
      )
      .setOutput(
        document
          .createAccessor()
          .setArray(new Float32Array([0, 1]))
          .setBuffer(buffer!),
      );
    animation!
      .addSampler(sampler)
      .addChannel(
        document.createAnimationChannel().setTargetNode(face).setTargetPath('weights').setSampler(sampler),
      );
    const { shot } = await readGltf(await new NodeIO().writeBinary(document), 'x');
    const [channel] = sourcesOf(shot)[0]!.morphs[0]!.channels;
    expect(channel).toMatch(/^face\./);
    expect([...curveOf(shot, null, channel!).values]).toEqual([0, 1]);
  });
});
