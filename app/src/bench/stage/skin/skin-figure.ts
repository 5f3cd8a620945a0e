/**
 * One figure with a skin: an instance of a loaded file that shares its geometry and pictures with all others, and stands as evaluation says. The file's nodes get the world of the shot's
 * nodes, in whose centimetres a metre of the file is a hundred.
 */
import { Matrix4, SkinnedMesh, Vector3 } from 'three';
import type { Intersection, Mesh, Object3D, Raycaster } from 'three';
import { clone } from 'three/examples/jsm/utils/SkeletonUtils.js';
import type { Source } from '@kneader/core';
import type { LoadedSkin } from './load-skin.ts';

const CM_PER_METRE = 100;

export interface SkinFigure {
  readonly root: Object3D;
  readonly meshes: readonly Mesh[];
  /**
   * @param matrices of the shot's nodes in the world, 16 numbers for each
   * @param values of its channels
   * @param from where the stage puts the figure
   */
  readonly pose: (matrices: Float64Array, values: ArrayLike<number> | null, from: Matrix4) => void;
  /** Which node of the shot leads what a ray touches first; null where it touches nothing. */
  readonly touched: (ray: Raycaster) => string | null;
}

interface Morph {
  readonly mesh: Mesh;
  readonly channels: readonly number[];
}

/**
 * @param rowOf the row of a node in the shot, −1 where it has none
 * @param channelOf the index of a channel in it, −1 likewise
 */
export function skinFigure(
  { root: template, nodes }: LoadedSkin,
  source: Source,
  rowOf: (node: string) => number,
  channelOf: (channel: string) => number,
): SkinFigure {
  const root = clone(template);
  const objects: Object3D[] = [];
  root.traverse((object) => objects.push(object));
  const ids = nodes.map((node) => (node < 0 ? null : (source.nodes[node] ?? null)));
  const rows = ids.map((id) => (id === null ? -1 : rowOf(id)));
  const idOf = new Map(objects.map((object, i) => [object, ids[i] ?? null]));
  const meshes = objects.filter((object): object is Mesh => 'isMesh' in object);
  for (const object of objects) {
    object.matrixWorldAutoUpdate = false;
    object.matrixAutoUpdate = false;
    object.raycast = () => undefined;
    if (!(object instanceof SkinnedMesh)) continue;
    // Its vertices follow its joints alone: where its own node stands counts for nothing (glTF 2.0, 3.7.3.3).
    object.bindMode = 'detached';
    object.bindMatrixInverse.copy(object.bindMatrix).invert();
    object.frustumCulled = false;
  }
  const morphs = source.morphs.flatMap(({ node, channels }): Morph[] => {
    const places = channels.map(channelOf);
    return meshes.flatMap((mesh) =>
      nodeAbove(mesh, idOf) === source.nodes[node] ? [{ mesh, channels: places }] : [],
    );
  });
  const size = new Matrix4().makeScale(CM_PER_METRE, CM_PER_METRE, CM_PER_METRE);
  return {
    root,
    meshes,
    pose(matrices, values, from) {
      objects.forEach((object, i) => {
        const row = rows[i]!;
        if (object instanceof SkinnedMesh) object.matrixWorld.identity();
        else if (row >= 0)
          object.matrixWorld
            .fromArray(matrices, row * 16)
            .multiply(size)
            .premultiply(from);
        else if (i === 0) object.matrixWorld.copy(from).multiply(size);
        else object.matrixWorld.multiplyMatrices(object.parent!.matrixWorld, object.matrix);
      });
      if (!values) return;
      for (const { mesh, channels } of morphs)
        channels.forEach((channel, i) => {
          if (channel >= 0 && mesh.morphTargetInfluences) mesh.morphTargetInfluences[i] = values[channel]!;
        });
    },
    touched(ray) {
      const hits: Intersection[] = [];
      for (const mesh of meshes) {
        // Bounds are those of the pose in which they were asked for first.
        if (mesh instanceof SkinnedMesh) {
          mesh.computeBoundingSphere();
          mesh.computeBoundingBox();
        }
        Object.getPrototypeOf(mesh).raycast.call(mesh, ray, hits);
      }
      const [first] = hits.sort((a, b) => a.distance - b.distance);
      return first ? leadOf(first, idOf) : null;
    },
  };
}

/** The node that an object stands in, itself among them. */
function nodeAbove(object: Object3D, idOf: ReadonlyMap<Object3D, string | null>): string | null {
  for (let at: Object3D | null = object; at; at = at.parent) {
    const id = idOf.get(at);
    if (id) return id;
  }
  return null;
}

/** Of the three corners that were touched the nearest one's greatest weight says who leads. */
function leadOf(hit: Intersection, idOf: ReadonlyMap<Object3D, string | null>): string | null {
  const { object, face, point } = hit;
  if (!(object instanceof SkinnedMesh) || !face) return nodeAbove(object, idOf);
  const corner = new Vector3();
  const [nearest] = [face.a, face.b, face.c]
    .map((vertex) => ({
      vertex,
      far: object.getVertexPosition(vertex, corner).applyMatrix4(object.matrixWorld).distanceTo(point),
    }))
    .sort((a, b) => a.far - b.far);
  let [most, joint] = [0, -1];
  for (const [joints, weights] of [
    ['skinIndex', 'skinWeight'],
    ['joints_1', 'weights_1'],
  ] as const) {
    const [of, by] = [object.geometry.getAttribute(joints), object.geometry.getAttribute(weights)];
    if (!of || !by) continue;
    for (let k = 0; k < 4; k += 1) {
      const weight = by.getComponent(nearest!.vertex, k);
      if (weight > most) [most, joint] = [weight, of.getComponent(nearest!.vertex, k)];
    }
  }
  const bone = object.skeleton.bones[joint];
  return bone ? nodeAbove(bone, idOf) : nodeAbove(object, idOf);
}
