/** A character's file as three draws it. Whatever the file asks for from beside it comes from what was stored with it; nothing is asked of any network. */
import { BufferAttribute, LoadingManager, Mesh, SkinnedMesh, WebGLRenderer } from 'three';
import type { Material, Object3D, Texture } from 'three';
import { DRACOLoader } from 'three/examples/jsm/loaders/DRACOLoader.js';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import type { GLTFParser } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { KTX2Loader } from 'three/examples/jsm/loaders/KTX2Loader.js';
import { MeshoptDecoder } from 'three/examples/jsm/libs/meshopt_decoder.module.js';
import type { SourceFile } from '@kneader/core';

export interface LoadedSkin {
  readonly root: Object3D;
  /** For each object of `root` in the order of `traverse` the index of the file's node that it is; −1 of what stands within one. */
  readonly nodes: readonly number[];
  readonly triangles: number;
  /** Geometry, materials and pictures are let go. */
  readonly dispose: () => void;
}

/** Rejects where three cannot read it. @param gl for what pictures the card takes */
export async function loadSkin(files: readonly SourceFile[], gl: WebGLRenderer): Promise<LoadedSkin> {
  const addresses = new Map(
    files.slice(1).map(({ name, bytes }) => [name, URL.createObjectURL(new Blob([new Uint8Array(bytes)]))]),
  );
  const manager = new LoadingManager();
  manager.setURLModifier((url) => addresses.get(decoded(url)) ?? url);
  // What unpacks shapes and pictures is bundled with the application.
  const draco = new DRACOLoader(manager);
  const basis = new KTX2Loader(manager).detectSupport(gl);
  const loader = new GLTFLoader(manager)
    .setDRACOLoader(draco)
    .setKTX2Loader(basis)
    .setMeshoptDecoder(MeshoptDecoder);
  try {
    // The loader wants an ArrayBuffer of just these bytes.
    const { scenes, parser } = await loader.parseAsync(new Uint8Array(files[0]!.bytes).buffer, '');
    const root = scenes[0]!;
    for (const other of scenes.slice(1)) root.add(...other.children);
    await withAllWeights(root, parser);
    const nodes: number[] = [];
    let triangles = 0;
    root.traverse((object) => {
      nodes.push(nodeOf(parser, object));
      if (object instanceof Mesh) {
        const { index, attributes } = object.geometry as Mesh['geometry'];
        triangles += Math.floor((index ?? attributes['position'])!.count / 3);
      }
    });
    return { root, nodes, triangles, dispose: () => dispose(root) };
  } finally {
    draco.dispose();
    basis.dispose();
    for (const address of addresses.values()) URL.revokeObjectURL(address);
  }
}

const decoded = (url: string) => {
  try {
    return decodeURIComponent(url);
  } catch {
    return url;
  }
};

const nodeOf = (parser: GLTFParser, object: Object3D): number =>
  (parser.associations.get(object) as { nodes?: number } | undefined)?.nodes ?? -1;

/** The loader makes the first four weights of a vertex the only ones: where there are more they are taken as they stand in the file. */
async function withAllWeights(root: Object3D, parser: GLTFParser): Promise<void> {
  const waiting: Promise<void>[] = [];
  root.traverse((object) => {
    if (!(object instanceof SkinnedMesh) || !object.geometry.hasAttribute('weights_1')) return;
    const { meshes, primitives } = parser.associations.get(object) as { meshes: number; primitives: number };
    const json = parser.json as {
      meshes: { primitives: { attributes: Record<string, number> }[] }[];
    };
    const first = json.meshes[meshes]!.primitives[primitives]!.attributes['WEIGHTS_0']!;
    waiting.push(
      parser.loadAccessor(first).then((weights) => {
        object.geometry.setAttribute('skinWeight', weights as BufferAttribute);
      }),
    );
  });
  await Promise.all(waiting);
}

function dispose(root: Object3D): void {
  root.traverse((object) => {
    if (!(object instanceof Mesh)) return;
    (object.geometry as Mesh['geometry']).dispose();
    for (const material of [object.material].flat() as Material[]) {
      for (const value of Object.values(material)) if (isTexture(value)) value.dispose();
      material.dispose();
    }
    if (object instanceof SkinnedMesh) object.skeleton.dispose();
  });
}

const isTexture = (value: unknown): value is Texture =>
  typeof value === 'object' && value !== null && 'isTexture' in value;
