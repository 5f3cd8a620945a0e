/** What a node's own channels say, in the axes of what carries it. */
import type { Quaternion, Triple } from '../../math/euler.ts';
import { multiply } from '../../math/quaternion.ts';
import type { RigRows, Seat } from './relation.ts';

const read = (rig: RigRows, values: ArrayLike<number>, node: number, slot: number, absent: number) => {
  const c = rig.slots[node * 9 + slot]!;
  return c < 0 ? absent : values[c]!;
};

/** Its origin: the rest's translation and its own. */
export function localPlace(rig: RigRows, values: ArrayLike<number>, node: number): Triple {
  const { translation } = rig.nodes[node]!.rest;
  return [0, 1, 2].map((axis) => translation[axis]! + read(rig, values, node, axis, 0)) as Triple;
}

/** Its orientation in the world while its own rotation is nothing. */
export const restTurnOn = (rig: RigRows, { turn }: Seat, node: number): Quaternion =>
  multiply(turn, rig.nodes[node]!.rest.rotation);
