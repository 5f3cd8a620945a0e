/** Character files of every kind: humanoids, packed shapes, zips, and what is wrong with them. */
import { describe, expect, test } from '@jest/globals';
import { Document, WebIO } from '@gltf-transform/core';
import { zipSync } from 'fflate';
import validator from 'gltf-validator';
import { MeshoptEncoder } from 'meshoptimizer';
import { InputError } from '../base/finding.ts';
import { castShot } from '../document/cast.ts';
import { rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { sourcesOf } from '../document/sources.ts';
import { bramInOneSkin } from '../demo/bram-skin.ts';
import { computeWorld, newWorldPose } from '../rig/pose.ts';
import { skinnedFile } from '../testing/skinned-file.ts';
import { RATE } from '../testing/shot-literals.ts';
import { formatOf } from './formats.ts';
import { chunksOf, glbOf } from './gltf/glb-chunks.ts';
import { readFile } from './read-file.ts';
import { digestOf } from './source/source-files.ts';

const refusalOf = async (name: string, bytes: Uint8Array): Promise<string> => {
  try {
    await readFile(name, bytes);
  } catch (error) {
    if (error instanceof InputError) return error.finding.sentence;
    throw error;
  }
  throw new Error('it was read');
};
const sentences = (findings: readonly { sentence: string }[]) => findings.map(({ sentence }) => sentence);

/** The same file with its JSON changed. */
function changed(bytes: Uint8Array, change: (json: Record<string, unknown>) => void): Uint8Array {
  const { text, blob } = chunksOf(bytes);
  const json = JSON.parse(text) as Record<string, unknown>;
  change(json);
  return glbOf({ text: JSON.stringify(json), blob });
}

describe('a humanoid (VRMC_vrm-1.0, VRMC_springBone-1.0; VRM 0.x)', () => {
  // Names that say nothing, or the wrong thing.
  const bones = {
    hips: 0,
    spine: 1,
    leftUpperLeg: 2,
    rightUpperLeg: 3,
    leftLowerArm: 4,
    rightLowerArm: 5,
    head: 6,
  };
  const rows = Object.values(bones);
  const file = async () => {
    const bytes = await skinnedFile(5, { joints: 9, animations: 1 });
    return changed(bytes, (json) => {
      (json['nodes'] as { name: string }[]).forEach(
        (node, i) => (node.name = rows.includes(i) ? `R_${'abcdefghi'[i]}` : node.name),
      );
      json['extensionsUsed'] = ['VRMC_vrm', 'VRMC_springBone'];
      json['extensions'] = {
        VRMC_vrm: {
          specVersion: '1.0',
          humanoid: {
            humanBones: Object.fromEntries(Object.entries(bones).map(([bone, node]) => [bone, { node }])),
          },
        },
        VRMC_springBone: {
          specVersion: '1.0',
          springs: [{ name: 'hair', joints: [{ node: 7 }, { node: 8 }] }, { joints: [{ node: 6 }] }],
        },
      };
    });
  };

  test('its map says sides, pairs and parts, whatever the nodes are called; springs are chosen together', async () => {
    const { shot } = await readFile('someone.vrm', await file());
    const said = (row: number) => (({ side, pair, part }) => [side, pair, part])(shot.nodes[row]!);
    expect(said(2)).toEqual(['left', 'R_d', 'leg']);
    expect(said(3)).toEqual(['right', 'R_c', 'leg']);
    expect(said(4)).toEqual(['left', 'R_f', 'arm']);
    expect(said(0)).toEqual(['centre', 'R_a', 'torso']);
    expect(said(6)).toEqual(['centre', 'R_g', 'head']);
    expect(shot.selectionSets?.map(({ name, nodes }) => [name, nodes])).toEqual([
      ['hair', ['bone 7', 'bone 8']],
      ['Spring 2', ['R_g']],
    ]);
  });

  test('it goes back as it came, with its extensions', async () => {
    const bytes = await file();
    const { shot, files } = await readFile('someone.vrm', bytes);
    const back = (await formatOf('x.vrm')!.write(shot, files)) as Uint8Array;
    expect((JSON.parse(chunksOf(back).text) as Record<string, unknown>)['extensions']).toEqual(
      (JSON.parse(chunksOf(bytes).text) as Record<string, unknown>)['extensions'],
    );
    expect(() => formatOf('x.vrm')!.write(shot)).toThrow(/only for a shot whose character came in one/);
  });

  test('the older form is read as well', async () => {
    const bytes = changed(await file(), (json) => {
      json['extensions'] = {
        VRM: {
          humanoid: { humanBones: Object.entries(bones).map(([bone, node]) => ({ bone, node })) },
          secondaryAnimation: { boneGroups: [{ comment: 'tail', bones: [8] }] },
        },
      };
    });
    const { shot } = await readFile('older.vrm', bytes);
    expect([shot.nodes[2]!.side, shot.nodes[2]!.pair]).toEqual(['left', 'R_d']);
    expect(shot.selectionSets?.map(({ name }) => name)).toEqual(['tail']);
  });
});

test('buffer views that are packed (EXT_meshopt_compression) are read as they were, and go back packed', async () => {
  const bytes = await skinnedFile(6, { animations: 2 });
  await MeshoptEncoder.ready;
  const { text, blob } = chunksOf(bytes);
  const json = JSON.parse(text) as {
    accessors: {
      bufferView: number;
      byteOffset?: number;
      componentType: number;
      count: number;
      type: string;
    }[];
    bufferViews: Record<string, unknown>[];
    buffers: { byteLength: number }[];
    animations: { samplers: { output: number }[] }[];
  };
  // The view in which the animations' values stand, packed.
  const view = json.accessors[json.animations[0]!.samplers[0]!.output]!.bufferView;
  const one = json.bufferViews[view] as { byteOffset?: number; byteLength: number; byteStride?: number };
  const source = blob!.subarray(one.byteOffset ?? 0, (one.byteOffset ?? 0) + one.byteLength);
  const stride = one.byteStride ?? 16;
  const count = Math.floor(one.byteLength / stride);
  const packed = MeshoptEncoder.encodeGltfBuffer(
    source.slice(0, count * stride),
    count,
    stride,
    'ATTRIBUTES',
  );
  const start = Math.ceil(blob!.byteLength / 4) * 4;
  const whole = new Uint8Array(start + packed.byteLength);
  whole.set(blob!);
  whole.set(packed, start);
  // The bytes that stood there say something else now: whoever reads them instead is found out.
  whole.fill(0, one.byteOffset ?? 0, (one.byteOffset ?? 0) + one.byteLength);
  json.buffers[0]!.byteLength = whole.byteLength;
  json.bufferViews[view] = {
    ...one,
    extensions: {
      EXT_meshopt_compression: {
        buffer: 0,
        byteOffset: start,
        byteLength: packed.byteLength,
        byteStride: stride,
        count,
        mode: 'ATTRIBUTES',
      },
    },
  };
  const glb = glbOf({
    text: JSON.stringify({
      ...json,
      extensionsUsed: ['EXT_meshopt_compression'],
      extensionsRequired: ['EXT_meshopt_compression'],
    }),
    blob: whole,
  });
  const [plain, read] = [await readFile('a.glb', bytes), await readFile('a.glb', glb)];
  expect(read.shot.curves).toEqual(plain.shot.curves);
  const back = (await formatOf('x.glb')!.write(read.shot, read.files)) as Uint8Array;
  const views = (JSON.parse(chunksOf(back).text) as { bufferViews: object[] }).bufferViews;
  expect(views.slice(0, json.bufferViews.length)).toEqual(json.bufferViews);
});

describe('solids from the skin', () => {
  test('of Bram: nine of ten vertices that a joint leads lie in its capsule, and none is twice as long as what it holds', async () => {
    const bytes = await bramInOneSkin();
    const { shot } = await readFile('Bram.glb', bytes);
    const document = await new WebIO().readBinary(bytes);
    const primitive = document.getRoot().listMeshes()[0]!.listPrimitives()[0]!;
    const [position, joints, weights] = ['POSITION', 'JOINTS_0', 'WEIGHTS_0'].map((name) =>
      primitive.getAttribute(name)!,
    );
    const rig = rigOf(shot);
    const pose = newWorldPose(rig);
    computeWorld(
      rig,
      rig.channels.map(({ rest }) => rest),
      pose,
    );
    const names = document
      .getRoot()
      .listSkins()[0]!
      .listJoints()
      .map((joint) => joint.getName());
    const inside = new Map<string, [held: number, all: number]>();
    for (let v = 0; v < position!.getCount(); v += 1) {
      const led = weights!.getElement(v, [0, 0, 0, 0]);
      const id = names[joints!.getElement(v, [0, 0, 0, 0])[led.indexOf(Math.max(...led))]!]!;
      const row = rig.indexOf(id);
      const [solid] = shot.nodes[row]!.solids;
      if (solid?.kind !== 'capsule') continue;
      // Nobody is turned at rest.
      const local = position!
        .getElement(v, [0, 0, 0])
        .map((m, k) => m * 100 - pose.matrices[row * 16 + 12 + k]!);
      const axis = solid.to.map((to, k) => to - solid.from[k]!);
      const length = axis.reduce((sum, part) => sum + part * part, 0) || 1;
      const u = Math.min(
        1,
        Math.max(0, local.reduce((sum, part, k) => sum + (part - solid.from[k]!) * axis[k]!, 0) / length),
      );
      const off = Math.hypot(...local.map((part, k) => part - solid.from[k]! - u * axis[k]!));
      const [held, all] = inside.get(id) ?? [0, 0];
      inside.set(id, [
        held + (off <= solid.radiusFrom + u * (solid.radiusTo - solid.radiusFrom) + 0.3 ? 1 : 0),
        all + 1,
      ]);
    }
    expect(inside.size).toBeGreaterThan(30);
    const sums = [...inside.values()].reduce(([a, b], [held, all]) => [a + held, b + all], [0, 0]);
    expect(sums[0] / sums[1]).toBeGreaterThan(0.9);
    const thigh = shot.nodes.find(({ id }) => id === 'thigh_l')!.solids[0]!;
    expect(
      thigh.kind === 'capsule' && Math.hypot(...thigh.to.map((to, k) => to - thigh.from[k]!)),
    ).toBeLessThan(60);
  });

  test('weights that are none are said with their number, and the file is kept', async () => {
    const io = new WebIO();
    const document = await io.readBinary(await skinnedFile(7, { sets: 1 }));
    const [mesh] = document.getRoot().listMeshes();
    const weights = mesh!.listPrimitives()[0]!.getAttribute('WEIGHTS_0')!;
    const joints = mesh!.listPrimitives()[0]!.getAttribute('JOINTS_0')!;
    weights.setElement(3, [NaN, 0, 0, 0]);
    weights.setElement(4, [0, 0, 0, 0.2]);
    joints.setElement(5, [77, 0, 0, 0]);
    weights.setElement(5, [1, 0, 0, 0]);
    const { findings, files } = await readFile('x.glb', await io.writeBinary(document));
    expect(sentences(findings)).toContainEqual(expect.stringMatching(/^3 vertices of “body” have weights/));
    expect(files?.size).toBe(1);
  });
});

test('morph targets that are mirror images and say nothing of sides are a pair, by their shapes', async () => {
  const document = new Document();
  const buffer = document.createBuffer();
  const vec3 = (list: readonly number[]) =>
    document.createAccessor().setType('VEC3').setArray(Float32Array.from(list)).setBuffer(buffer);
  const places = [0.3, 1, 0, -0.3, 1, 0, 0, 1.2, 0.1, 0.2, 0.9, 0.1, -0.2, 0.9, 0.1];
  const primitive = document.createPrimitive().setAttribute('POSITION', vec3(places));
  const target = (name: string, ways: readonly number[]) =>
    primitive.addTarget(document.createPrimitiveTarget(name).setAttribute('POSITION', vec3(ways)));
  target('A12', [0.05, 0.02, 0.01, 0, 0, 0, 0, 0, 0, 0.02, 0, 0, 0, 0, 0]);
  target('wide', [0.1, 0, 0, -0.1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0]);
  target('C3', [0, 0, 0, -0.05, -0.09, 0.01, 0, 0, 0, 0, 0, 0, 0.3, 0, 0]);
  target('B7', [0, 0, 0, -0.05, 0.02, 0.01, 0, 0, 0, 0, 0, 0, -0.02, 0, 0]);
  const node = document.createNode('mask').setMesh(document.createMesh('mask').addPrimitive(primitive));
  document.createScene().addChild(node);
  const { shot } = await readFile('x.glb', await new WebIO().writeBinary(document));
  expect(sourcesOf(shot)[0]!.morphs[0]!.channels).toEqual([
    'mask left.A12-B7',
    'mask.wide',
    'mask.C3',
    'mask right.A12-B7',
  ]);
  const [left, right] = ['mask left', 'mask right'].map((id) => shot.nodes.find((one) => one.id === id)!);
  expect([left!.pair, right!.pair]).toEqual(['mask right', 'mask left']);
  // They are found where they act.
  expect(left!.rest.translation[0]).toBeGreaterThan(20);
  expect(right!.rest.translation[0]).toBeLessThan(-20);
});

describe('a shot and its characters in a zip', () => {
  const made = async () => {
    const read = await readFile('someone.glb', await skinnedFile(8));
    return { read, zip: (await formatOf('x.kneader.zip')!.write(read.shot, read.files)) as Uint8Array };
  };
  const again = (zip: Uint8Array) => readFile('someone.kneader.zip', zip);

  test('opens as it was, to the byte, and says nothing', async () => {
    const { read, zip } = await made();
    const { shot, files, findings } = await again(zip);
    expect([shot, files, findings]).toEqual([read.shot, read.files, []]);
    expect(formatOf('x.kneader.zip')!.lost(read.shot, read.files)).toEqual([]);
  });

  test('whatever kind of file cannot take the character along says so with his name', async () => {
    const { read } = await made();
    for (const ending of ['.kneader.json', '.bvh', '.csv', '.glb', '.kneader.zip'])
      expect(sentences(formatOf(`x${ending}`)!.lost(read.shot)).join()).toContain('someone.glb');
    const text = (await formatOf('x.kneader.json')!.write(read.shot)) as string;
    const { shot } = await readFile('x.kneader.json', new TextEncoder().encode(text));
    expect(shot.sources).toEqual(read.shot.sources);
  });

  test('without the file, with another, with a broken one, or as no zip at all', async () => {
    const { read } = await made();
    const shot = new TextEncoder().encode((await formatOf('x.kneader.json')!.write(read.shot)) as string);
    const { id } = sourcesOf(read.shot)[0]!;
    const lone = await again(zipSync({ 'shot.kneader.json': shot }));
    expect(sentences(lone.findings)).toEqual([
      '“someone.glb”, in which a character came, is not in the zip: he is drawn from solids.',
    ]);
    const other = await again(
      zipSync({ 'shot.kneader.json': shot, [`sources/${id}/main/someone.glb`]: shot }),
    );
    expect([sentences(other.findings)[0], other.files?.size]).toEqual([
      expect.stringContaining('is not the file in which'),
      0,
    ]);
    expect(await refusalOf('x.zip', new Uint8Array([80, 75, 3, 4, 9, 9, 9]))).toBe(
      'It is no zip that can be read.',
    );
    expect(await refusalOf('x.zip', zipSync({ 'readme.txt': shot }))).toMatch(
      /neither a shot .* nor a character/,
    );
    expect(await refusalOf('x.zip', zipSync({ 'a.glb': shot, 'b.glb': shot }))).toMatch(
      /several characters \(a\.glb, b\.glb\)/,
    );
    const broken = zipSync({ 'shot.kneader.json': [shot, { level: 0 }] });
    broken[60]! ^= 0xff;
    expect(await refusalOf('x.zip', broken)).toMatch(/“shot\.kneader\.json” in the zip is damaged/);
  });

  test('a zip of a .gltf in its folder opens with what lies beside it', async () => {
    const bytes = await skinnedFile(9);
    const { text, blob } = chunksOf(bytes);
    const json = JSON.parse(text) as { buffers: { uri?: string }[] };
    json.buffers[0]!.uri = 'data/of%20it.bin';
    const zip = zipSync({
      'one/one.gltf': new TextEncoder().encode(JSON.stringify(json)),
      'one/data/of it.bin': blob!,
      '__MACOSX/one/._one.gltf': new Uint8Array([1]),
    });
    const { shot, files } = await readFile('one.zip', zip);
    const { id, name } = sourcesOf(shot)[0]!;
    expect([name, files!.get(id)!.map((one) => one.name)]).toEqual([
      'one.gltf',
      ['one.gltf', 'data/of it.bin'],
    ]);
    const whole = (await formatOf('x.glb')!.write(shot, files)) as Uint8Array;
    expect((await validator.validateBytes(whole)).issues.numErrors).toBe(0);
    expect((await readFile('x.glb', whole)).shot.nodes.length).toBe(shot.nodes.length);
  });
});

test('a digest is that of what the files hold, whatever the first is called', async () => {
  const [a, b] = [new Uint8Array([1, 2, 3]), new Uint8Array([4])];
  const of = (...files: [string, Uint8Array][]) => digestOf(files.map(([name, bytes]) => ({ name, bytes })));
  expect(await of(['x.glb', a])).toBe(await of(['y.glb', a]));
  expect(await of(['x.glb', a])).not.toBe(await of(['x.glb', b]));
  expect(await of(['x.gltf', a], ['p.bin', b])).not.toBe(await of(['x.gltf', a], ['q.bin', b]));
  expect(await of(['x.gltf', a])).toMatch(/^[0-9a-f]{64}$/);
});

test('whoever comes into another shot brings his file along, under his new name', async () => {
  const { shot } = await readFile('someone.glb', await skinnedFile(3, { animations: 0 }));
  const other: Shot = {
    ...shot,
    nodes: shot.nodes.map((one) => ({
      ...one,
      id: `b ${one.id}`,
      parent: one.parent && `b ${one.parent}`,
      pair: one.pair && `b ${one.pair}`,
    })),
  };
  const both = castShot(
    'Both',
    [shot, other].map((one) => ({ shot: one, characters: ['figure'] })),
    RATE,
    24,
  );
  expect(new Set(sourcesOf(both).map(({ character }) => character))).toEqual(
    new Set(both.characters.map(({ id }) => id)),
  );
  expect(sourcesOf(both)).toHaveLength(2);
});
