/** Moves over the ground: turned about the upright, then moved. What lets an action begin where a character stands, and go on where it came to. */
import { eulerFromQuat, quatFromEuler } from '../../math/euler.ts';
import type { EulerOrder, Quaternion, Triple } from '../../math/euler.ts';
import { conjugate, multiply } from '../../math/quaternion.ts';
import type { Rest } from '../../rig/node.ts';

/** p′ = turn · p + (x, z); degrees about the upright from +z toward +x, cm. */
export interface GroundMove {
  readonly turn: number;
  readonly x: number;
  readonly z: number;
}

export const STAY: GroundMove = { turn: 0, x: 0, z: 0 };

/** Where something stands, and how it is turned; in the world, or in what does not move. */
export interface Stance {
  readonly place: Triple;
  readonly turn: Quaternion;
}

const RADIANS = Math.PI / 180;

/** First `inner`, then `outer`. */
export function afterMove(outer: GroundMove, inner: GroundMove): GroundMove {
  const [x, , z] = movedPlace(outer, [inner.x, 0, inner.z]);
  return { turn: outer.turn + inner.turn, x, z };
}

export function movedPlace({ turn, x, z }: GroundMove, [px, py, pz]: Triple): Triple {
  if (turn === 0) return [px + x, py, pz + z];
  const [sin, cos] = [Math.sin(turn * RADIANS), Math.cos(turn * RADIANS)];
  return [cos * px + sin * pz + x, py, cos * pz - sin * px + z];
}

/** The move that takes one stance to where another is and faces, as far as the ground goes: neither up nor a lean is taken over. */
export function moveBetween(from: Stance, to: Stance): GroundMove {
  const [, y, , w] = multiply(to.turn, conjugate(from.turn));
  // The part of the turn about the upright.
  const turn = Math.abs(y) + Math.abs(w) < 1e-12 ? 0 : (2 * Math.atan2(y, w)) / RADIANS;
  const short = turn - 360 * Math.round(turn / 360);
  const clean = Math.abs(short) < 1e-9 ? 0 : short;
  const [x, , z] = movedPlace({ turn: clean, x: 0, z: 0 }, from.place);
  return { turn: clean, x: to.place[0] - x, z: to.place[2] - z };
}

/** Where a node that nothing carries stands, from its values: tx, ty, tz and rx, ry, rz. */
export function stanceOf(values: readonly number[], rest: Rest, order: EulerOrder): Stance {
  const own: Quaternion = [0, 0, 0, 1];
  quatFromEuler(own, 0, values[3]!, values[4]!, values[5]!, order);
  const place = rest.translation.map((value, axis) => value + values[axis]!) as Triple;
  return { place, turn: multiply(rest.rotation, own) };
}

/** The six values when the node has been moved; angles as near to those before as can be. */
export function movedValues(
  values: readonly number[],
  move: GroundMove,
  rest: Rest,
  order: EulerOrder,
): number[] {
  const { place, turn } = stanceOf(values, rest, order);
  const moved = movedPlace(move, place).map((value, axis) => value - rest.translation[axis]!);
  // A move that turns nothing leaves the angles as they are, to the bit.
  if (move.turn === 0) return [moved[0]!, values[1]!, moved[2]!, ...values.slice(3)];
  const half = (move.turn * RADIANS) / 2;
  const upright: Quaternion = [0, Math.sin(half), 0, Math.cos(half)];
  const own = multiply(conjugate(rest.rotation), multiply(upright, turn));
  const [rx, ry, rz] = values.slice(3) as unknown as Triple;
  return [moved[0]!, values[1]!, moved[2]!, ...eulerFromQuat(own, order, [rx, ry + move.turn, rz])];
}
