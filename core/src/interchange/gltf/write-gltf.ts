/**
 * A shot as a `.glb`: its nodes, the solids that it is drawn with, and one animation (`local-tracks.ts`). Centimetres become metres
 * and frames seconds here; what glTF has no word for stands in `extras`: the rate and the first frame, and the rotation orders and keys of nodes (`own-keys.ts`).
 */
import { Document, WebIO } from '@gltf-transform/core';
import type { Node as GltfNode } from '@gltf-transform/core';
import { SOLID_COLOURS, solidMesh } from '../../rig/solid-mesh.ts';
import type { Node } from '../../rig/node.ts';
import { framesPerSecond } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { base64 } from '../base64.ts';
import { EXTRAS, GENERATOR } from './own-extras.ts';
import { FINE, localTracks } from './local-tracks.ts';
import type { TrackTolerance } from './local-tracks.ts';
import { keysBeside } from './own-keys.ts';
import { plainNodes } from './own-tracks.ts';
import type { LocalTrack } from './own-tracks.ts';

const METRES_PER_CM = 0.01;

/** The bytes of a `.glb`. */
export async function writeGlb(shot: Shot, tolerance: TrackTolerance = FINE): Promise<Uint8Array> {
  return new WebIO().writeBinary(gltfDocument(shot, tolerance));
}

/** A `.gltf` with its buffer inside. */
export async function writeGltfText(shot: Shot, tolerance: TrackTolerance = FINE): Promise<string> {
  const { json, resources } = await new WebIO().writeJSON(gltfDocument(shot, tolerance), {
    basename: 'shot',
  });
  for (const buffer of json.buffers ?? []) {
    const bytes = resources[buffer.uri ?? ''];
    if (bytes) buffer.uri = `data:application/octet-stream;base64,${base64(bytes)}`;
  }
  return JSON.stringify(json);
}

function gltfDocument(shot: Shot, tolerance: TrackTolerance): Document {
  const document = new Document();
  const plain = plainNodes(shot);
  document.getRoot().getAsset().generator = GENERATOR;
  document.getRoot().setExtras({
    [EXTRAS]: {
      ...{ rate: { ...shot.rate }, firstFrame: shot.range.start, lastFrame: shot.range.end },
      nodes: shot.nodes.map((_, row) => keysBeside(shot, row, plain.has(row))),
    },
  });
  const buffer = document.createBuffer();
  const scene = document.createScene(shot.name);
  const nodes = shot.nodes.map((node) => {
    const made = document.createNode(node.id);
    const [x, y, z] = node.rest.translation;
    made.setTranslation([x * METRES_PER_CM, y * METRES_PER_CM, z * METRES_PER_CM]);
    made.setRotation([...node.rest.rotation]);
    made.setScale([...node.rest.scale]);
    return made;
  });
  const rows = new Map(shot.nodes.map((node, i) => [node.id, i]));
  shot.nodes.forEach((node, i) => {
    if (node.parent === null) scene.addChild(nodes[i]!);
    else nodes[rows.get(node.parent)!]!.addChild(nodes[i]!);
    addSolids(document, node, nodes[i]!);
  });
  addAnimation(document, shot, nodes, tolerance);
  // A buffer of no bytes would be an error.
  if (document.getRoot().listAccessors().length === 0) buffer.dispose();
  return document;
}

function addSolids(document: Document, node: Node, made: GltfNode): void {
  if (node.solids.length === 0) return;
  const mesh = document.createMesh(node.id);
  for (const solid of node.solids) {
    const { positions, normals, indices } = solidMesh(solid);
    const primitive = document
      .createPrimitive()
      .setAttribute(
        'POSITION',
        vectors(
          document,
          positions.map((cm) => cm * METRES_PER_CM),
        ),
      )
      .setAttribute('NORMAL', vectors(document, normals))
      .setIndices(document.createAccessor().setType('SCALAR').setArray(new Uint16Array(indices)))
      .setMaterial(materialOf(document, solid.colour));
    mesh.addPrimitive(primitive);
  }
  made.setMesh(mesh);
}

const vectors = (document: Document, array: Float32Array) =>
  document.createAccessor().setType('VEC3').setArray(new Float32Array(array));

function materialOf(document: Document, colour: string) {
  const known = document
    .getRoot()
    .listMaterials()
    .find((material) => material.getName() === colour);
  if (known) return known;
  const [red, green, blue] = SOLID_COLOURS[colour] ?? SOLID_COLOURS['body']!;
  return document
    .createMaterial(colour)
    .setBaseColorFactor([red, green, blue, 1])
    .setMetallicFactor(0)
    .setRoughnessFactor(0.9);
}

/** Values in metres; tangents of splines for a second in place of a frame. */
function scaleOf({ path, mode, width }: LocalTrack, fps: number): (value: number, i: number) => number {
  const unit = path === 'translation' ? METRES_PER_CM : 1;
  if (mode !== 'CUBICSPLINE') return (value) => value * unit;
  return (value, i) => {
    const third = Math.floor((i % (3 * width)) / width);
    return value * unit * (third === 1 ? 1 : fps);
  };
}

/** No animation at all where nothing moves: an empty list would be an error. */
function addAnimation(
  document: Document,
  shot: Shot,
  nodes: readonly GltfNode[],
  tolerance: TrackTolerance,
): void {
  const tracks = localTracks(shot, tolerance);
  if (tracks.length === 0) return;
  const fps = framesPerSecond(shot.rate);
  const animation = document.createAnimation(shot.name);
  // Tracks with the same times share one accessor.
  const inputs = new Map<string, ReturnType<Document['createAccessor']>>();
  for (const track of tracks) {
    const key = track.times.join();
    let input = inputs.get(key);
    if (!input) {
      input = document.createAccessor().setArray(Float32Array.from(track.times, (frame) => frame / fps));
      inputs.set(key, input);
    }
    const output = document
      .createAccessor()
      .setType(track.width === 4 ? 'VEC4' : 'VEC3')
      .setArray(Float32Array.from(track.values, scaleOf(track, fps)));
    const sampler = document
      .createAnimationSampler()
      .setInput(input)
      .setOutput(output)
      .setInterpolation(track.mode);
    const channel = document
      .createAnimationChannel()
      .setTargetNode(nodes[track.node]!)
      .setTargetPath(track.path)
      .setSampler(sampler);
    animation.addSampler(sampler).addChannel(channel);
  }
}
