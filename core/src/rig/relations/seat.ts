/** Seats: the frames of targets, what lies between several, and how one is turned. */
import { mat4, quat } from 'gl-matrix';
import { conjugate, multiply, slerp } from '../../math/quaternion.ts';
import type { Quaternion, Triple } from '../../math/euler.ts';
import type { CompiledRelation, Offset, Seat, WorldPose } from './relation.ts';

/** A seat of its own with the numbers of a node; row −1 is the world. */
export function seatFrom({ matrices, turns }: Pick<WorldPose, 'matrices' | 'turns'>, row: number): Seat {
  if (row < 0) return { matrix: Float64Array.from(IDENTITY), turn: Float64Array.of(0, 0, 0, 1) };
  return { matrix: matrices.slice(row * 16, row * 16 + 16), turn: turns.slice(row * 4, row * 4 + 4) };
}

const IDENTITY = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

export function copySeat(to: Seat, from: Seat): void {
  to.matrix.set(from.matrix);
  to.turn.set(from.turn);
}

/** `frame · offset`. */
function withOffset({ matrix, turn }: Seat, offset: Offset): Seat {
  const product = new Float64Array(16);
  mat4.multiply(product, matrix, offset.matrix);
  return { matrix: product, turn: Float64Array.from(multiply(turn, offset.turn)) };
}

/** The offset with which a frame gives another: `frame⁻¹ · other`; null where the frame has lost a dimension. */
export function offsetBetween(frame: Seat, other: Seat): Offset | null {
  const inverse = mat4.invert(new Float64Array(16), frame.matrix);
  if (!inverse) return null;
  const matrix = mat4.multiply(new Float64Array(16), inverse, other.matrix);
  return { matrix: [...matrix], turn: multiply(conjugate(frame.turn), other.turn) };
}

/** A target that counts, and how much of the whole. */
interface Counted {
  readonly at: number;
  readonly share: number;
}

/** Which targets hold; shares add up to one. None where all shares are nothing. */
export function countedTargets(
  { relation, shares, switch: channel }: CompiledRelation,
  values: ArrayLike<number>,
): Counted[] {
  const last = relation.targets.length - 1;
  if (last < 0) return [];
  if (channel >= 0) return [{ at: Math.min(Math.max(Math.round(values[channel]!), 0), last), share: 1 }];
  const given = shares.map((c) => (c < 0 ? 1 : Math.max(values[c]!, 0)));
  const sum = given.reduce((all, share) => all + share, 0);
  if (!(sum > 0)) return [];
  return given.flatMap((share, at) => (share > 0 ? [{ at, share: share / sum }] : []));
}

/** The frame that the targets give together; null where none holds. */
export function targetFrame(
  compiled: CompiledRelation,
  values: ArrayLike<number>,
  pose: WorldPose,
): Seat | null {
  const counted = countedTargets(compiled, values);
  const frames = counted.map(({ at }) =>
    withOffset(seatFrom(pose, compiled.targets[at]!), compiled.relation.targets[at]!.offset),
  );
  if (frames.length === 0) return null;
  let [mixed, weight] = [frames[0]!, counted[0]!.share];
  for (let i = 1; i < frames.length; i += 1) {
    weight += counted[i]!.share;
    mixed = between(mixed, frames[i]!, counted[i]!.share / weight);
  }
  return mixed;
}

/**
 * The frame at a part of the way from one to another: places straight, orientations by the shorter side, and what is left of each, its scale
 * and shear, straight as well. At 0 and 1 it is the one or the other, to the bit.
 */
export function between(from: Seat, to: Seat, weight: number): Seat {
  if (weight <= 0) return from;
  if (weight >= 1) return to;
  const turn = slerp(from.turn, to.turn, weight);
  const [a, b] = [stretchOf(from), stretchOf(to)];
  const stretch = a.map((value, i) => value + weight * (b[i]! - value));
  const axes = rotationColumns(turn);
  const matrix = Float64Array.from(IDENTITY);
  for (let column = 0; column < 3; column += 1)
    for (let row = 0; row < 3; row += 1)
      matrix[column * 4 + row] =
        axes[row]! * stretch[column * 3]! +
        axes[3 + row]! * stretch[column * 3 + 1]! +
        axes[6 + row]! * stretch[column * 3 + 2]!;
  for (let row = 12; row < 15; row += 1)
    matrix[row] = from.matrix[row]! + weight * (to.matrix[row]! - from.matrix[row]!);
  return { matrix, turn: Float64Array.from(turn) };
}

/** The upper 3×3 in the frame's own orientation, column-major. */
function stretchOf({ matrix, turn }: Seat): number[] {
  const axes = rotationColumns(turn);
  const stretch: number[] = [];
  for (let column = 0; column < 3; column += 1)
    for (let axis = 0; axis < 3; axis += 1)
      stretch.push(
        axes[axis * 3]! * matrix[column * 4]! +
          axes[axis * 3 + 1]! * matrix[column * 4 + 1]! +
          axes[axis * 3 + 2]! * matrix[column * 4 + 2]!,
      );
  return stretch;
}

/** The three axes of an orientation, one after the other. */
export function rotationColumns(turn: ArrayLike<number>): number[] {
  const [x, y, z, w] = [turn[0]!, turn[1]!, turn[2]!, turn[3]!];
  return [
    ...[1 - 2 * (y * y + z * z), 2 * (x * y + z * w), 2 * (x * z - y * w)],
    ...[2 * (x * y - z * w), 1 - 2 * (x * x + z * z), 2 * (y * z + x * w)],
    ...[2 * (x * z + y * w), 2 * (y * z - x * w), 1 - 2 * (x * x + y * y)],
  ];
}

/** Where a place in the seat's axes lies in the world. */
export function placeOn({ matrix: m }: Seat, [x, y, z]: Readonly<Triple>): Triple {
  return [0, 1, 2].map((row) => m[row]! * x + m[4 + row]! * y + m[8 + row]! * z + m[12 + row]!) as Triple;
}

/** Turns the seat in the world about a place that it carries, which stays where it is. */
export function turnSeat(seat: Seat, turn: Quaternion, about: Readonly<Triple>): void {
  const { matrix } = seat;
  const before = placeOn(seat, about);
  const axes = rotationColumns(turn);
  for (let column = 0; column < 3; column += 1) {
    const [x, y, z] = [matrix[column * 4]!, matrix[column * 4 + 1]!, matrix[column * 4 + 2]!];
    for (let row = 0; row < 3; row += 1)
      matrix[column * 4 + row] = axes[row]! * x + axes[3 + row]! * y + axes[6 + row]! * z;
  }
  seat.turn.set(quat.normalize([0, 0, 0, 1], multiply(turn, seat.turn)));
  const after = placeOn(seat, about);
  for (let axis = 0; axis < 3; axis += 1) matrix[12 + axis]! += before[axis]! - after[axis]!;
}
