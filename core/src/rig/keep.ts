/** From a placement in the world back to a node's own channels: what switching, matching and baking rest on. */
import { mat4 } from 'gl-matrix';
import { eulerFromQuat } from '../math/euler.ts';
import { conjugate, multiply, unit } from '../math/quaternion.ts';
import type { Seat } from './relations/relation.ts';
import { rotationColumns } from './relations/seat.ts';
import type { Rig } from './rig.ts';

const PLACE = ['tx', 'ty', 'tz'] as const;
const TURN = ['rx', 'ry', 'rz'] as const;
const SIZE = ['sx', 'sy', 'sz'] as const;

/**
 * The values of the node's transform channels that place it there, as near as its channels can. Angles are those nearest to what they are near.
 * @param world where it shall lie, @param near present values by channel name; null where the seat has lost a dimension
 */
export function channelsOn(
  rig: Rig,
  row: number,
  seat: Seat,
  world: Seat,
  near: (name: string) => number,
): Readonly<Record<string, number>> | null {
  const { rest, order, channels } = rig.nodes[row]!;
  const inverse = mat4.invert(new Float64Array(16), seat.matrix);
  if (!inverse) return null;
  const local = mat4.multiply(new Float64Array(16), inverse, world.matrix);
  const values: Record<string, number> = {};
  PLACE.forEach((name, axis) => {
    if (channels.includes(name)) values[name] = local[12 + axis]! - rest.translation[axis]!;
  });
  const turn = multiply(conjugate(seat.turn), world.turn);
  if (TURN.some((name) => channels.includes(name))) {
    const own = unit(multiply(conjugate(rest.rotation), turn));
    const angles = eulerFromQuat(own, order, TURN.map(near));
    TURN.forEach((name, axis) => {
      if (channels.includes(name)) values[name] = angles[axis]!;
    });
  }
  const axes = rotationColumns(turn);
  SIZE.forEach((name, axis) => {
    if (!channels.includes(name)) return;
    const along = [0, 1, 2].reduce((sum, k) => sum + axes[axis * 3 + k]! * local[axis * 4 + k]!, 0);
    const scale = rest.scale[axis]! === 0 ? 1 : along / rest.scale[axis]!;
    // What was never scaled stays so, to the bit.
    values[name] = Math.abs(scale - near(name)) < 1e-12 ? near(name) : scale;
  });
  return values;
}
