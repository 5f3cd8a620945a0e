/**
 * Morph targets of a glTF file as channels. Those of no side stand on the node that has the mesh; those of a side on a control of that side that hangs on it, under the name that both
 * sides share, so that whatever pairs controls exchanges them: `face left.blink` with `face right.blink`.
 */
import type { Document, Node as GltfNode } from '@gltf-transform/core';
import { LIMITS } from '../../base/limits.ts';
import { refuse } from '../../base/finding.ts';
import { uniqueNames } from '../../base/unique-names.ts';
import { pairNames, stemOf } from '../../rig/sides.ts';
import type { Side } from '../../rig/node.ts';
import { AT_REST, channelKind } from '../../rig/node.ts';
import type { Node, Vector } from '../../rig/node.ts';
import type { SourceMorphs } from '../../document/sources.ts';
import type { GltfJson } from './gltf-schema.ts';
import { areMirrored, middleOf, morphShapes, partOfShapes } from './morph-shapes.ts';
import type { MorphShape } from './morph-shapes.ts';

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
    const shapes = mesh ? morphShapes(mesh, list[row]!, list, nodes) : [];
    const placed = placedTargets(names, shapes);
    // They belong to what leads the skin that they move, a face to the head.
    const part = partOfShapes(shapes) ?? nodes[row]!.part;
    const restOf = (side: Side | null) =>
      middleOf(shapes.filter((_, i) => side === null || placed[i]?.side === side)) ?? AT_REST.translation;
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

function placedTargets(names: readonly string[], shapes: readonly MorphShape[]): PlacedTarget[] {
  const unique = uniqueNames(names);
  const pairs = new Map(pairNames(unique));
  for (const [left, right] of pairsByShape(unique, pairs, shapes)) {
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

/** Pairs of targets whose names say nothing, and whose shapes are mirror images: what one moves on the left, the other does on the right. */
function pairsByShape(
  names: readonly string[],
  known: ReadonlyMap<string, { readonly side: Side }>,
  shapes: readonly MorphShape[],
): [string, string][] {
  const open = names.flatMap((name, i) => (known.get(name)!.side === 'centre' && shapes[i] ? [i] : []));
  const taken = new Set<number>();
  return open.flatMap((left): [string, string][] => {
    const right = open.find((i) => !taken.has(i) && areMirrored(shapes[left]!, shapes[i]!));
    if (right === undefined) return [];
    taken.add(right);
    return [[names[left]!, names[right]!]];
  });
}
