/**
 * Skinned vertices as the stage has them, against an independent skinning from the file's numbers as glTF-Transform reads them (glTF 2.0, 3.7.3.3: the sum over all sets of weight · joint ·
 * inverse bind · vertex, targets added before). Files: Debian's `simple_skin` (package assimp-testmodels), seeded rigs of eight weights, Bram in one skin.
 *
 * @jest-environment node
 */
import { readFileSync } from 'node:fs';
import { expect, test } from '@jest/globals';
import { WebIO } from '@gltf-transform/core';
import { Matrix4, Raycaster, Vector3, Vector4 } from 'three';
import type { Mesh, SkinnedMesh, WebGLRenderer } from 'three';
import { bramInOneSkin, readFile, rigOf, sourcesOf, valuesAt, worldAt } from '@kneader/core';
import type { SourceFile } from '@kneader/core';
import { skinnedFile } from '../../../../../core/src/testing/skinned-file.ts';
import { loadSkin } from './load-skin.ts';
import { skinFigure } from './skin-figure.ts';
import { skinnedPlaces } from './skinned-places.ts';

const NO_CARD = { extensions: { has: () => false } } as unknown as WebGLRenderer;
const SIMPLE = '/usr/share/assimp/models/glTF2/simple_skin/simple_skin.gltf';

/** As `.glb`: its buffers stand in its text, and are asked for as from a network. */
async function simpleSkin(): Promise<Uint8Array> {
  const json = JSON.parse(readFileSync(SIMPLE, 'utf8')) as { buffers: { uri: string }[] };
  const resources = json.buffers.map(({ uri }) => [uri, dataOf(uri)] as const);
  const io = new WebIO();
  const document = await io.readJSON({ json: json as never, resources: Object.fromEntries(resources) });
  const [first, ...others] = document.getRoot().listBuffers();
  for (const accessor of document.getRoot().listAccessors()) accessor.setBuffer(first!);
  for (const other of others) other.dispose();
  return io.writeBinary(document);
}
const dataOf = (uri: string) => new Uint8Array(Buffer.from(uri.slice(uri.indexOf(',') + 1), 'base64'));

const FILES: readonly (readonly [string, () => Promise<Uint8Array>])[] = [
  ['simple_skin.glb', simpleSkin],
  ...[1, 2, 3, 4].map((seed) => [`seeded ${seed}.glb`, () => skinnedFile(seed)] as const),
  ['Bram in one skin.glb', bramInOneSkin],
];

async function figureOf(name: string, bytes: Uint8Array) {
  const { shot, files } = await readFile(name, bytes);
  const source = sourcesOf(shot)[0]!;
  const rig = rigOf(shot);
  const own: readonly SourceFile[] = files!.get(source.id)!;
  const figure = skinFigure(await loadSkin(own, NO_CARD), source, rig.indexOf, rig.channelIndex);
  return { shot, source, rig, figure };
}

/** What the shader makes of a vertex: three's four joints, and four more where there are any (`skin-materials.ts`). */
function shown(mesh: SkinnedMesh, vertex: number): Vector3 {
  const { geometry, skeleton, bindMatrix, bindMatrixInverse } = mesh;
  const place = new Vector3().fromBufferAttribute(geometry.getAttribute('position'), vertex);
  (geometry.morphAttributes['position'] ?? []).forEach((target, i) => {
    const way = new Vector3().fromBufferAttribute(target, vertex);
    place.addScaledVector(way, mesh.morphTargetInfluences![i]!);
  });
  const sum = new Vector4(0, 0, 0, 0);
  const bone = new Matrix4();
  for (const [joints, weights] of [
    ['skinIndex', 'skinWeight'],
    ['joints_1', 'weights_1'],
  ] as const) {
    if (!geometry.hasAttribute(joints)) continue;
    for (let k = 0; k < 4; k += 1) {
      const joint = geometry.getAttribute(joints).getComponent(vertex, k);
      bone.fromArray(skeleton.boneMatrices!, joint * 16);
      const moved = new Vector4(...place.toArray(), 1).applyMatrix4(bindMatrix).applyMatrix4(bone);
      sum.addScaledVector(moved, geometry.getAttribute(weights).getComponent(vertex, k));
    }
  }
  sum.applyMatrix4(bindMatrixInverse).applyMatrix4(mesh.matrixWorld);
  return new Vector3(sum.x, sum.y, sum.z);
}

test.each(FILES)(
  '%s: every vertex stands within 0.1 mm of an independent skinning',
  async (name, make) => {
    const bytes = await make();
    const { shot, source, rig, figure } = await figureOf(name, bytes);
    const document = await new WebIO().readBinary(bytes);
    const nodes = document.getRoot().listNodes();
    const metre = new Matrix4().makeScale(100, 100, 100);
    let compared = 0;
    for (const frame of [shot.range.start, 3.3, 7.5, shot.range.end]) {
      const { matrices } = worldAt(shot, frame);
      const values = valuesAt(shot, frame);
      figure.pose(matrices, values, new Matrix4());
      for (const mesh of figure.meshes as SkinnedMesh[]) {
        mesh.skeleton.update();
        const places = skinnedPlaces(mesh);
        const node = nodes.findIndex(
          (one, i) => one.getMesh() && source.nodes[i] !== null && meshOf(figure.meshes, mesh, nodes, i),
        );
        const of = nodes[node]!;
        const primitive = of.getMesh()!.listPrimitives()[0]!;
        const [skin, position] = [of.getSkin()!, primitive.getAttribute('POSITION')!];
        const joints = skin.listJoints().map((joint, j) => {
          const row = rig.indexOf(source.nodes[nodes.indexOf(joint)]!);
          const bind = skin.getInverseBindMatrices()!.getElement(j, new Array<number>(16));
          return new Matrix4()
            .fromArray(matrices, row * 16)
            .multiply(metre)
            .multiply(new Matrix4().fromArray(bind));
        });
        const morph = source.morphs.find((one) => one.node === node);
        for (let vertex = 0; vertex < position.getCount(); vertex += name.startsWith('Bram') ? 37 : 1) {
          const at = new Vector3(...position.getElement(vertex, [0, 0, 0]));
          primitive.listTargets().forEach((target, t) => {
            const way = target.getAttribute('POSITION')!.getElement(vertex, [0, 0, 0]);
            at.addScaledVector(new Vector3(...way), values[rig.channelIndex(morph!.channels[t]!)]!);
          });
          const expected = new Vector3();
          for (let set = 0; primitive.getAttribute(`JOINTS_${set}`); set += 1)
            for (let k = 0; k < 4; k += 1) {
              const joint = primitive.getAttribute(`JOINTS_${set}`)!.getElement(vertex, [0, 0, 0, 0])[k]!;
              const weight = primitive.getAttribute(`WEIGHTS_${set}`)!.getElement(vertex, [0, 0, 0, 0])[k]!;
              expected.addScaledVector(at.clone().applyMatrix4(joints[joint]!), weight);
            }
          expect(shown(mesh, vertex).distanceTo(expected)).toBeLessThan(0.01);
          expect(new Vector3().fromArray(places, vertex * 3).distanceTo(expected)).toBeLessThan(0.01);
          compared += 1;
        }
      }
    }
    expect(compared).toBeGreaterThan(30);
  },
  60_000,
);

/** The meshes of the figure stand in the order of the nodes that have one. */
const meshOf = (
  meshes: readonly Mesh[],
  mesh: Mesh,
  nodes: readonly { getMesh(): unknown }[],
  node: number,
) => nodes.slice(0, node).filter((one) => one.getMesh()).length === meshes.indexOf(mesh);

test('touching the skin picks the joint that leads that spot, wherever the pose has brought it', async () => {
  const { shot, rig, figure } = await figureOf('Bram in one skin.glb', await bramInOneSkin());
  const [mesh] = figure.meshes as [SkinnedMesh];
  const { index, attributes } = mesh.geometry;
  const leads = (vertex: number) => {
    const weights = [0, 1, 2, 3].map((k) => attributes['skinWeight']!.getComponent(vertex, k));
    const joint = attributes['skinIndex']!.getComponent(vertex, weights.indexOf(Math.max(...weights)));
    const bone = mesh.skeleton.bones[joint]!;
    return (bone.userData as { name?: string }).name ?? bone.name;
  };
  let [right, all] = [0, 0];
  for (const frame of [0, 8]) {
    figure.pose(worldAt(shot, frame).matrices, null, new Matrix4());
    mesh.skeleton.update();
    for (let t = 0; t < index!.count; t += 3 * 331) {
      const corners = [0, 1, 2].map((k) => index!.getX(t + k));
      const [a, b, c] = corners.map((vertex) => shown(mesh, vertex)) as [Vector3, Vector3, Vector3];
      const out = new Vector3().crossVectors(b.clone().sub(a), c.clone().sub(a)).normalize();
      const middle = a.clone().add(b).add(c).divideScalar(3);
      const found = figure.touched(new Raycaster(middle.addScaledVector(out, 0.3), out.negate(), 0, 0.5));
      all += 1;
      if (found !== null && corners.map(leads).includes(found)) right += 1;
    }
    expect(figure.touched(new Raycaster(new Vector3(500, 900, 0), new Vector3(0, 1, 0)))).toBeNull();
  }
  // The nearest of what lies on the ray: from before him his belly, from behind not.
  const { matrices } = worldAt(shot, 8);
  const belly = new Vector3().setFromMatrixPosition(
    new Matrix4().fromArray(matrices, rig.indexOf('belly') * 16),
  );
  const from = (side: 1 | -1) =>
    figure.touched(
      new Raycaster(belly.clone().add(new Vector3(0, 0, 90 * side)), new Vector3(0, 0, -side), 0, 200),
    );
  expect([from(1), from(-1) === 'belly']).toEqual(['belly', false]);
  // Where one surface lies in another, the outer one is touched.
  expect(right / all).toBeGreaterThan(0.9);
  expect(all).toBeGreaterThan(100);
}, 60_000);

test('two figures of one file share what they are drawn from, and stand on their own', async () => {
  const bytes = await skinnedFile(3);
  const { shot, files } = await readFile('x.glb', bytes);
  const source = sourcesOf(shot)[0]!;
  const rig = rigOf(shot);
  const loaded = await loadSkin(files!.get(source.id)!, NO_CARD);
  const [a, b] = [0, 1].map(() => skinFigure(loaded, source, rig.indexOf, rig.channelIndex)) as [
    ReturnType<typeof skinFigure>,
    ReturnType<typeof skinFigure>,
  ];
  a.pose(worldAt(shot, 0).matrices, null, new Matrix4());
  b.pose(worldAt(shot, 0).matrices, null, new Matrix4().makeTranslation(120, 0, 0));
  a.meshes.forEach((mesh, i) => {
    expect(b.meshes[i]!.geometry).toBe(mesh.geometry);
    const [one, other] = [a, b].map(({ meshes }) => meshes[i] as SkinnedMesh) as [SkinnedMesh, SkinnedMesh];
    [one, other].forEach(({ skeleton }) => skeleton.update());
    const apart = shown(other, 5).sub(shown(one, 5)).toArray();
    expect(apart.map((cm) => Math.round(cm * 100) / 100 + 0)).toEqual([120, 0, 0]);
  });
});
