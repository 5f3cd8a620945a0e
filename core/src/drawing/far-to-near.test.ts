/** What the painted figure shows on top, against rays into the same solids as meshes (three's raycaster). */
import { expect, test } from '@jest/globals';
import {
  BufferAttribute,
  BufferGeometry,
  DoubleSide,
  Matrix4,
  Mesh,
  MeshBasicMaterial,
  Raycaster,
  Vector3,
} from 'three';
import { DEMO_SHOTS } from '../demo/bakery.ts';
import type { Shot } from '../document/shot.ts';
import { worldAt } from '../evaluation/evaluation.ts';
import { solidMesh } from '../rig/solid-mesh.ts';
import { farToNear } from './far-to-near.ts';
import { project, shapesOf } from './figure-shapes.ts';
import type { FlatView } from './figure-shapes.ts';

/** Pixels are centimetres, and (0, 0, 0) lies at the origin. */
const viewFrom = (turn: number): FlatView => ({ turn, scale: 1, x: 0, y: 0 });
const material = new MeshBasicMaterial({ side: DoubleSide });

/** At how many places a ray meets a part first, and at how many of them another solid lies on top: painted far to near, and by the depth of the whole alone. */
function wrong(shot: Shot, frame: number, turn: number, part: string) {
  const view = viewFrom(turn);
  const world = worldAt(shot, frame);
  const rows = shot.nodes.flatMap((node, row) => (node.character === 'bram' ? [row] : []));
  const nodes = rows.map((row) => shot.nodes[row]!);
  const matrices = Float64Array.from(
    rows.flatMap((row) => [...world.matrices.slice(row * 16, row * 16 + 16)]),
  );
  const shapes = shapesOf(nodes, matrices, view);
  const meshes = nodes.flatMap((node, i) =>
    node.solids.map((solid) => {
      const { positions, indices } = solidMesh(solid);
      const geometry = new BufferGeometry();
      geometry.setAttribute('position', new BufferAttribute(positions, 3));
      geometry.setIndex(new BufferAttribute(indices, 1));
      const mesh = new Mesh(geometry, material);
      mesh.matrixAutoUpdate = false;
      mesh.matrix.copy(new Matrix4().fromArray(matrices.slice(i * 16, i * 16 + 16)));
      mesh.updateMatrixWorld(true);
      return mesh;
    }),
  );
  const owners = nodes.flatMap(({ id, solids }) => solids.map(() => id));
  const painted = farToNear(shapes);
  const byDepth = [...shapes.keys()].sort((a, b) => shapes[a]!.depth - shapes[b]!.depth);
  const top = (order: readonly number[], hit: readonly number[]) =>
    order.findLast((row) => hit.includes(row))!;
  const angle = (turn * Math.PI) / 180;
  // The way of the eye, and what is right and up in its picture.
  const away = new Vector3(-Math.sin(angle), 0, -Math.cos(angle));
  const right = new Vector3(Math.cos(angle), 0, -Math.sin(angle));
  const ofPart = shapes.filter((_, i) => owners[i]!.startsWith(part));
  const [low, high] = [
    Math.min(...shapes.map(({ left }) => left)),
    Math.max(...shapes.map(({ right: end }) => end)),
  ];
  let [seen, late, plain] = [0, 0, 0];
  for (let x = low; x < high; x += 2.3)
    for (let y = 60; y < 200; y += 2.9) {
      // A ray beside the part meets other things first; in a picture y points down.
      if (!ofPart.some((one) => x >= one.left && x <= one.right && -y >= one.top && -y <= one.bottom))
        continue;
      const origin = right.clone().multiplyScalar(x).addScaledVector(away, -500).setY(y);
      const ray = new Raycaster(origin, away);
      const hits = ray.intersectObjects(meshes, false);
      if (hits.length === 0) continue;
      const hit = [
        ...new Set(
          hits.map(({ object }) => meshes.indexOf(object as Mesh<BufferGeometry, MeshBasicMaterial>)),
        ),
      ];
      const met = owners[meshes.indexOf(hits[0]!.object as Mesh<BufferGeometry, MeshBasicMaterial>)]!;
      if (!met.startsWith(part)) continue;
      seen += 1;
      // What lies within a millimetre of the first counts as first.
      const first = hits.filter(({ distance }) => distance < hits[0]!.distance + 0.1);
      const firsts = first.map(({ object }) =>
        meshes.indexOf(object as Mesh<BufferGeometry, MeshBasicMaterial>),
      );
      if (!firsts.includes(top(painted, hit))) late += 1;
      if (!firsts.includes(top(byDepth, hit))) plain += 1;
    }
  return { seen, late, plain };
}

test('the picture and the rays look the same way', () => {
  expect(project(viewFrom(90), 0, 0, -1)[0]).toBeCloseTo(1, 12);
});

test('the cap shows wherever a ray meets it first, but for few places; by whole depths it comes and goes', () => {
  let [seen, late, plain] = [0, 0, 0];
  for (const { make } of DEMO_SHOTS.filter((_, k) => k % 2 === 0)) {
    const shot = make();
    for (const [at, turn] of [
      [0, 28],
      [0.4, 28],
      [0.7, 0],
    ] as const) {
      const one = wrong(shot, Math.round(at * shot.range.end), turn, 'cap');
      seen += one.seen;
      late += one.late;
      plain += one.plain;
    }
  }
  expect(seen).toBeGreaterThan(60);
  expect(late / seen).toBeLessThan(0.16);
  expect(plain).toBeGreaterThan(1.3 * late);
});
