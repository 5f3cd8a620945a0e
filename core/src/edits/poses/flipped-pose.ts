/** A pose with left and right exchanged: what pasting flipped, flipping and mirroring share. */
import { z } from 'zod';
import { reflectedValues, signsBetween } from '../../shot/reflection.ts';
import type { NodeValues } from '../../shot/reflection.ts';
import type { Rig } from '../../rig/rig.ts';
import { valuesAt } from '../../shot/evaluation.ts';
import { rigOf, splitChannel } from '../../shot/shot.ts';
import type { ChannelId, Shot } from '../../shot/shot.ts';

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
  side: 'left' | 'right' | null = null,
): FlippedPose {
  const rig = rigOf(shot);
  const present = valuesAt(shot, frame);
  const byNode = new Map<string, Record<string, number>>();
  for (const [id, value] of values) {
    const { node, name } = splitChannel(id);
    byNode.set(node, { ...byNode.get(node), [name]: value });
  }
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
    const near: NodeValues = Object.fromEntries(
      rig.channels
        .slice(rig.firstChannel[to], rig.firstChannel[to + 1])
        .map((channel, i) => [channel.name, present[rig.firstChannel[to]! + i]!]),
    );
    const signs = signsBetween(rig, from, to);
    // Axes that are not given stay; only where a reflection mixes them, what the control shows now completes the pose.
    const there = signs ? own : { ...transformOf(rig, from, present, own), ...own };
    const reflected = reflectedValues(rig, from, to, there, near);
    for (const [name, value] of Object.entries(reflected))
      if (!signs || name in own) result.set(`${partner}.${name}`, value);
  }
  return { values: result, alone };
}

/** What a control shows of each triple, position or turn, of which a part is given. */
function transformOf(rig: Rig, node: number, present: Float64Array, given: NodeValues): NodeValues {
  const letters = new Set(Object.keys(given).map((name) => name[0]!));
  return Object.fromEntries(
    rig.channels
      .slice(rig.firstChannel[node], rig.firstChannel[node + 1])
      .map(({ name }, i) => [name, present[rig.firstChannel[node]! + i]!] as const)
      .filter(([name]) => /^[tr][xyz]$/.test(name) && letters.has(name[0]!)),
  );
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
  for (const { end, target, pole } of shot.chains) {
    if (parts.get(end) !== 'hand') continue;
    left.add(target);
    left.add(pole);
  }
  return left;
}
