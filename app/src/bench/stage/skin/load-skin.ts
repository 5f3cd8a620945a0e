/** A character's file as three draws it. Whatever the file asks for from beside it comes from what was stored with it; nothing is asked of any network. */
import { BufferAttribute, LoadingManager, Mesh } from 'three';
import type { Material, Object3D, Texture, WebGLRenderer } from 'three';
import { DRACOLoader } from 'three/examples/jsm/loaders/DRACOLoader.js';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import type { GLTFParser } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { KTX2Loader } from 'three/examples/jsm/loaders/KTX2Loader.js';
import { MeshoptDecoder } from 'three/examples/jsm/libs/meshopt_decoder.module.js';
import type { SourceFile } from '@kneader/core';
import { isSkinned } from './skinned-places.ts';

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
    withAllWeights(root);
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

const nodeOf = (parser: GLTFParser, object: Object3D): number => parser.associations.get(object)?.nodes ?? -1;

/** The loader makes the first four weights of a vertex add up to 1: where there are four more they get back what those leave them. */
function withAllWeights(root: Object3D): void {
  const done = new Set<unknown>();
  root.traverse((object) => {
    if (!isSkinned(object) || done.has(object.geometry)) return;
    const { geometry } = object;
    done.add(geometry);
    if (!geometry.hasAttribute('weights_1')) return;
    const [first, more] = [geometry.getAttribute('skinWeight'), geometry.getAttribute('weights_1')];
    const weights = new BufferAttribute(new Float32Array(first.count * 4), 4);
    for (let vertex = 0; vertex < first.count; vertex += 1) {
      let left = 1;
      for (let k = 0; k < 4; k += 1) left -= more.getComponent(vertex, k);
      for (let k = 0; k < 4; k += 1) weights.setComponent(vertex, k, first.getComponent(vertex, k) * left);
    }
    geometry.setAttribute('skinWeight', weights);
  });
}

function dispose(root: Object3D): void {
  root.traverse((object) => {
    if (!(object instanceof Mesh)) return;
    (object.geometry as Mesh['geometry']).dispose();
    for (const material of [object.material].flat() as Material[]) {
      for (const value of Object.values(material)) if (isTexture(value)) value.dispose();
      material.dispose();
    }
    if (isSkinned(object)) object.skeleton.dispose();
  });
}

const isTexture = (value: unknown): value is Texture =>
  typeof value === 'object' && value !== null && 'isTexture' in value;
