/** A pose with left and right exchanged: what pasting flipped, flipping and mirroring share. */
import { z } from 'zod';
import { reflectedValues, signsBetween } from '../../mirror/reflection.ts';
import type { Mirroring, NodeValues } from '../../mirror/reflection.ts';
import { refuse } from '../../base/finding.ts';
import { mirrorsOf } from '../../mirror/mirror-plane.ts';
import type { PlaneChoice } from '../../mirror/mirror-plane.ts';
import type { Rig } from '../../rig/rig.ts';
import { relationKindOf } from '../../rig/relations/kinds.ts';
import { readsOf } from '../../rig/relations/reads-and-writes.ts';
import { valuesAt } from '../../evaluation/evaluation.ts';
import { rigOf, splitChannel } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';

export interface FlippedPose {
  readonly values: ReadonlyMap<ChannelId, number>;
  /** Controls without a partner. */
  readonly alone: readonly string[];
}

/**
 * The pose with each control's values reflected onto its partner.
 * @param left controls that keep their pose; @param side only controls on this side give their pose
 */
export function flippedPose(
  shot: Shot,
  values: ReadonlyMap<ChannelId, number>,
  frame: number,
  left: ReadonlySet<string>,
  choice: PlaneChoice,
  side: 'left' | 'right' | null = null,
): FlippedPose {
  const rig = rigOf(shot);
  const present = valuesAt(shot, frame);
  const byNode = new Map<string, Record<string, number>>();
  const shown = present.slice();
  for (const [id, value] of values) {
    const { node, name } = splitChannel(id);
    byNode.set(node, { ...byNode.get(node), [name]: value });
    shown[rig.channelIndex(id)] = value;
  }
  // A pose that comes from elsewhere is flipped where it stands itself.
  const mirroringOf = mirrorings(shot, [shown], choice);
  const result = new Map<ChannelId, number>();
  const alone: string[] = [];
  for (const [node, own] of byNode) {
    const from = rig.indexOf(node);
    const partner = rig.nodes[from]!.pair;
    const to = partner === null ? -1 : rig.indexOf(partner);
    if (side !== null && rig.nodes[from]!.side !== side) continue;
    if (to < 0 || partner === null) {
      alone.push(node);
      continue;
    }
    if (left.has(partner)) continue;
    const near = transformOf(rig, to, present);
    const mirroring = mirroringOf(from, false);
    if (mirroring === null) {
      for (const [name, value] of Object.entries(own)) result.set(`${node}.${name}`, value);
      continue;
    }
    const signs = signsBetween(rig, from, to, mirroring, transformOf(rig, from, shown));
    // Axes that are not given stay; only where a reflection mixes them, what the control shows now completes the pose.
    const there = signs ? own : { ...transformOf(rig, from, present, own), ...own };
    const completed = signs ? { ...transformOf(rig, from, shown), ...own } : there;
    const reflected = reflectedValues(rig, from, to, completed, near, mirroring);
    for (const [name, value] of Object.entries(reflected))
      if (name in there) result.set(`${partner}.${name}`, value);
  }
  return { values: result, alone };
}

/**
 * How each node is reflected: one that nothing moving carries stands in the world, and its place is reflected there; null for what
 * carries a character and stands still, which stays.
 * @param shown all channel values at one frame, or over a range
 */
export function mirrorings(
  shot: Shot,
  shown: readonly Float64Array[],
  choice: PlaneChoice,
): (node: number, changes: boolean) => Mirroring | null {
  const rig = rigOf(shot);
  const mirrorOf = mirrorsOf(shot, shown, choice);
  return (node, changes) => {
    const { plane, carriers } = mirrorOf(rig.nodes[node]!);
    if (carriers.has(node)) return null;
    let inWorld = true;
    for (let i = rig.parents[node]!; i >= 0; i = rig.parents[i]!) inWorld &&= carriers.has(i);
    return { plane, inWorld, changes };
  };
}

/** What a control shows, by channel; of each triple, position, turn or scale, of which a part is given. */
function transformOf(rig: Rig, node: number, shown: Float64Array, given?: NodeValues): NodeValues {
  const letters = given && new Set(Object.keys(given).map((name) => name[0]!));
  return Object.fromEntries(
    rig.channels
      .slice(rig.firstChannel[node], rig.firstChannel[node + 1])
      .map(({ name }, i) => [name, shown[rig.firstChannel[node]! + i]!] as const)
      .filter(([name]) => !letters || (/^[trs][xyz]$/.test(name) && letters.has(name[0]!))),
  );
}

/** The options that say in which plane. */
export const planeOptions = {
  plane: z
    .enum(['own', 'world', 'node'])
    .default('own')
    .meta({
      title: 'About',
      labels: { own: 'own middle', world: 'world middle', node: 'a control' },
      description:
        'The plane of reflection: place and heading of the root at that frame; x = 0; or along a control.',
    }),
  about: z
    .string()
    .default('')
    .meta({
      title: 'Control',
      when: { plane: 'node' },
      description: 'For a control: its name.',
    }),
};

/** The choice that the options make; refuses a control that is not there. */
export function planeChoice(
  shot: Shot,
  { plane, about }: { readonly plane: 'own' | 'world' | 'node'; readonly about: string },
): PlaneChoice {
  if (plane !== 'node') return { kind: plane };
  if (rigOf(shot).indexOf(about) < 0) refuse('unknownNode', {}, about);
  return { kind: 'node', node: about };
}

/** The options that leave controls out. */
export const exclusionOptions = {
  exclude: z
    .array(z.string())
    .default([])
    .meta({ title: 'Leave out', description: 'Controls that keep their own motion.' }),
  hands: z.boolean().default(true).meta({
    title: 'Hands take part',
    description:
      'Off, hands and the goals that drive them keep their own motion, as when they hold something.',
  }),
  props: z
    .boolean()
    .default(true)
    .meta({ title: 'Props take part', description: 'Off, props keep their own motion.' }),
};

interface Exclusions {
  readonly exclude: readonly string[];
  readonly hands: boolean;
  readonly props: boolean;
}

/** The controls that are left out, by name and as sets. */
export function excludedNodes(shot: Shot, { exclude, hands, props }: Exclusions): ReadonlySet<string> {
  const left = new Set(exclude);
  for (const node of shot.nodes) {
    if (!hands && node.part === 'hand') left.add(node.id);
    if (!props && node.part === 'prop') left.add(node.id);
  }
  if (hands) return left;
  const parts = new Map(shot.nodes.map(({ id, part }) => [id, part]));
  for (const relation of shot.relations)
    if (parts.get(relation.node) === 'hand' && relationKindOf(relation)?.writes)
      for (const id of readsOf(relation)) left.add(id);
  return left;
}
