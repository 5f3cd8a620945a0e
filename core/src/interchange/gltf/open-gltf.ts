/**
 * glTF bytes to a checked document that glTF-Transform has read. Both containers: `.glb`, and `.gltf` with its
 * buffers inside (data URIs) or beside it, given by a function.
 */
import { WebIO } from '@gltf-transform/core';
import type { Document } from '@gltf-transform/core';
import { InputError, refuse } from '../../base/finding.ts';
import { LIMITS } from '../../base/limits.ts';
import { readJson } from '../read-json.ts';
import { checkGltf } from './gltf-schema.ts';
import { refuseUnknownNeeds } from './left-out.ts';
import type { GltfJson } from './gltf-schema.ts';

/** Gives the bytes of a file beside the `.gltf`, or null. */
export type Neighbour = (uri: string) => Promise<Uint8Array | null>;

const GLB_MAGIC = 0x46546c67;
const JSON_CHUNK = 0x4e4f534a;
const BIN_CHUNK = 0x004e4942;

export async function openGltf(
  bytes: Uint8Array,
  neighbour: Neighbour,
): Promise<{ document: Document; json: GltfJson }> {
  if (bytes.byteLength === 0) refuse('fileEmpty', {});
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const binary = bytes.byteLength >= 4 && view.getUint32(0, true) === GLB_MAGIC;
  if (!binary && !/^\s*\{/.test(new TextDecoder().decode(bytes.subarray(0, 200))))
    refuse('gltfBroken', {}, 'it begins like neither of the two forms of glTF');
  const { text, blob } = binary
    ? glbChunks(bytes, view)
    : { text: new TextDecoder().decode(bytes), blob: null };
  const json = checkGltf(readJson(text));
  refuseUnknownNeeds(json);
  const count = json.nodes?.length ?? 0;
  if (count > LIMITS.nodes) refuse('tooManyNodes', {}, count, LIMITS.nodes);
  if (!json.nodes || json.nodes.length === 0) refuse('gltfNoNodes', {});
  const buffers = await readBuffers(json, blob, neighbour);
  checkIndices(json, buffers);
  const resources: Record<string, Uint8Array<ArrayBuffer>> = {};
  const plain = motionOnly(json);
  buffers.forEach((buffer, i) => {
    resources[`${i}.bin`] = buffer;
    plain.buffers![i]!.uri = `${i}.bin`;
  });
  try {
    // The two types name the same JSON; glTF-Transform's is closed where ours keeps unknown fields.
    const document = await new WebIO().readJSON({ json: plain as never, resources });
    return { document, json };
  } catch (error) {
    if (error instanceof InputError) throw error;
    return refuse('gltfBroken', {}, error instanceof Error ? error.message : String(error));
  }
}

/** The two chunks of a `.glb` (glTF 2.0, chapter 4). */
function glbChunks(bytes: Uint8Array, view: DataView): { text: string; blob: Uint8Array | null } {
  const broken = (problem: string): never => refuse('gltfBroken', {}, problem);
  if (bytes.byteLength < 20) broken('it is shorter than its header');
  if (view.getUint32(4, true) !== 2) refuse('gltfVersion', {}, String(view.getUint32(4, true)));
  if (view.getUint32(8, true) > bytes.byteLength)
    broken('it is shorter than its header says: it was probably cut short');
  const jsonLength = view.getUint32(12, true);
  if (view.getUint32(16, true) !== JSON_CHUNK || 20 + jsonLength > bytes.byteLength)
    broken('its first chunk is not JSON');
  const text = new TextDecoder().decode(bytes.subarray(20, 20 + jsonLength));
  const at = 20 + jsonLength;
  if (at + 8 > bytes.byteLength) return { text, blob: null };
  const length = view.getUint32(at, true);
  if (view.getUint32(at + 4, true) !== BIN_CHUNK || at + 8 + length > bytes.byteLength)
    broken('its second chunk is broken');
  return { text, blob: bytes.subarray(at + 8, at + 8 + length) };
}

async function readBuffers(
  json: GltfJson,
  blob: Uint8Array | null,
  neighbour: Neighbour,
): Promise<Uint8Array<ArrayBuffer>[]> {
  const result: Uint8Array<ArrayBuffer>[] = [];
  for (const [i, { uri, byteLength }] of (json.buffers ?? []).entries()) {
    let bytes: Uint8Array | null = null;
    if (uri === undefined) bytes = blob;
    else if (uri.startsWith('data:')) bytes = decodeDataUri(uri, i);
    else bytes = await neighbour(nearbyPath(uri, i));
    if (bytes === null)
      return refuse('gltfMissingResource', { path: `buffers[${i}]` }, uri ?? 'its binary chunk');
    if (bytes.byteLength < byteLength) {
      refuse(
        'gltfBroken',
        { path: `buffers[${i}]` },
        `buffers[${i}] has ${bytes.byteLength} bytes where ${byteLength} are announced`,
      );
    }
    result.push(new Uint8Array(bytes));
  }
  return result;
}

/** The path of a file in the same folder or below (RFC 3986: relative references without a scheme, no dots that lead out). */
function nearbyPath(uri: string, i: number): string {
  let path: string;
  try {
    path = decodeURIComponent(uri);
  } catch {
    return refuse(
      'gltfBroken',
      { path: `buffers[${i}].uri` },
      `the name “${uri}” is not encoded as names in glTF are`,
    );
  }
  const far = /^[a-z][a-z0-9+.-]*:|^[/\\]|\0/i.test(path) || path.split(/[/\\]/).includes('..');
  if (far) refuse('gltfFarResource', { path: `buffers[${i}].uri` }, uri);
  return path;
}

function decodeDataUri(uri: string, i: number): Uint8Array {
  const comma = uri.indexOf(',');
  try {
    const text = atob(uri.slice(comma + 1));
    return Uint8Array.from(text, (letter) => letter.charCodeAt(0));
  } catch {
    return refuse('gltfBroken', { path: `buffers[${i}]` }, `the data of buffers[${i}] is not base64`);
  }
}

/** Vertex indices must point at vertices. */
function checkIndices(json: GltfJson, buffers: readonly Uint8Array[]): void {
  json.meshes?.forEach((mesh, i) =>
    mesh.primitives.forEach((primitive, p) => {
      const positions = json.accessors?.[primitive.attributes['POSITION'] ?? -1];
      const indices = json.accessors?.[primitive.indices ?? -1];
      const view = json.bufferViews?.[indices?.bufferView ?? -1];
      if (!positions || !indices || !view) return;
      const path = `meshes[${i}].primitives[${p}].indices`;
      const size = ({ 5121: 1, 5123: 2, 5125: 4 } as Record<number, number>)[indices.componentType];
      if (!size) return refuse('gltfBroken', { path }, `${path} are not whole numbers`);
      const buffer = buffers[view.buffer]!;
      const data = new DataView(buffer.buffer, buffer.byteOffset, buffer.byteLength);
      const start = (view.byteOffset ?? 0) + (indices.byteOffset ?? 0);
      if (start + indices.count * size > buffer.byteLength)
        refuse('gltfBroken', { path }, `${path} reach past the end of their buffer`);
      for (let at = 0; at < indices.count; at += 1) {
        const place = start + at * size;
        const vertex: number =
          size === 1
            ? data.getUint8(place)
            : size === 2
              ? data.getUint16(place, true)
              : data.getUint32(place, true);
        if (vertex >= positions.count) {
          refuse('gltfBroken', { path }, `${path} name vertex ${vertex}, and there are ${positions.count}`);
        }
      }
    }),
  );
}

/** The document without what motion does not need, so that a missing picture does not stop it. */
function motionOnly(json: GltfJson): GltfJson {
  const { asset, scene, scenes, nodes, accessors, bufferViews, buffers, animations } = json;
  const plain = {
    asset,
    scene,
    scenes,
    nodes: nodes?.map(({ name, children, matrix, translation, rotation, scale }) => ({
      name,
      children,
      matrix,
      translation,
      rotation,
      scale,
    })),
    accessors,
    bufferViews,
    buffers: buffers?.map(({ byteLength }) => ({ byteLength })),
    // A sampler may drive what glTF-Transform does not know here: weights of a mesh that was left out.
    animations: animations?.map((animation) => ({
      ...animation,
      channels: animation.channels.filter(
        ({ target }) => isTransform(target.path) && target.node !== undefined,
      ),
    })),
  };
  return JSON.parse(JSON.stringify(plain)) as GltfJson;
}

export const isTransform = (path: string) =>
  path === 'translation' || path === 'rotation' || path === 'scale';
