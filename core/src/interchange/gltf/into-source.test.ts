/**
 * Characters come back out with nothing changed but their motion. Read before and after by programs that know nothing of Kneader: Khronos' validator, glTF-Transform, and three's loader and
 * mixer. Files: Debian's test models (package assimp-testmodels) and seeded rigs (`testing/skinned-file.ts`).
 */
import { readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import validator from 'gltf-validator';
import { AnimationMixer, LoopOnce, Matrix4, Quaternion, Vector3 } from 'three';
import type { Mesh, Object3D } from 'three';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { curveOf, rigOf, splitChannel, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { sourcesOf } from '../../document/sources.ts';
import { valuesAt, worldAt } from '../../evaluation/evaluation.ts';
import { runEdit } from '../../edits/run-edit.ts';
import { choose, curve, filter, pass } from '../../testing/shot-literals.ts';
import { skinnedFile } from '../../testing/skinned-file.ts';
import { formatOf } from '../formats.ts';
import { readFile } from '../read-file.ts';
import { chunksOf } from './glb-chunks.ts';
import { writeIntoSource } from './write-into-source.ts';

const MODELS = '/usr/share/assimp/models';
const OPEN = [
  'glTF2/simple_skin/simple_skin.gltf',
  'glTF2/glTF-Sample-Models/AnimatedMorphCube-glTF/AnimatedMorphCube.gltf',
  'glTF2/cameras/Cameras.gltf',
  'glTF2/draco/2CylinderEngine.gltf',
  'glTF2/2CylinderEngine-glTF-Binary/2CylinderEngine.glb',
  'glTF2/BoxTextured-glTF/BoxTextured.gltf',
  'glTF2/BoxTextured-glTF-Binary/BoxTextured.glb',
  ...[0, 3, 6].map((n) => `glTF2/glTF-Asset-Generator/Mesh_PrimitiveMode/Mesh_PrimitiveMode_0${n}.gltf`),
];

const openModel = (path: string) => {
  const place = join(MODELS, path);
  const neighbour = (uri: string) => Promise.resolve(new Uint8Array(readFileSync(join(dirname(place), uri))));
  return readFile(path.slice(path.lastIndexOf('/') + 1), new Uint8Array(readFileSync(place)), { neighbour });
};
type Read = Awaited<ReturnType<typeof openModel>>;

interface Json extends Record<string, unknown> {
  accessors?: unknown[];
  bufferViews?: unknown[];
  buffers?: { byteLength: number; uri?: string }[];
  images?: { uri?: string }[];
  nodes?: Record<string, unknown>[];
  animations?: { name?: string; extras?: Record<string, unknown> }[];
}
const jsonOf = (bytes: Uint8Array) => JSON.parse(chunksOf(bytes).text) as Json;
const written = async ({ shot, files }: Pick<Read, 'shot' | 'files'>, ending = '.glb') => {
  const bytes = await formatOf(`x${ending}`)!.write(shot, files);
  return bytes as Uint8Array;
};
const filesOf = ({ shot, files }: Read) => files!.get(sourcesOf(shot)[0]!.id)!;

/** A node whose place is said in one way: what moves must not say it by a matrix (glTF 2.0, 3.5.3). */
function placed(node: Record<string, unknown>) {
  const {
    matrix,
    translation = [0, 0, 0],
    rotation = [0, 0, 0, 1],
    scale = [1, 1, 1],
    ...rest
  } = node as {
    [name: string]: number[] | undefined;
  };
  const made = matrix
    ? new Matrix4().fromArray(matrix)
    : new Matrix4().compose(new Vector3(...translation), new Quaternion(...rotation), new Vector3(...scale));
  return { ...rest, matrix: made.elements.map((value) => Math.round(value * 1e4) / 1e4 + 0) };
}

/** All that animations do not need is what it was; their accessors, views and bytes come behind those that were there. */
function expectKept(before: Uint8Array, after: Uint8Array): void {
  const [a, b] = [jsonOf(before), jsonOf(after)];
  const rest = ({
    animations: _,
    accessors: __,
    bufferViews: ___,
    buffers: ____,
    images: _____,
    ...more
  }: Json) => more;
  expect({ ...rest(b), nodes: b.nodes?.map(placed) }).toEqual({ ...rest(a), nodes: a.nodes?.map(placed) });
  expect((b.accessors ?? []).slice(0, a.accessors?.length ?? 0)).toEqual(a.accessors ?? []);
  expect((b.bufferViews ?? []).slice(0, a.bufferViews?.length ?? 0)).toEqual(a.bufferViews ?? []);
  const [dataA, dataB] = [chunksOf(before).blob, chunksOf(after).blob];
  if (!dataA) return;
  const length = a.buffers![0]!.byteLength;
  expect(Buffer.compare(dataB!.subarray(0, length), dataA.subarray(0, length))).toBe(0);
}

const errorsIn = async (bytes: Uint8Array) => {
  const { issues } = await validator.validateBytes(bytes, { maxIssues: 1000 });
  return issues.messages
    .filter(({ severity }) => severity === 0)
    .map(({ code, pointer = '' }) => `${code} ${pointer}`);
};

/** Something of everything: each control that can turn is turned a little more as time goes, and each weight grows. */
function reworked(shot: Shot): Shot {
  const { end } = shot.range;
  const changed = new Map(
    rigOf(shot).channels.flatMap(({ id, name }) => {
      if (name === 'rz') return [[id, curve([0, 4, 7.5, -9, end, 12])] as const];
      if (name === 'tx') return [[id, curve([0, 0, end, 3])] as const];
      return /^[trs][xyz]$/.test(name) ? [] : [[id, curve([0, 0, 9, 0.8, end, 0.1])] as const];
    }),
  );
  return withCurves(shot, null, changed);
}

describe.each(OPEN)('%s', (path) => {
  test('goes through as it came but for its motion, and no error is added', async () => {
    const read = await openModel(path);
    const main = filesOf(read)[0]!.bytes;
    const ending = path.slice(path.lastIndexOf('.'));
    const shot = reworked(read.shot);
    const after = await written({ ...read, shot }, ending);
    expectKept(main, after);
    const isNew = (errors: string[]) => errors.filter((one) => !one.startsWith('IO_ERROR'));
    const before = isNew(await errorsIn(main));
    expect(isNew(await errorsIn(after))).toEqual(before);
    // What lay beside it is in it now.
    const { buffers = [], images = [] } = jsonOf(after);
    for (const { uri } of [...buffers, ...images]) expect(uri ?? 'data:').toMatch(/^data:/);
    const again = await readFile(`again${ending}`, after);
    expect(again.shot.nodes.map(({ id }) => id)).toEqual(shot.nodes.map(({ id }) => id));
  });
});

const SEEDS = [1, 2, 3, 4, 5, 6];

/** World matrices of the file's named nodes and weights of its meshes at a time, by three. */
async function byThree(bytes: Uint8Array, animation: number) {
  const { scene, animations, parser } = await new GLTFLoader().parseAsync(bytes.slice().buffer, '');
  const mixer = new AnimationMixer(scene);
  const action = mixer.clipAction(animations[animation]!).setLoop(LoopOnce, 1);
  action.clampWhenFinished = true;
  action.play();
  const objects = new Map<number, Object3D>();
  scene.traverse((object) => {
    const at = parser.associations.get(object);
    if (at?.nodes !== undefined) objects.set(at.nodes, object);
  });
  return (seconds: number) => {
    action.paused = false;
    mixer.setTime(seconds);
    scene.updateMatrixWorld(true);
    return {
      matrix: (node: number) => objects.get(node)!.matrixWorld,
      weights: (node: number) => (objects.get(node) as Mesh).morphTargetInfluences ?? [],
    };
  };
}

describe.each(SEEDS)('a seeded rig of two skins, eight weights, negative and uneven scales (%d)', (seed) => {
  const opened = async (animation = seed % 2) => {
    const bytes = await skinnedFile(seed, { animations: 3, isNamed: seed % 3 !== 0 });
    const read = await readFile('someone.glb', bytes, { animation });
    return { bytes, read };
  };

  test('what was made of its motion is what three shows of the file; nothing else is another', async () => {
    const { bytes, read } = await opened();
    const shot = reworked(read.shot);
    const after = await written({ ...read, shot });
    expectKept(bytes, after);
    expect(await errorsIn(after)).toEqual([]);
    const source = sourcesOf(shot)[0]!;
    const at = await byThree(after, seed % 2);
    const rig = rigOf(shot);
    const [body, coat] = source.morphs.map(({ node }) => node);
    for (const frame of [0, 3.4, 7.5, 13, 15]) {
      const shown = at(frame / 24);
      const { matrices } = worldAt(shot, frame);
      source.nodes.forEach((id, node) => {
        // What has a skin stands where its joints say.
        if (node === body || node === coat) return;
        const ours = matrices.subarray(rig.indexOf(id!) * 16, rig.indexOf(id!) * 16 + 16);
        shown.matrix(node).elements.forEach((value, k) => {
          const unit = k >= 12 && k < 15 ? 100 : 1;
          expect(Math.abs(value * unit - ours[k]!)).toBeLessThan(k >= 12 ? 0.02 : 2e-3);
        });
      });
      const values = valuesAt(shot, frame);
      for (const { node, channels } of source.morphs)
        channels.forEach((channel, i) =>
          expect(shown.weights(node)[i]).toBeCloseTo(values[rig.channelIndex(channel)]!, 4),
        );
    }
  });

  test('unchanged it plays as it did, weights in steps and splines too', async () => {
    for (const animation of [0, 1, 2]) {
      const { bytes, read } = await opened(animation);
      const [before, after] = await Promise.all([
        byThree(bytes, animation),
        byThree(await written(read), animation),
      ]);
      for (const seconds of [0, 0.11, 0.33, 0.6]) {
        const [a, b] = [before(seconds), after(seconds)];
        for (const { node } of sourcesOf(read.shot)[0]!.morphs)
          b.weights(node).forEach((weight, i) => expect(weight).toBeCloseTo(a.weights(node)[i]!, 5));
        for (let node = 0; node < 5; node += 1)
          b.matrix(node).elements.forEach((value, k) =>
            expect(Math.abs(value - a.matrix(node).elements[k]!)).toBeLessThan(1e-3),
          );
      }
    }
  });

  test('the other animations stay, one is replaced by its name, one is added, and a file that is written again does not grow', async () => {
    const { bytes, read } = await opened(1);
    const source = sourcesOf(read.shot)[0]!;
    const files = filesOf(read);
    const out = (name: string) => ({ shot: read.shot, source, name });
    const first = writeIntoSource(files, [{ ...out('Walk'), index: 1 }, out('Wave')], '.glb').bytes;
    const names = (of: Uint8Array) => jsonOf(of).animations!.map(({ name }) => name);
    expect(names(first)).toEqual([
      jsonOf(bytes).animations![0]!.name,
      'Walk',
      jsonOf(bytes).animations![2]!.name,
      'Wave',
    ]);
    expect(jsonOf(first).animations![0]).toEqual(jsonOf(bytes).animations![0]);
    expect(jsonOf(first).animations![1]!.extras!['bpm']).toBe(91);
    const again = await readFile('someone.glb', first, { animation: 'Wave' });
    expect(again.shot.range).toEqual(read.shot.range);
    const second = writeIntoSource(
      filesOf(again),
      [{ shot: again.shot, source: sourcesOf(again.shot)[0]!, name: 'Wave' }],
      '.glb',
    ).bytes;
    expect(Math.abs(second.byteLength - first.byteLength)).toBeLessThan(600);
    expect(jsonOf(second).accessors!.length).toBe(jsonOf(first).accessors!.length);
    expect(await errorsIn(second)).toEqual([]);
  });

  test('keys come back as they were set, of weights and of turns', async () => {
    const { read } = await opened();
    const shot = reworked(read.shot);
    const again = await readFile('x.glb', await written({ ...read, shot }), { animation: seed % 2 });
    // Turns whose samples stray too far from their keys are said.
    const changed = again.findings.find(({ code }) => code === 'gltfKeysChanged')?.sentence ?? '';
    expect(changed.split(',').length).toBeLessThan(3);
    for (const { id, name } of rigOf(shot).channels) {
      if (name !== 'rz' && /^[trs][xyz]$/.test(name)) continue;
      const { node } = splitChannel(id);
      // What is as dense as captured motion comes back from the tracks (`own-keys.ts`).
      const keys = ['rx', 'ry', 'rz'].map((one) => curveOf(shot, null, `${node}.${one}`).times.length);
      if (name === 'rz' && (changed.includes(node) || Math.max(...keys) > 16 + shot.range.end / 2)) continue;
      const [a, b] = [curveOf(shot, null, id), curveOf(again.shot, null, id)];
      expect([id, ...b.times]).toEqual([id, ...a.times]);
      b.values.forEach((value, k) => expect(value).toBeCloseTo(a.values[k]!, 5));
    }
  });
});

test.each([1, 2, 4, 5])(
  'weights under a filter in steps, a pass, a loop and a range that cuts them go out as they show (%d)',
  async (seed) => {
    const read = await readFile('x.glb', await skinnedFile(seed, { animations: 1 }));
    const [morphs] = sourcesOf(read.shot)[0]!.morphs;
    const [smile, left, right] = morphs!.channels as [string, string, string];
    const looped = { ...curve([1.5, 0.1, 4, 0.8, 6, 0.1]), leadOut: 'loop' } as const;
    const keyed = withCurves(
      { ...read.shot, range: { start: 2, end: 17 }, rate: { numerator: 24000, denominator: 1001 } },
      null,
      new Map([
        [smile, looped],
        [left, curve([0, 0, 9.25, 1, 20, 0.3])],
        [right, { ...curve([3, 0.2, 8, 0.9]), leadIn: 'slope', leadOut: 'swing' }],
      ]),
    );
    const row = rigOf(keyed).indexOf('body right');
    const curves = keyed.nodes.map((_, i) => (i === row ? { blink: curve([4, 0, 11, 0.5]) } : undefined));
    const shot: Shot = {
      ...keyed,
      layers: [
        filter('step', ['body left'], {}, { id: 'steps' }),
        pass('lift', { members: ['body right'], curves }),
      ],
    };
    const at = await byThree(await written({ ...read, shot }), 0);
    const rig = rigOf(shot);
    for (const frame of [2, 3, 5, 7.5, 10, 12, 14, 16.5]) {
      const values = valuesAt(shot, frame);
      const weights = at(((frame - 2) * 1001) / 24000).weights(morphs!.node);
      morphs!.channels.forEach((channel, i) =>
        expect([frame, channel, Math.abs(weights[i]! - values[rig.channelIndex(channel)]!) < 0.002]).toEqual([
          frame,
          channel,
          true,
        ]),
      );
    }
  },
);

describe('morph targets are channels', () => {
  test('pairs by name stand on controls of their sides; what is 0.25 where nothing moves it is 0.25', async () => {
    const { shot } = await readFile('x.glb', await skinnedFile(9, { animations: 0 }));
    const channels = rigOf(shot)
      .channels.map(({ id }) => id)
      .filter((id) => !/\.[trs][xyz]$/.test(id));
    expect(channels).toEqual([
      'body.smile',
      'coat.smile',
      'body left.blink',
      'body right.blink',
      'coat left.blink',
      'coat right.blink',
    ]);
    const left = shot.nodes.find(({ id }) => id === 'body left')!;
    expect([left.side, left.pair, left.parent]).toEqual(['left', 'body right', 'body']);
    expect([...curveOf(shot, null, 'body.smile').values]).toEqual([0.25]);
  });

  test('a flip exchanges them, and the file has it so', async () => {
    const read = await readFile('x.glb', await skinnedFile(9, { animations: 1 }));
    const shot = withCurves(
      read.shot,
      null,
      new Map([
        ['body left.blink', curve([0, 0.9, 10, 0.2])],
        ['body right.blink', curve([0, 0.1, 10, 0.6])],
      ]),
    );
    const { shot: flipped } = runEdit(
      'poses.flip',
      shot,
      choose({ channels: ['body left.blink', 'body right.blink'] }),
      { frame: 0 },
    );
    const at = await byThree(await written({ ...read, shot: flipped }), 0);
    const body = sourcesOf(shot)[0]!.morphs[0]!.node;
    expect(
      at(0)
        .weights(body)
        .slice(1)
        .map((one) => Math.round(one * 1e4) / 1e4),
    ).toEqual([0.1, 0.9]);
  });

  test('names that place nodes or say how much holds are none of a channel; numbers where there are no names', async () => {
    const odd = ['tx', 'follow', 'a.b', '', 'a.b'];
    const { shot } = await readFile('x.glb', await skinnedFile(4, { animations: 0, targets: odd }));
    const names = shot.nodes.find(({ id }) => id === 'body')!.channels;
    expect(names).toEqual(['morph tx', 'morph follow', 'a_b', 'morph 4', 'a_b 2']);
  });
});

test('what has no place in the file is said; what is needed beside it and is not there too', async () => {
  const read = await readFile('someone.glb', await skinnedFile(2));
  const stranger = { ...read.shot.nodes[0]!, id: 'lantern', parent: null, pair: null, channels: ['ry'] };
  const shot = withCurves(
    { ...read.shot, nodes: [...read.shot.nodes, stranger] },
    null,
    new Map([['lantern.ry', curve([0, 0, 9, 30])]]),
  );
  expect(
    formatOf('x.glb')!
      .lost(shot, read.files)
      .map(({ sentence }) => sentence),
  ).toEqual(['“someone.glb” has no place for the motion of lantern: it stays in the shot.']);
  const bytes = new Uint8Array(
    readFileSync(join(MODELS, 'glTF/CesiumMilkTruck/../../glTF2/cameras/Cameras.gltf')),
  );
  const alone = await readFile('Cameras.gltf', bytes);
  expect(alone.findings.map(({ sentence }) => sentence).slice(1)).toEqual([
    expect.stringContaining('simpleSquare.bin is not there, which “Cameras” needs'),
  ]);
  expect([alone.files, alone.shot.sources, alone.shot.nodes.length]).toEqual([undefined, undefined, 3]);
});
