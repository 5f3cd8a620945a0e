/** From a placement in the world back to a node's own channels: what switching, matching and baking rest on. */
import { mat4 } from 'gl-matrix';
import { eulerFromQuat } from '../math/euler.ts';
import { multiplyAffine } from '../math/affine.ts';
import { conjugate, multiply, unit } from '../math/quaternion.ts';
import { decomposed } from '../math/decompose.ts';
import type { Quaternion, Triple } from '../math/euler.ts';
import type { RigRows, Seat } from './relations/relation.ts';
import { rotationColumns } from './relations/seat.ts';

const inverse = new Float64Array(16);
const local = new Float64Array(16);

/**
 * Writes the values of the node's transform channels, in the order of `TRANSFORM`, that place it there, as near as its channels can; those that it
 * lacks are left. Angles are those nearest to what they are near.
 * @param world where it shall lie, @param near present values in the same order
 * @returns false, and writes nothing, where the seat has lost a dimension
 */
export function channelsOn(
  out: number[],
  { nodes, slots }: Pick<RigRows, 'nodes' | 'slots'>,
  row: number,
  seat: Seat,
  world: Seat,
  near: readonly number[],
): boolean {
  const { rest, order } = nodes[row]!;
  if (!mat4.invert(inverse, seat.matrix)) return false;
  multiplyAffine(local, inverse, 0, world.matrix);
  const has = (slot: number) => slots[row * 9 + slot]! >= 0;
  for (let axis = 0; axis < 3; axis += 1)
    if (has(axis)) out[axis] = local[12 + axis]! - rest.translation[axis]!;
  const turn = localTurn(seat, world, rest.scale);
  if (has(3) || has(4) || has(5)) {
    const own = unit(multiply(conjugate(rest.rotation), turn));
    const angles = eulerFromQuat(own, order, [near[3]!, near[4]!, near[5]!]);
    for (let axis = 0; axis < 3; axis += 1) if (has(3 + axis)) out[3 + axis] = angles[axis]!;
  }
  if (!(has(6) || has(7) || has(8))) return true;
  const axes = rotationColumns(turn);
  for (let axis = 0; axis < 3; axis += 1) {
    if (!has(6 + axis)) continue;
    const along = [0, 1, 2].reduce((sum, k) => sum + axes[axis * 3 + k]! * local[axis * 4 + k]!, 0);
    const scale = rest.scale[axis]! === 0 ? 1 : along / rest.scale[axis]!;
    const present = near[6 + axis]!;
    // What was never scaled stays so, to the bit.
    out[6 + axis] = Math.abs(scale - present) < 1e-12 ? present : scale;
  }
  return true;
}

/** Shear that is nothing but rounding. */
const NO_SHEAR = 1e-9;

/**
 * The orientation of what was just written to `local`: the one that its matrix is where it is one, mirrored carriers and all. Where it is sheared no orientation is
 * right: by the two orientations less is to be seen than by the nearest to the matrix (25° for 32° on sheared rigs), unless those are mirrored.
 */
function localTurn(seat: Seat, world: Seat, usual: readonly [number, number, number]): Quaternion {
  const turn = multiply(conjugate(seat.turn), world.turn);
  const axes = rotationColumns(turn);
  let [off, size, mirrored] = [0, 0, false];
  for (let axis = 0; axis < 3; axis += 1) {
    const along = [0, 1, 2].reduce((sum, k) => sum + axes[axis * 3 + k]! * local[axis * 4 + k]!, 0);
    mirrored ||= along * usual[axis]! < 0;
    for (let k = 0; k < 3; k += 1) {
      off = Math.max(off, Math.abs(local[axis * 4 + k]! - along * axes[axis * 3 + k]!));
      size = Math.max(size, Math.abs(local[axis * 4 + k]!));
    }
  }
  if (off <= NO_SHEAR * size && !mirrored) return turn;
  const found = decomposed(local, [...usual] as Triple);
  return found && (mirrored || found.shear <= NO_SHEAR * 10) ? found.turn : turn;
}
