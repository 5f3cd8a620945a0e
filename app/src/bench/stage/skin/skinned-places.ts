/** Where a figure's vertices stand, worked out by the processor: to find what is touched. The graphics card does the same to draw them. */
import { Matrix4, SkinnedMesh } from 'three';
import type { Mesh, Object3D } from 'three';

export const isSkinned = (object: Object3D): object is SkinnedMesh => object instanceof SkinnedMesh;

/** Joints and their weights, four by four. */
export const SETS = [
  ['skinIndex', 'skinWeight'],
  ['joints_1', 'weights_1'],
] as const;

/** Three numbers for each vertex, in the world: morphs, then up to eight joints (glTF 2.0, 3.7.3.3). */
export function skinnedPlaces(mesh: Mesh): Float32Array {
  const { geometry } = mesh;
  const position = geometry.getAttribute('position');
  const places = new Float32Array(position.count * 3);
  for (let v = 0; v < position.count; v += 1)
    for (let k = 0; k < 3; k += 1) places[v * 3 + k] = position.getComponent(v, k);
  (geometry.morphAttributes['position'] ?? []).forEach((target, i) => {
    const weight = mesh.morphTargetInfluences?.[i] ?? 0;
    if (weight === 0) return;
    for (let v = 0; v < position.count; v += 1)
      for (let k = 0; k < 3; k += 1) places[v * 3 + k]! += weight * target.getComponent(v, k);
  });
  return isSkinned(mesh) ? led(mesh, places) : moved(places, mesh.matrixWorld.elements);
}

function moved(places: Float32Array, m: readonly number[]): Float32Array {
  for (let at = 0; at < places.length; at += 3) {
    const [x, y, z] = [places[at]!, places[at + 1]!, places[at + 2]!];
    for (let k = 0; k < 3; k += 1) places[at + k] = m[k]! * x + m[4 + k]! * y + m[8 + k]! * z + m[12 + k]!;
  }
  return places;
}

function led(
  { geometry, skeleton, bindMatrix, bindMatrixInverse, matrixWorld }: SkinnedMesh,
  places: Float32Array,
): Float32Array {
  moved(places, bindMatrix.elements);
  skeleton.update();
  const bones = skeleton.boneMatrices!;
  const result = new Float32Array(places.length);
  for (const [joints, weights] of SETS) {
    if (!geometry.hasAttribute(joints)) continue;
    const [of, by] = [geometry.getAttribute(joints), geometry.getAttribute(weights)];
    for (let v = 0; v < of.count; v += 1) {
      const at = v * 3;
      const [x, y, z] = [places[at]!, places[at + 1]!, places[at + 2]!];
      for (let k = 0; k < 4; k += 1) {
        const weight = by.getComponent(v, k);
        if (weight === 0) continue;
        const m = of.getComponent(v, k) * 16;
        for (let axis = 0; axis < 3; axis += 1)
          result[at + axis]! +=
            weight *
            (bones[m + axis]! * x +
              bones[m + 4 + axis]! * y +
              bones[m + 8 + axis]! * z +
              bones[m + 12 + axis]!);
      }
    }
  }
  return moved(result, new Matrix4().multiplyMatrices(matrixWorld, bindMatrixInverse).elements);
}
