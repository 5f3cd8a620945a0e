/**
 * One figure with a skin: an instance of a loaded file that shares its geometry and pictures with all others, and stands as evaluation says. The file's nodes get the world of the shot's
 * nodes, in whose centimetres a metre of the file is a hundred.
 */
import { Matrix4, Vector3 } from 'three';
import type { Mesh, Object3D, Raycaster } from 'three';
import { clone } from 'three/examples/jsm/utils/SkeletonUtils.js';
import type { Source } from '@kneader/core';
import type { LoadedSkin } from './load-skin.ts';
import { isSkinned, SETS, skinnedPlaces } from './skinned-places.ts';

const CM_PER_METRE = 100;

export interface SkinFigure {
  readonly root: Object3D;
  readonly meshes: readonly Mesh[];
  readonly hasMorphs: boolean;
  /**
   * @param matrices of the shot's nodes in the world, 16 numbers for each
   * @param values of its channels
   * @param from where the stage puts the figure
   */
  readonly pose: (matrices: Float64Array, values: ArrayLike<number> | null, from: Matrix4) => void;
  /** What this instance alone holds on the graphics card is let go; it is made again where it is drawn again. */
  readonly dispose: () => void;
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
    if (!isSkinned(object)) continue;
    // Its vertices follow its joints alone: where its own node stands counts for nothing (glTF 2.0, 3.7.3.3).
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
    hasMorphs: morphs.length > 0,
    pose(matrices, values, from) {
      objects.forEach((object, i) => {
        const row = rows[i]!;
        if (isSkinned(object)) object.matrixWorld.identity();
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
    dispose() {
      for (const mesh of meshes) if (isSkinned(mesh)) mesh.skeleton.dispose();
    },
    touched(ray) {
      const [first] = meshes
        .flatMap((mesh) => touchOf(mesh, ray) ?? [])
        .sort((one, other) => one.far - other.far);
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

interface Touch {
  readonly mesh: Mesh;
  readonly far: number;
  /** The nearest corner of the triangle. */
  readonly vertex: number;
}

/** The first triangle on a ray, from whichever side. */
function touchOf(mesh: Mesh, { ray, near, far }: Raycaster): Touch | null {
  const places = skinnedPlaces(mesh);
  const { index } = mesh.geometry;
  const corner = (i: number) => (index ? index.getX(i) : i);
  const [a, b, c] = [new Vector3(), new Vector3(), new Vector3()];
  const hit = new Vector3();
  let found: Touch | null = null;
  for (let i = 0; i + 2 < (index?.count ?? places.length / 3); i += 3) {
    a.fromArray(places, corner(i) * 3);
    b.fromArray(places, corner(i + 1) * 3);
    c.fromArray(places, corner(i + 2) * 3);
    if (!ray.intersectTriangle(a, b, c, false, hit)) continue;
    const distance = ray.origin.distanceTo(hit);
    if (distance < near || distance > (found?.far ?? far)) continue;
    const offs = [a, b, c].map((one) => one.distanceToSquared(hit));
    found = { mesh, far: distance, vertex: corner(i + offs.indexOf(Math.min(...offs))) };
  }
  return found;
}

/** The greatest weight of what was touched says who leads it. */
function leadOf({ mesh, vertex }: Touch, idOf: ReadonlyMap<Object3D, string | null>): string | null {
  if (!isSkinned(mesh)) return nodeAbove(mesh, idOf);
  let [most, joint] = [0, -1];
  for (const [joints, weights] of SETS) {
    if (!mesh.geometry.hasAttribute(joints)) continue;
    const [of, by] = [mesh.geometry.getAttribute(joints), mesh.geometry.getAttribute(weights)];
    for (let k = 0; k < 4; k += 1) {
      const weight = by.getComponent(vertex, k);
      if (weight > most) [most, joint] = [weight, of.getComponent(vertex, k)];
    }
  }
  return nodeAbove(mesh.skeleton.bones[joint] ?? mesh, idOf);
}
