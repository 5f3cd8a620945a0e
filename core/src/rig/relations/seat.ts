/** Seats: the frames of targets, what lies between several, and how one is turned. */
import { mat4, quat } from 'gl-matrix';
import { multiplyAffine, multiplyTurns } from '../../math/affine.ts';
import { conjugate, multiply, slerp } from '../../math/quaternion.ts';
import type { Quaternion, Triple } from '../../math/euler.ts';
import type { Placed } from '../place-node.ts';
import type { CompiledRelation, Offset, Seat } from './relation.ts';

const IDENTITY = Float64Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1);
const NO_TURN = Float64Array.of(0, 0, 0, 1);

/** The world itself. */
export const newSeat = (): Seat => ({ matrix: IDENTITY.slice(), turn: NO_TURN.slice() });

/** A seat of its own with the numbers of a node; row −1 is the world. */
export function seatFrom(pose: Placed, row: number): Seat {
  const seat = newSeat();
  seatInto(seat, pose, row);
  return seat;
}

/** The same, written into a seat that there is. */
export function seatInto({ matrix, turn }: Seat, { matrices, turns }: Placed, row: number): void {
  const m = Math.max(row, 0) * 16;
  const q = Math.max(row, 0) * 4;
  const from = row < 0 ? IDENTITY : matrices;
  const turned = row < 0 ? NO_TURN : turns;
  for (let k = 0; k < 16; k += 1) matrix[k] = from[m + k]!;
  for (let k = 0; k < 4; k += 1) turn[k] = turned[q + k]!;
}

export function copySeat({ matrix, turn }: Seat, from: Seat): void {
  for (let k = 0; k < 16; k += 1) matrix[k] = from.matrix[k]!;
  for (let k = 0; k < 4; k += 1) turn[k] = from.turn[k]!;
}

/** A target's frame with the offset that is kept from it. */
function targetInto(out: Seat, { targets, offsets }: CompiledRelation, pose: Placed, at: number): void {
  const row = targets[at]!;
  const { matrix, turn } = offsets[at]!;
  multiplyAffine(out.matrix, row < 0 ? IDENTITY : pose.matrices, Math.max(row, 0) * 16, matrix);
  multiplyTurns(out.turn, row < 0 ? NO_TURN : pose.turns, Math.max(row, 0) * 4, turn);
}

/** What lies by an offset from a node. */
export function seatOn(pose: Placed, row: number, { matrix, turn }: Offset): Seat {
  const seat = newSeat();
  multiplyAffine(seat.matrix, pose.matrices, row * 16, Float64Array.from(matrix));
  multiplyTurns(seat.turn, pose.turns, row * 4, turn);
  return seat;
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

/** Writes the frame that the targets give together; false where none holds. */
export function targetFrame(
  out: Seat,
  compiled: CompiledRelation,
  values: ArrayLike<number>,
  pose: Placed,
): boolean {
  if (compiled.targets.length === 1 && compiled.switch < 0 && compiled.shares[0]! < 0) {
    targetInto(out, compiled, pose, 0);
    return true;
  }
  const counted = countedTargets(compiled, values);
  if (counted.length === 0) return false;
  let weight = 0;
  for (const [i, { at, share }] of counted.entries()) {
    weight += share;
    const frame = i === 0 ? out : newSeat();
    targetInto(frame, compiled, pose, at);
    if (i > 0) copySeat(out, between(out, frame, share / weight));
  }
  return true;
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

/** Where a node shall lie in the world whatever carries it: stretched or mirrored as that is, and not by itself. */
export interface Standing {
  readonly at: Readonly<Triple>;
  readonly turn: Quaternion;
}

/** The frame of a node that stands so on a seat. @param scale of the node itself */
export function standingOn(
  { matrix: m, turn: seated }: Seat,
  scale: Readonly<Triple>,
  { at, turn }: Standing,
): Seat {
  const own = rotationColumns(multiply(conjugate(seated), turn));
  const matrix = Float64Array.from(IDENTITY);
  for (let column = 0; column < 3; column += 1)
    for (let row = 0; row < 3; row += 1)
      matrix[column * 4 + row] =
        scale[column]! *
        (m[row]! * own[column * 3]! +
          m[4 + row]! * own[column * 3 + 1]! +
          m[8 + row]! * own[column * 3 + 2]!);
  matrix.set(at, 12);
  return { matrix, turn: Float64Array.from(turn) };
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
