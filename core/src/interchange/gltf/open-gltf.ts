/**
 * glTF bytes to a checked document that glTF-Transform has read. Both containers: `.glb`, and `.gltf` with its
 * buffers inside (data URIs) or beside it, given by a function.
 */
import { bytesOfBase64 } from '../base64.ts';
import { WebIO } from '@gltf-transform/core';
import type { Document } from '@gltf-transform/core';
import { InputError, refuse } from '../../base/finding.ts';
import { LIMITS } from '../../base/limits.ts';
import { readJson } from '../read-json.ts';
import { chunksOf } from './glb-chunks.ts';
import { isFallback, unpackedViews } from './unpacked-views.ts';
import { checkGltf } from './gltf-schema.ts';
import { refuseUnknownNeeds } from './left-out.ts';
import type { GltfJson } from './gltf-schema.ts';
import type { SourceFile } from '../source/source-files.ts';

/** Gives the bytes of a file beside the `.gltf`, or null. */
export type Neighbour = (uri: string) => Promise<Uint8Array | null>;

export interface OpenedGltf {
  readonly document: Document;
  readonly json: GltfJson;
  /** What it needed from beside it, by the names under which it asks for them. */
  readonly beside: readonly SourceFile[];
  /** Data that were not there: without them the document has its nodes alone. */
  readonly missing: readonly string[];
  /** Pictures that were not there. */
  readonly unseen: readonly string[];
}

export async function openGltf(bytes: Uint8Array, neighbour: Neighbour): Promise<OpenedGltf> {
  if (bytes.byteLength === 0) refuse('fileEmpty', {});
  const { text, blob } = chunksOf(bytes);
  const json = checkGltf(readJson(text));
  refuseUnknownNeeds(json);
  const count = json.nodes?.length ?? 0;
  if (count > LIMITS.nodes) refuse('tooManyNodes', {}, count, LIMITS.nodes);
  if (!json.nodes || json.nodes.length === 0) refuse('gltfNoNodes', {});
  const { buffers: packed, beside, missing } = await readBuffers(json, blob, neighbour);
  const isWhole = missing.length === 0;
  const { json: open, buffers } = isWhole ? await unpackedViews(json, packed) : { json, buffers: packed };
  if (isWhole) checkIndices(open, buffers);
  const resources: Record<string, Uint8Array<ArrayBuffer>> = {};
  const plain = isWhole ? motionOnly(open) : nodesOnly(json);
  plain.buffers?.forEach((buffer, i) => {
    resources[`${i}.bin`] = buffers[i]!;
    buffer.uri = `${i}.bin`;
  });
  try {
    // The two types name the same JSON; glTF-Transform's is closed where ours keeps unknown fields.
    const document = await new WebIO().readJSON({ json: plain as never, resources });
    const pictures = await readPictures(json, neighbour);
    return {
      ...{ document, json },
      beside: [...beside, ...pictures.found],
      missing,
      unseen: pictures.missing,
    };
  } catch (error) {
    if (error instanceof InputError) throw error;
    return refuse('gltfBroken', {}, error instanceof Error ? error.message : String(error));
  }
}

async function readBuffers(
  json: GltfJson,
  blob: Uint8Array | null,
  neighbour: Neighbour,
): Promise<{ buffers: Uint8Array<ArrayBuffer>[]; beside: SourceFile[]; missing: string[] }> {
  const buffers: Uint8Array<ArrayBuffer>[] = [];
  const beside: SourceFile[] = [];
  const missing: string[] = [];
  for (const [i, buffer] of (json.buffers ?? []).entries()) {
    const { uri, byteLength } = buffer;
    let bytes: Uint8Array | null = null;
    if (uri === undefined && isFallback(buffer)) {
      buffers.push(new Uint8Array());
      continue;
    }
    if (uri === undefined) bytes = blob;
    else if (uri.startsWith('data:')) bytes = decodeDataUri(uri, i);
    else {
      const name = nearbyPath(uri, `buffers[${i}]`);
      bytes = await neighbour(name);
      if (bytes) beside.push({ name, bytes });
      else {
        missing.push(name);
        continue;
      }
    }
    if (bytes === null) return refuse('gltfMissingResource', { path: `buffers[${i}]` }, 'its binary chunk');
    if (bytes.byteLength < byteLength) {
      refuse(
        'gltfBroken',
        { path: `buffers[${i}]` },
        `buffers[${i}] has ${bytes.byteLength} bytes where ${byteLength} are announced`,
      );
    }
    buffers.push(new Uint8Array(bytes));
  }
  return { buffers, beside, missing };
}

/** Pictures that lie beside the file; nothing of motion needs them. */
async function readPictures(
  json: GltfJson,
  neighbour: Neighbour,
): Promise<{ found: SourceFile[]; missing: string[] }> {
  const found: SourceFile[] = [];
  const missing: string[] = [];
  for (const [i, { uri }] of (json.images ?? []).entries()) {
    if (uri === undefined || uri.startsWith('data:')) continue;
    const name = nearbyPath(uri, `images[${i}]`);
    const bytes = await neighbour(name);
    if (bytes) found.push({ name, bytes });
    else missing.push(name);
  }
  return { found, missing };
}

/** The path of a file in the same folder or below (RFC 3986: relative references without a scheme, no dots that lead out). */
function nearbyPath(uri: string, place: string): string {
  let path: string;
  try {
    path = decodeURIComponent(uri);
  } catch {
    return refuse(
      'gltfBroken',
      { path: `${place}.uri` },
      `the name “${uri}” is not encoded as names in glTF are`,
    );
  }
  const far = /^[a-z][a-z0-9+.-]*:|^[/\\]|\0/i.test(path) || path.split(/[/\\]/).includes('..');
  if (far) refuse('gltfFarResource', { path: `${place}.uri` }, uri);
  return path;
}

function decodeDataUri(uri: string, i: number): Uint8Array {
  const comma = uri.indexOf(',');
  try {
    return bytesOfBase64(uri.slice(comma + 1));
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

/** The document without what motion and solids do not need, so that a missing picture does not stop it. */
function motionOnly(json: GltfJson): GltfJson {
  const { asset, scene, scenes, nodes, meshes, skins, accessors, bufferViews, buffers, animations } = json;
  const plain = {
    asset,
    scene,
    scenes,
    nodes: nodes?.map(({ name, children, mesh, skin, matrix, translation, rotation, scale }) => ({
      ...{ name, children, mesh, skin, matrix, translation, rotation, scale },
    })),
    // Shapes without their looks: solids are made from them, and pairs of morph targets found.
    meshes: meshes?.map(({ name, primitives }) => ({
      name,
      primitives: primitives.map(({ attributes, indices, mode, targets, extensions }) =>
        isPacked(extensions) ? { attributes: {} } : { attributes, indices, mode, targets },
      ),
    })),
    skins: skins?.map(({ joints, inverseBindMatrices }) => ({ joints, inverseBindMatrices })),
    accessors,
    bufferViews,
    buffers: buffers?.map(({ byteLength }) => ({ byteLength })),
    // A sampler may drive what glTF-Transform does not know here.
    animations: animations?.map((animation) => ({
      ...animation,
      channels: animation.channels.filter(({ target }) => isMotion(target.path) && target.node !== undefined),
    })),
  };
  return JSON.parse(JSON.stringify(plain)) as GltfJson;
}

/** Of a document whose data are not there. */
function nodesOnly(json: GltfJson): GltfJson {
  const { asset, scene, scenes, nodes } = motionOnly(json);
  return {
    ...{ asset, scene, scenes },
    nodes: nodes?.map(({ mesh: _, skin: __, ...node }) => node),
  };
}

/** What of a node can be keyed (glTF 2.0, 5.8 animation.channel.target). */
export const isMotion = (path: string) =>
  path === 'translation' || path === 'rotation' || path === 'scale' || path === 'weights';

/** Whether vertices are packed in a way that is not read here. */
const isPacked = (extensions: unknown) =>
  typeof extensions === 'object' && extensions !== null && 'KHR_draco_mesh_compression' in extensions;
