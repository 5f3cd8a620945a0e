/** A point of a node as its pair has it: across the middle of the body, as both are at rest. */
import { rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import type { Triple } from '../math/euler.ts';
import { conjugate, rotate } from '../math/quaternion.ts';
import { acrossOf, facingOf } from './mirror-plane.ts';

/** @param from row of the node, @param to row of its pair, @param point in the axes of the node */
export function pointOfPair(shot: Shot, from: number, to: number, point: Readonly<Triple>): Triple {
  const rig = rigOf(shot);
  const normal = acrossOf(facingOf(shot, rig.nodes[from]!.character).degrees);
  const way = rotate(rig.restTurns[from]!, ...point);
  const across = way.reduce((sum, value, axis) => sum + value * normal[axis]!, 0);
  const [x, y, z] = way.map((value, axis) => value - 2 * across * normal[axis]!) as Triple;
  return rotate(conjugate(rig.restTurns[to]!), x, y, z);
}
