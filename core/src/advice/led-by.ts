/** Controls that another leads: what is keyed on them does not show, or not alone. */
import { valuesAt } from '../evaluation/evaluation.ts';
import { relationsHolding } from '../evaluation/relations-holding.ts';
import { rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';

/** From here on the reach counts for more than the joints' own keys. */
const LEADS_FROM = 0.5;

/** By control, the goal that leads it at a frame: joints of a limb whose reach is on. */
export function ledBy(shot: Shot, frame: number): ReadonlyMap<string, string> {
  const rig = rigOf(shot);
  const led = new Map<string, string>();
  for (const { node, target, weight } of relationsHolding(shot, frame))
    if (target !== null && weight >= LEADS_FROM) led.set(node, target);
  if (rig.chains.length === 0) return led;
  const values = valuesAt(shot, frame);
  for (const { root, middle, end, target, blend, upper, lower } of rig.chains) {
    if (blend >= 0 && values[blend]! < LEADS_FROM) continue;
    // What hangs on other controls is reached by the nearest one that can be moved.
    let goal = target;
    while (rig.parents[goal]! >= 0 && !rig.nodes[goal]!.channels.includes('tx')) goal = rig.parents[goal]!;
    for (const joint of [root, ...upper, middle, ...lower, end])
      led.set(rig.nodes[joint]!.id, rig.nodes[goal]!.id);
  }
  return led;
}
