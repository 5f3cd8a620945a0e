/** On which frames the path of a point has a bead. */
import type { Rig } from '../rig/rig.ts';
import { curveOf, rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { turningJointAbove } from './solve.ts';

/**
 * The whole frames, rising, on which something that makes the path of a node is keyed on a layer (null is the base): the node itself, the joint that it turns about, its limb with goal,
 * pole and blend, however the blend stands at any frame. What carries the whole limb, as hips do, makes no bead.
 */
export function arcFrames(shot: Shot, layer: string | null, node: string): number[] {
  const rig = rigOf(shot);
  const i = rig.indexOf(node);
  if (i < 0) return [];
  const makers = makersOf(rig, i);
  const frames = new Set<number>();
  for (const { id, node: owner } of rig.channels)
    if (makers.has(owner)) for (const time of curveOf(shot, layer, id).times) frames.add(Math.round(time));
  return [...frames].sort((a, b) => a - b);
}

function makersOf(rig: Rig, i: number): ReadonlySet<number> {
  const joint = turningJointAbove(rig, i);
  const makers = new Set([i, ...(joint < 0 ? [] : [joint])]);
  for (const chain of rig.chains) {
    if (chain.end !== i) continue;
    makers.add(chain.target);
    if (chain.pole >= 0) makers.add(chain.pole);
    for (let at = i; at >= 0 && at !== rig.parents[chain.root]; at = rig.parents[at]!) makers.add(at);
  }
  return makers;
}
