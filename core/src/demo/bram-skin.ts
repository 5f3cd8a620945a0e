/**
 * *Bram in one skin*: the baker as a character file would have him, a `.glb` of one mesh with a skin over his joints, six morphs of his face and two animations. His surface is that of his
 * solids, melted into each other; each vertex follows up to four joints.
 */
import { Document, WebIO } from '@gltf-transform/core';
import type { Node as GltfNode } from '@gltf-transform/core';
import { newShot } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { framesOf } from '../base/frame-range.ts';
import { LocalTransforms } from '../interchange/local-transforms.ts';
import { computeWorld, newWorldPose } from '../rig/pose.ts';
import type { Node, Solid, Vector } from '../rig/node.ts';
import { compileRig } from '../rig/rig.ts';
import { SOLID_COLOURS } from '../rig/solid-mesh.ts';
import { bramNodes, BRAM_RELATIONS } from './bram-rig.ts';
import { nightRound } from './night-round.ts';
import { withBinds } from './with-binds.ts';
import { surfaceNet } from './surface-net.ts';
import { withTimeline } from './timeline.ts';

export const BRAM_FILE = 'Bram in one skin.glb';

const METRES_PER_CM = 0.01;
const RATE = { numerator: 24, denominator: 1 };

/** A solid in the world of the rest pose, and the joint that it is of. */
interface Placed {
  readonly joint: number;
  readonly solid: Solid;
  readonly at: Vector;
}

/** Surfaces that do not melt into each other: which joints they are of, and how fine they are, cm. */
const SURFACES: readonly { readonly of: RegExp; readonly cell: number; readonly melt: number }[] = [
  { of: /^(head|jaw|neck)$/, cell: 1.5, melt: 2 },
  { of: /^eye_/, cell: 0.75, melt: 0.05 },
  { of: /^(brow_|moustache)/, cell: 0.85, melt: 0.4 },
  { of: /^(cap|tassel)/, cell: 1.5, melt: 1.2 },
  { of: /^(hand|thumb|index|fingers)_/, cell: 1.15, melt: 1.2 },
  { of: /^string_/, cell: 1, melt: 0.8 },
  { of: /^(foot|toe)_/, cell: 1.5, melt: 1.6 },
  { of: /./, cell: 2.6, melt: 4 },
];

/** Over so many cm one joint hands over to the next. */
const HAND_OVER = 3;

/** The bytes of the file: the same at every call. */
export async function bramInOneSkin(): Promise<Uint8Array> {
  const nodes = bramNodes([]).filter(isOfBody);
  const rows = new Map(nodes.map(({ id }, row) => [id, row]));
  const places = restPlaces(nodes);
  const document = new Document();
  document.getRoot().getAsset().generator = 'Lantern Row Bakery';
  document.createBuffer();
  const scene = document.createScene('Bakery').setExtras({ street: 'Lantern Row' });
  document.getRoot().setDefaultScene(scene);
  const joints = nodes.map(({ id, rest }) =>
    document
      .createNode(id)
      .setTranslation(rest.translation.map((cm) => cm * METRES_PER_CM) as [number, number, number]),
  );
  nodes.forEach(({ parent }, row) => {
    if (parent === null) scene.addChild(joints[row]!);
    else joints[rows.get(parent)!]!.addChild(joints[row]!);
  });
  const face = addSkin(document, nodes, places, joints);
  scene.addChild(face);
  addMotion(document, nightRound(), 'Night round', joints, rows, face, ROUND_FACE);
  addMotion(document, wave(), 'Wave', joints, rows, face, WAVE_FACE);
  // Nobody is turned in the rest pose.
  const binds = places.flatMap(([x, y, z]) => [
    ...[1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0],
    ...[x, y, z].map((cm) => -cm * METRES_PER_CM),
    1,
  ]);
  return withBinds(await new WebIO().writeBinary(document), [Float32Array.from(binds)]);
}

/** Joints and what leads them; goals and what hangs on them have no place in a file of joints. */
const isOfBody = ({ id, part, kind }: Node): boolean =>
  part !== 'prop' && kind !== 'goal' && kind !== 'camera' && !/^(heel|ball|ankle)_/.test(id);

function restPlaces(nodes: readonly Node[]): Vector[] {
  const rig = compileRig(nodes, []);
  const pose = newWorldPose(rig);
  computeWorld(
    rig,
    rig.channels.map(({ rest }) => rest),
    pose,
  );
  return nodes.map((_, row) => [12, 13, 14].map((k) => pose.matrices[row * 16 + k]!) as unknown as Vector);
}

/** Nobody is turned in the rest pose: a solid stands where its joint does. */
function distanceTo({ solid, at }: Placed, x: number, y: number, z: number): number {
  const [px, py, pz] = [x - at[0], y - at[1], z - at[2]];
  if (solid.kind === 'capsule') {
    const { from, to, radiusFrom, radiusTo } = solid;
    const [dx, dy, dz] = [to[0] - from[0], to[1] - from[1], to[2] - from[2]];
    const along =
      ((px - from[0]) * dx + (py - from[1]) * dy + (pz - from[2]) * dz) / (dx * dx + dy * dy + dz * dz);
    const u = Math.min(1, Math.max(0, along));
    const off = Math.hypot(px - from[0] - u * dx, py - from[1] - u * dy, pz - from[2] - u * dz);
    return off - radiusFrom - u * (radiusTo - radiusFrom);
  }
  if (solid.kind === 'box') throw new Error('nothing of a body is a box');
  const { centre, radii } = solid;
  const [ex, ey, ez] = [
    (px - centre[0]) / radii[0],
    (py - centre[1]) / radii[1],
    (pz - centre[2]) / radii[2],
  ];
  const scaled = Math.hypot(ex, ey, ez);
  const steep = Math.hypot(ex / radii[0], ey / radii[1], ez / radii[2]);
  return steep === 0 ? -Math.min(...radii) : (scaled * (scaled - 1)) / steep;
}

/** The lesser of two distances, rounded off over `melt` cm. */
function melted(a: number, b: number, melt: number): number {
  const h = Math.max(melt - Math.abs(a - b), 0) / melt;
  return Math.min(a, b) - (h * h * melt) / 4;
}

interface Vertices {
  readonly positions: number[];
  readonly normals: number[];
  readonly colours: number[];
  readonly joints: number[];
  readonly weights: number[];
  readonly indices: number[];
  /** Of each vertex the joint that it is of. */
  readonly leads: number[];
}

function skinOf(nodes: readonly Node[], places: readonly Vector[]): Vertices {
  const all = nodes.flatMap(({ solids }, joint) =>
    solids.map((solid): Placed => ({ joint, solid, at: places[joint]! })),
  );
  const out: Vertices = {
    positions: [],
    normals: [],
    colours: [],
    joints: [],
    weights: [],
    indices: [],
    leads: [],
  };
  const taken = new Set<Placed>();
  for (const { of, cell, melt } of SURFACES) {
    const own = all.filter((one) => !taken.has(one) && of.test(nodes[one.joint]!.id));
    own.forEach((one) => taken.add(one));
    for (const part of apart(own, melt)) addSurface(out, part, nodes, cell, melt);
  }
  return out;
}

/** Solids in lots that do not touch: a hand here and a hand there are two surfaces, in two small boxes. */
function apart(solids: readonly Placed[], melt: number): Placed[][] {
  const boxes = solids.map((one) => boxOf([one], melt));
  const lots: number[][] = [];
  solids.forEach((_, i) => {
    const near = lots.filter((lot) => lot.some((k) => touch(boxes[i]!, boxes[k]!)));
    for (const lot of near) lots.splice(lots.indexOf(lot), 1);
    lots.push([...near.flat(), i]);
  });
  return lots.map((lot) => lot.sort((a, b) => a - b).map((i) => solids[i]!));
}

interface Box {
  readonly low: Vector;
  readonly high: Vector;
}
const touch = (a: Box, b: Box) => [0, 1, 2].every((k) => a.low[k]! <= b.high[k]! && b.low[k]! <= a.high[k]!);

function boxOf(solids: readonly Placed[], margin: number): Box {
  const [low, high] = [
    [Infinity, Infinity, Infinity],
    [-Infinity, -Infinity, -Infinity],
  ];
  const take = (at: Vector, local: Vector, reach: Vector) =>
    [0, 1, 2].forEach((k) => {
      low[k] = Math.min(low[k]!, at[k]! + local[k]! - reach[k]! - margin);
      high[k] = Math.max(high[k]!, at[k]! + local[k]! + reach[k]! + margin);
    });
  for (const { solid, at } of solids)
    if (solid.kind === 'capsule') {
      take(at, solid.from, [solid.radiusFrom, solid.radiusFrom, solid.radiusFrom]);
      take(at, solid.to, [solid.radiusTo, solid.radiusTo, solid.radiusTo]);
    } else if (solid.kind === 'ellipsoid') take(at, solid.centre, solid.radii);
  return { low: low as unknown as Vector, high: high as unknown as Vector };
}

function addSurface(
  out: Vertices,
  solids: readonly Placed[],
  nodes: readonly Node[],
  cell: number,
  melt: number,
): void {
  const field = (x: number, y: number, z: number) =>
    solids.reduce((least, one) => melted(least, distanceTo(one, x, y, z), melt), 1e3);
  const { low, high } = boxOf(solids, melt + 2 * cell);
  const { positions, indices } = surfaceNet(field, low, high, cell);
  const first = out.positions.length / 3;
  out.indices.push(...indices.map((index) => index + first));
  const near = new Map(solids.map(({ joint }) => [joint, kinOf(nodes, joint)]));
  for (let v = 0; v < positions.length; v += 3) {
    const [x, y, z] = [positions[v]!, positions[v + 1]!, positions[v + 2]!];
    out.positions.push(x, y, z);
    out.normals.push(...normalOf(field, x, y, z));
    const distances = solids.map((one) => distanceTo(one, x, y, z));
    const least = distances.indexOf(Math.min(...distances));
    const { joint, solid } = solids[least]!;
    out.colours.push(...(SOLID_COLOURS[solid.colour] ?? SOLID_COLOURS['body']!), 1);
    out.leads.push(joint);
    const byJoint = new Map<number, number>();
    solids.forEach((one, i) => {
      if (!near.get(joint)!.has(one.joint)) return;
      const weight = Math.exp(-(distances[i]! - distances[least]!) / HAND_OVER);
      byJoint.set(one.joint, Math.max(byJoint.get(one.joint) ?? 0, weight));
    });
    const four = [...byJoint].sort((a, b) => b[1] - a[1]).slice(0, 4);
    pushWeights(out, four);
  }
}

/** A joint with those that it hangs on and that hang on it: nothing farther leads what is his. */
function kinOf(nodes: readonly Node[], joint: number): ReadonlySet<number> {
  const { id, parent } = nodes[joint]!;
  return new Set(
    nodes.flatMap((one, row) => (row === joint || one.id === parent || one.parent === id ? [row] : [])),
  );
}

/** Parts of 255 that add up to it. */
function pushWeights(out: Vertices, four: readonly (readonly [number, number])[]): void {
  const sum = four.reduce((all, [, weight]) => all + weight, 0);
  const parts = four.map(([, weight]) => Math.round((weight / sum) * 255));
  parts[0]! += 255 - parts.reduce((all, part) => all + part, 0);
  for (let k = 0; k < 4; k += 1) {
    out.joints.push((parts[k] ?? 0) > 0 ? four[k]![0] : 0);
    out.weights.push(parts[k] ?? 0);
  }
}

function normalOf(
  field: (x: number, y: number, z: number) => number,
  x: number,
  y: number,
  z: number,
): Vector {
  const step = 0.05;
  const n = [
    field(x + step, y, z) - field(x - step, y, z),
    field(x, y + step, z) - field(x, y - step, z),
    field(x, y, z + step) - field(x, y, z - step),
  ];
  const length = Math.hypot(...n) || 1;
  return n.map((part) => part / length) as unknown as Vector;
}

/** How each morph moves a place of the face, cm; the left ones are mirrored to the right. */
type Move = (place: Vector, lead: string, middle: Vector) => Vector | null;
const round = (place: Vector, middle: Vector, reach: number) =>
  Math.max(0, 1 - Math.hypot(...place.map((part, k) => part - middle[k]!)) / reach) ** 2;
const isFace = (lead: string) => /^(head|jaw|moustache)$/.test(lead);

/** About the mouth: its corners up and out by `lift`. */
const mouth =
  (lift: number): Move =>
  (place, lead, head) => {
    if (!isFace(lead)) return null;
    const corner = Math.abs(place[0] - head[0]);
    const by = round([corner, place[1], place[2]], [7, head[1] + 1, head[2] + 10], 8) * lift;
    return by === 0 ? null : [Math.sign(place[0]) * by * 0.35, by, -Math.abs(by) * 0.2];
  };
const blink: Move = (place, lead, head) =>
  lead === 'eye_l' ? [0, (head[1] + 8.6 - place[1]) * 0.86, -0.5] : null;
const brow: Move = (place, lead) => (lead === 'brow_l' ? [0, 2.2, 0.1] : null);

const MORPHS: readonly { readonly name: string; readonly move: Move }[] = [
  { name: 'smile', move: mouth(3) },
  { name: 'frown', move: mouth(-2.4) },
  { name: 'blink_l', move: blink },
  { name: 'blink_r', move: mirrored(blink) },
  { name: 'brow_l', move: brow },
  { name: 'brow_r', move: mirrored(brow) },
];

function mirrored(move: Move): Move {
  return (place, lead, middle) => {
    const other = move(
      [-place[0], place[1], place[2]],
      lead.replace(/_r$/, '_L').replace(/_l$/, '_r').replace(/_L$/, '_l'),
      middle,
    );
    return other && [-other[0], other[1], other[2]];
  };
}

function addSkin(
  document: Document,
  nodes: readonly Node[],
  places: readonly Vector[],
  joints: readonly GltfNode[],
): GltfNode {
  const skin = skinOf(nodes, places);
  const accessor = (type: 'SCALAR' | 'VEC3' | 'VEC4', array: Float32Array | Uint8Array | Uint16Array) =>
    document.createAccessor().setType(type).setArray(array);
  const metres = (list: readonly number[]) => Float32Array.from(list, (cm) => cm * METRES_PER_CM);
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', accessor('VEC3', metres(skin.positions)))
    .setAttribute('NORMAL', accessor('VEC3', Float32Array.from(skin.normals)))
    .setAttribute(
      'COLOR_0',
      accessor(
        'VEC4',
        Uint8Array.from(skin.colours, (part) => Math.round(part * 255)),
      ).setNormalized(true),
    )
    .setAttribute('JOINTS_0', accessor('VEC4', Uint8Array.from(skin.joints)))
    .setAttribute('WEIGHTS_0', accessor('VEC4', Uint8Array.from(skin.weights)).setNormalized(true))
    .setIndices(accessor('SCALAR', Uint16Array.from(skin.indices)))
    .setMaterial(document.createMaterial('Bram').setMetallicFactor(0).setRoughnessFactor(0.85));
  const head = places[nodes.findIndex(({ id }) => id === 'head')]!;
  for (const { name, move } of MORPHS) {
    const moved = new Float32Array(skin.positions.length);
    skin.leads.forEach((joint, v) => {
      const place = [0, 1, 2].map((k) => skin.positions[v * 3 + k]!) as unknown as Vector;
      move(place, nodes[joint]!.id, head)?.forEach((cm, k) => (moved[v * 3 + k] = cm * METRES_PER_CM));
    });
    primitive.addTarget(
      document.createPrimitiveTarget(name).setAttribute('POSITION', accessor('VEC3', moved).setSparse(true)),
    );
  }
  const mesh = document
    .createMesh('Bram')
    .addPrimitive(primitive)
    .setWeights(MORPHS.map(() => 0));
  const bound = document.createSkin('Bram').setSkeleton(joints[0]!);
  joints.forEach((joint) => bound.addJoint(joint));
  return document.createNode('face').setMesh(mesh).setSkin(bound);
}

/** Weights of the morphs at frames: frame, then one number for each. */
type FaceKeys = readonly (readonly number[])[];
const ROUND_FACE: FaceKeys = [
  [0, 0.1, 0, 0, 0, 0, 0],
  [5, 0.1, 0, 0, 0, 0.2, 0.2],
  [6, 0.1, 0, 1, 1, 0, 0],
  [8, 0.2, 0, 0, 0, 0.3, 0.3],
  [16, 0.1, 0, 0, 0, 0, 0],
];
const WAVE_FACE: FaceKeys = [
  [0, 0, 0.2, 0, 0, 0, 0],
  [8, 0.8, 0, 0, 0, 1, 1],
  [14, 1, 0, 0, 1, 0.8, 0.4],
  [18, 1, 0, 0, 0, 0.8, 0.8],
  [36, 0.2, 0, 0, 0, 0, 0],
];

function addMotion(
  document: Document,
  shot: Shot,
  name: string,
  joints: readonly GltfNode[],
  rows: ReadonlyMap<string, number>,
  face: GltfNode,
  keys: FaceKeys,
): void {
  const fps = shot.rate.numerator / shot.rate.denominator;
  const animation = document.createAnimation(name);
  const frames = [...framesOf(shot.range)];
  const input = document.createAccessor().setArray(Float32Array.from(frames, (frame) => frame / fps));
  const add = (node: GltfNode, path: 'rotation' | 'translation', values: Float32Array) => {
    const sampler = document
      .createAnimationSampler()
      .setInput(input)
      .setOutput(
        document
          .createAccessor()
          .setType(path === 'rotation' ? 'VEC4' : 'VEC3')
          .setArray(values),
      );
    animation
      .addSampler(sampler)
      .addChannel(
        document.createAnimationChannel().setTargetNode(node).setTargetPath(path).setSampler(sampler),
      );
  };
  const locals = new LocalTransforms(shot);
  const looks = frames.map((frame) => {
    locals.at(frame);
    return { turns: locals.turns.slice(), places: locals.translations.map((cm) => cm * METRES_PER_CM) };
  });
  shot.nodes.forEach(({ id }, row) => {
    const joint = joints[rows.get(id) ?? -1];
    if (!joint) return;
    const turns = Float32Array.from(looks.flatMap((one) => [...one.turns.subarray(row * 4, row * 4 + 4)]));
    const places = Float32Array.from(looks.flatMap((one) => [...one.places.subarray(row * 3, row * 3 + 3)]));
    if (turns.some((part, i) => Math.abs(part - (i % 4 === 3 ? 1 : 0)) > 1e-6)) add(joint, 'rotation', turns);
    if (places.some((part, i) => Math.abs(part - places[i % 3]!) > 1e-6)) add(joint, 'translation', places);
  });
  const sampler = document
    .createAnimationSampler()
    .setInput(document.createAccessor().setArray(Float32Array.from(keys, ([frame]) => frame! / fps)))
    .setOutput(document.createAccessor().setArray(Float32Array.from(keys.flatMap((one) => one.slice(1)))))
    .setInterpolation('LINEAR');
  animation
    .addSampler(sampler)
    .addChannel(
      document.createAnimationChannel().setTargetNode(face).setTargetPath('weights').setSampler(sampler),
    );
}

/** He raises his left arm and waves, a hand of small swings. */
export function wave(): Shot {
  const nodes = bramNodes([]);
  return withTimeline(newShot('Wave', nodes, BRAM_RELATIONS, RATE, { start: 0, end: 36 }), {
    'upperarm_r.rz': [0, 72, 36, 72],
    'upperarm_l.rz': [0, -72, 9, 38, 28, 38, 36, -72],
    'forearm_l.rz': [0, 0, 9, 44, 13, 70, 17, 36, 21, 68, 25, 40, 36, 0],
    'forearm_l.ry': [0, -8, 9, -20, 28, -20, 36, -8],
    'hand_l.rz': [0, 0, 9, -8, 14, 16, 18, -18, 22, 14, 26, -10, 36, 0],
    'chest.rz': [0, 0, 10, 5, 28, 5, 36, 0],
    'spine_high.rz': [0, 0, 11, 3, 28, 3, 36, 0],
    'head.rz': [0, 0, 11, -7, 28, -6, 36, 0],
    'head.ry': [0, 0, 9, 12, 30, 10, 36, 0],
    'clavicle_l.rz': [0, 0, 9, 14, 28, 14, 36, 0],
    'cap.rx': [0, 0, 10, -3, 36, 0],
  });
}
