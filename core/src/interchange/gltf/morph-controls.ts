/**
 * Morph targets of a glTF file as channels. Those of no side stand on the node that has the mesh; those of a side on a control of that side that hangs on it, under the name that both
 * sides share, so that whatever pairs controls exchanges them: `face left.blink` with `face right.blink`.
 */
import type { Document, Mesh, Node as GltfNode } from '@gltf-transform/core';
import { LIMITS } from '../../base/limits.ts';
import { refuse } from '../../base/finding.ts';
import { uniqueNames } from '../../base/unique-names.ts';
import { pairNames, stemOf } from '../../rig/sides.ts';
import type { Side } from '../../rig/node.ts';
import { AT_REST, channelKind } from '../../rig/node.ts';
import type { Node, Vector } from '../../rig/node.ts';
import type { SourceMorphs } from '../../document/sources.ts';
import type { GltfJson } from './gltf-schema.ts';

const CM_PER_METRE = 100;

export interface MorphControls {
  /** The nodes with those that were added, which stand last. */
  readonly nodes: readonly Node[];
  readonly morphs: readonly SourceMorphs[];
}

/** @param nodes of the file, in its order */
export function morphControls(document: Document, json: GltfJson, nodes: readonly Node[]): MorphControls {
  const changed = [...nodes];
  const added: Node[] = [];
  const morphs: SourceMorphs[] = [];
  const meshes = document.getRoot().listMeshes();
  const list = document.getRoot().listNodes();
  const taken = new Set(nodes.map(({ id }) => id));
  json.nodes?.forEach(({ mesh: index }, row) => {
    if (index === undefined) return;
    const names = targetNames(json, index);
    if (names.length === 0) return;
    if (names.length > LIMITS.morphs) refuse('tooManyMorphs', {}, names.length, LIMITS.morphs);
    const mesh = meshes[index];
    const placed = placedTargets(names, mesh);
    // They belong to what leads the skin that they move, a face to the head.
    const part = (mesh && partMoved(mesh, list[row]!, list, nodes)) ?? nodes[row]!.part;
    const restOf = (side: Side | null) =>
      placeMoved(
        mesh,
        placed.flatMap((one, i) => (side === null || one.side === side ? [i] : [])),
      );
    const node = isSeatless(row, list, json)
      ? { ...nodes[row]!, part, channels: [], rest: { ...AT_REST, translation: restOf(null) } }
      : { ...nodes[row]!, part };
    const from = node.channels.length === 0 ? node.rest.translation : AT_REST.translation;
    const controls: Record<Side, string> = { centre: node.id, left: node.id, right: node.id };
    const own = (side: Side) => placed.flatMap((one) => (one.side === side ? [one.channel] : []));
    changed[row] = { ...node, channels: [...node.channels, ...own('centre')] };
    for (const side of ['left', 'right'] as const) {
      if (own(side).length === 0) continue;
      let id = `${node.id} ${side}`;
      while (taken.has(id)) id += '_';
      taken.add(id);
      controls[side] = id;
    }
    for (const side of ['left', 'right'] as const) {
      if (controls[side] === node.id) continue;
      const other = controls[side === 'left' ? 'right' : 'left'];
      added.push({
        ...{ id: controls[side], parent: node.id, kind: 'control', order: 'xyz' },
        rest: { ...AT_REST, translation: restOf(side).map((cm, k) => cm - from[k]!) as unknown as Vector },
        ...{ channels: own(side), side, pair: other === node.id ? null : other },
        ...{ part, character: node.character, solids: [] },
      });
    }
    morphs.push({
      node: row,
      channels: placed.map(({ side, channel }) => `${controls[side]}.${channel}`),
    });
  });
  return { nodes: [...changed, ...added], morphs };
}

/** Whether nothing stands where a node does: what has a skin follows its joints (glTF 2.0, 3.7.3.3). Then it is found where its morphs are, and has no place to be keyed. */
function isSeatless(row: number, list: readonly GltfNode[], json: GltfJson): boolean {
  const node = list[row]!;
  const isKeyed = (json.animations ?? []).some(({ channels }) =>
    channels.some(({ target }) => target.node === row && target.path !== 'weights'),
  );
  return node.getSkin() !== null && node.listChildren().length === 0 && !isKeyed;
}

/** Names of a mesh's targets: those that stand in its extras (glTF 2.0, 3.7.2.2, names them a convention), else numbers. */
function targetNames(json: GltfJson, index: number): string[] {
  const mesh = json.meshes![index]!;
  const count = Math.max(0, ...mesh.primitives.map(({ targets }) => targets?.length ?? 0));
  const given = (mesh.extras as { targetNames?: unknown } | undefined)?.targetNames;
  const names = Array.isArray(given) ? (given as unknown[]) : [];
  return Array.from({ length: count }, (_, i) => {
    const name = names[i];
    return typeof name === 'string' && name.trim() !== '' ? name : `morph ${i + 1}`;
  });
}

interface PlacedTarget {
  readonly side: Side;
  readonly channel: string;
}

function placedTargets(names: readonly string[], mesh: Mesh | undefined): PlacedTarget[] {
  const unique = uniqueNames(names);
  const pairs = new Map(pairNames(unique));
  for (const [left, right] of mesh ? pairsByShape(unique, pairs, mesh) : []) {
    pairs.set(left, { side: 'left', pair: right });
    pairs.set(right, { side: 'right', pair: left });
  }
  /** One word for both of a pair, whichever is asked. */
  const wordOf = (name: string, pair: string) => {
    const stem = stemOf(name, pair);
    return stem === name ? [name, pair].sort().join('-') : stem;
  };
  const words = unique.map((name) => {
    const { side, pair } = pairs.get(name)!;
    return side === 'centre' || pair === null
      ? ({ side: 'centre', word: safe(name) } as const)
      : ({ side, word: safe(wordOf(name, pair)) } as const);
  });
  const result: PlacedTarget[] = [];
  for (const side of ['left', 'right', 'centre'] as const) {
    const rows = words.flatMap((one, i) => (one.side === side ? [i] : []));
    // Partners get the same number, since they stand in the order of their words' left ones.
    const sorted = side === 'right' ? rows.sort((a, b) => leftOf(a) - leftOf(b)) : rows;
    const own = uniqueNames(sorted.map((i) => words[i]!.word));
    sorted.forEach((row, k) => (result[row] = { side, channel: own[k]! }));
  }
  return result;

  function leftOf(row: number): number {
    return unique.indexOf(pairs.get(unique[row]!)!.pair!);
  }
}

/** A name that can be a channel's: it holds no dot, and is none of those that place a node or say how much of a relation holds. */
function safe(name: string): string {
  const plain = name.replaceAll('.', '_').trim();
  return channelKind(plain) !== 'other' || /^follow[0-9]*$/.test(plain) || plain === ''
    ? `morph ${plain}`
    : plain;
}

/** A target moves less than this part of the mesh's size: it moves nothing. */
const STILL = 1e-6;
/** Of what a target moves, how much may not be the mirror image of the other's. */
const UNLIKE = 0.1;

/** Pairs of targets whose names say nothing, and whose shapes are mirror images about x = 0: what one moves on the left, the other does on the right. */
function pairsByShape(
  names: readonly string[],
  known: ReadonlyMap<string, { readonly side: Side }>,
  mesh: Mesh,
): [string, string][] {
  const open = names.flatMap((name, i) => (known.get(name)!.side === 'centre' ? [i] : []));
  const moved = open.map((i) => movedBy(mesh, i));
  const found: [string, string][] = [];
  const taken = new Set<number>();
  moved.forEach((one, a) => {
    if (!one || Math.abs(one.balance) < 0.5 || one.balance < 0) return;
    const b = moved.findIndex(
      (other, k) =>
        k !== a && !taken.has(k) && other !== null && other.balance < -0.5 && areMirrored(one, other),
    );
    if (b < 0) return;
    taken.add(b);
    found.push([names[open[a]!]!, names[open[b]!]!]);
  });
  return found;
}

interface Moved {
  /** How much of what is moved lies on the left (+x) less on the right, −1…1. */
  readonly balance: number;
  /** By place of what is moved, in parts of the mesh's size: the way, mirrored or not. */
  readonly ways: readonly (readonly [number, number, number, number, number, number])[];
  readonly size: number;
}

function movedBy(mesh: Mesh, target: number): Moved | null {
  const ways: [number, number, number, number, number, number][] = [];
  let [left, all, size] = [0, 0, 0];
  const [place, way] = [
    [0, 0, 0],
    [0, 0, 0],
  ];
  for (const primitive of mesh.listPrimitives()) {
    const positions = primitive.getAttribute('POSITION');
    const deltas = primitive.listTargets()[target]?.getAttribute('POSITION');
    if (!positions || !deltas) continue;
    for (let i = 0; i < positions.getCount(); i += 1) {
      positions.getElement(i, place);
      size = Math.max(size, Math.hypot(place[0]!, place[1]!, place[2]!));
      if (i >= deltas.getCount()) continue;
      deltas.getElement(i, way);
      const far = Math.hypot(way[0]!, way[1]!, way[2]!);
      if (!(far > 0)) continue;
      all += far;
      left += far * Math.sign(place[0]!);
      ways.push([place[0]!, place[1]!, place[2]!, way[0]!, way[1]!, way[2]!]);
    }
  }
  return all > STILL * size && ways.length <= MOST_WAYS ? { balance: left / all, ways, size } : null;
}
/** Shapes that move more vertices are not compared. */
const MOST_WAYS = 20_000;

/** The middle of what targets move, in the mesh's own axes, cm: where their control is found. */
function placeMoved(mesh: Mesh | undefined, targets: readonly number[]): Vector {
  const ways = mesh ? targets.flatMap((target) => movedBy(mesh, target)?.ways ?? []) : [];
  if (ways.length === 0) return AT_REST.translation;
  const mean = (k: number) => (ways.reduce((sum, way) => sum + way[k]!, 0) / ways.length) * CM_PER_METRE;
  return [mean(0), mean(1), mean(2)];
}

/** The body part of whose joints lead most of what the targets move; null of what has no skin. */
function partMoved(
  mesh: Mesh,
  node: GltfNode,
  list: readonly GltfNode[],
  nodes: readonly Node[],
): Node['part'] | null {
  const joints = node.getSkin()?.listJoints();
  if (!joints) return null;
  const parts = joints.map((joint) => nodes[list.indexOf(joint)]!.part);
  const counts = new Map<Node['part'], number>();
  const [way, js, ws] = [
    [0, 0, 0],
    [0, 0, 0, 0],
    [0, 0, 0, 0],
  ];
  for (const primitive of mesh.listPrimitives()) {
    const [jointsOf, weights] = [primitive.getAttribute('JOINTS_0'), primitive.getAttribute('WEIGHTS_0')];
    if (!jointsOf || !weights) continue;
    for (const target of primitive.listTargets()) {
      const deltas = target.getAttribute('POSITION');
      for (let i = 0; deltas && i < Math.min(deltas.getCount(), weights.getCount()); i += 1) {
        deltas.getElement(i, way);
        if (!way.some((part) => part !== 0)) continue;
        jointsOf.getElement(i, js);
        weights.getElement(i, ws);
        const part = parts[js[ws.indexOf(Math.max(...ws))]!];
        if (part) counts.set(part, (counts.get(part) ?? 0) + 1);
      }
    }
  }
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? null;
}

function areMirrored(a: Moved, b: Moved): boolean {
  const cell = 1e-3 * Math.max(a.size, b.size);
  const key = (x: number, y: number, z: number) =>
    `${Math.round(x / cell)} ${Math.round(y / cell)} ${Math.round(z / cell)}`;
  const byPlace = new Map(b.ways.map((way) => [key(way[0], way[1], way[2]), way]));
  let [off, all] = [0, 0];
  for (const [x, y, z, dx, dy, dz] of a.ways) {
    const other = byPlace.get(key(-x, y, z));
    all += Math.hypot(dx, dy, dz);
    off += other ? Math.hypot(dx + other[3], dy - other[4], dz - other[5]) : Math.hypot(dx, dy, dz);
  }
  return off <= UNLIKE * all;
}
