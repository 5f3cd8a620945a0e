/**
 * The humanoid of a `.vrm`: which node is which bone, so that sides, pairs and parts are sure whatever the nodes are called; and its springs, as selection sets to hang follow-through on.
 * Source: the VRM Consortium's specifications VRMC_vrm-1.0 (humanoid), VRMC_springBone-1.0, and VRM 0.x (VRM.humanoid, VRM.secondaryAnimation); names of bones from memory.
 */
import { z } from 'zod';
import { partOf } from '../../rig/sides.ts';
import type { Node, Side } from '../../rig/node.ts';
import type { SelectionSet } from '../../document/shot.ts';
import type { GltfJson } from './gltf-schema.ts';

const node = z.number().int().min(0);
const newer = z.object({
  VRMC_vrm: z.object({
    humanoid: z.object({ humanBones: z.record(z.string(), z.object({ node })) }),
  }),
});
const older = z.object({
  VRM: z.object({ humanoid: z.object({ humanBones: z.array(z.object({ bone: z.string(), node })) }) }),
});
const springs = z.object({
  VRMC_springBone: z.object({
    springs: z.array(z.object({ name: z.string().optional(), joints: z.array(z.object({ node })) })),
  }),
});
const olderSprings = z.object({
  VRM: z.object({
    secondaryAnimation: z.object({
      boneGroups: z.array(z.object({ comment: z.string().optional(), bones: z.array(node) })),
    }),
  }),
});

/** By the name of a bone the row of its node; empty where the file is no humanoid. */
function bonesOf({ extensions }: GltfJson): ReadonlyMap<string, number> {
  const one = newer.safeParse(extensions).data;
  if (one)
    return new Map(Object.entries(one.VRMC_vrm.humanoid.humanBones).map(([bone, at]) => [bone, at.node]));
  const two = older.safeParse(extensions).data;
  return new Map(two?.VRM.humanoid.humanBones.map(({ bone, node: at }) => [bone, at]));
}

const sideOf = (bone: string): Side =>
  bone.startsWith('left') ? 'left' : bone.startsWith('right') ? 'right' : 'centre';
const otherOf = (bone: string): string =>
  bone.startsWith('left')
    ? `right${bone.slice(4)}`
    : bone.startsWith('right')
      ? `left${bone.slice(5)}`
      : bone;

/** The nodes with what their bones say of them. */
export function withHumanoid(json: GltfJson, nodes: readonly Node[]): readonly Node[] {
  const bones = bonesOf(json);
  if (bones.size === 0) return nodes;
  const boneAt = new Map([...bones].map(([bone, row]) => [row, bone]));
  return nodes.map((one, row): Node => {
    const bone = boneAt.get(row);
    if (bone === undefined) return one;
    const pair = nodes[bones.get(otherOf(bone)) ?? -1]?.id ?? null;
    return { ...one, kind: 'joint', side: sideOf(bone), pair, part: partOf(bone) };
  });
}

/** Each spring's chain as controls that are chosen together. */
export function springSets({ extensions }: GltfJson, nodes: readonly Node[]): SelectionSet[] {
  const own = springs.safeParse(extensions).data?.VRMC_springBone.springs.map(({ name, joints }) => ({
    name,
    rows: joints.map(({ node: at }) => at),
  }));
  const groups = olderSprings
    .safeParse(extensions)
    .data?.VRM.secondaryAnimation.boneGroups.map(({ comment, bones }) => ({ name: comment, rows: bones }));
  return (own ?? groups ?? []).flatMap(({ name, rows }, i) => {
    const ids = rows.flatMap((row) => nodes[row]?.id ?? []);
    return ids.length > 0
      ? [{ id: `spring ${i + 1}`, name: name?.trim().slice(0, 80) || `Spring ${i + 1}`, nodes: ids }]
      : [];
  });
}
