/**
 * The few quaternion functions that gl-matrix lacks or does in float32 fashion. Quaternions are
 * `[x, y, z, w]`, of length 1.
 */
import { quat } from 'gl-matrix';
import type { Quaternion } from './euler.ts';

/** The angle between two orientations, degrees, 0…180. Exact near zero, where acos is not. */
export function angleBetween(a: ArrayLike<number>, b: ArrayLike<number>): number {
  const dot = a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]! + a[3]! * b[3]!;
  const side = dot < 0 ? -1 : 1;
  const x = a[0]! - side * b[0]!;
  const y = a[1]! - side * b[1]!;
  const z = a[2]! - side * b[2]!;
  const w = a[3]! - side * b[3]!;
  // Not hypot, which is slow and guards against sizes that do not come here.
  const gap = Math.sqrt(x * x + y * y + z * z + w * w);
  return (4 * Math.asin(Math.min(1, gap / 2)) * 180) / Math.PI;
}

/** The mirror image of an orientation in the YZ plane (reflection of a rotation). */
export function mirrorX(q: ArrayLike<number>): Quaternion {
  return [q[0]!, -q[1]!, -q[2]!, q[3]!];
}

/** a · b. Not gl-matrix's, which fills an array that it is given: limbs multiply dozens of times in every pose. */
export function multiply(a: ArrayLike<number>, b: ArrayLike<number>): Quaternion {
  const [ax, ay, az, aw] = [a[0]!, a[1]!, a[2]!, a[3]!];
  const [bx, by, bz, bw] = [b[0]!, b[1]!, b[2]!, b[3]!];
  return [
    ax * bw + aw * bx + ay * bz - az * by,
    ay * bw + aw * by + az * bx - ax * bz,
    az * bw + aw * bz + ax * by - ay * bx,
    aw * bw - ax * bx - ay * by - az * bz,
  ];
}

/** The inverse of a unit quaternion. */
export function conjugate(q: ArrayLike<number>): Quaternion {
  return [-q[0]!, -q[1]!, -q[2]!, q[3]!];
}

/** The orientation at `weight` of the way from a to b by the shorter side (Shoemake 1985). */
export function slerp(a: ArrayLike<number>, b: ArrayLike<number>, weight: number): Quaternion {
  return quat.slerp([0, 0, 0, 1], a as Quaternion, b as Quaternion, weight) as Quaternion;
}

/** `turn` to a real power: the same axis, `exponent` times the angle, beyond 1 too. */
export function power(turn: Quaternion, exponent: number): Quaternion {
  if (exponent >= 0 && exponent <= 1) return slerp([0, 0, 0, 1], turn, exponent);
  const [x, y, z, w] = turn[3] < 0 ? turn.map((part) => -part) : turn;
  const sine = Math.hypot(x!, y!, z!);
  if (sine < 1e-12) return [0, 0, 0, 1];
  const half = Math.atan2(sine, w!) * exponent;
  const scale = Math.sin(half) / sine;
  return [x! * scale, y! * scale, z! * scale, Math.cos(half)];
}

/** A vector turned by a unit quaternion. */
export function rotate(q: ArrayLike<number>, x: number, y: number, z: number): [number, number, number] {
  const [qx, qy, qz, qw] = [q[0]!, q[1]!, q[2]!, q[3]!];
  const tx = 2 * (qy * z - qz * y);
  const ty = 2 * (qz * x - qx * z);
  const tz = 2 * (qx * y - qy * x);
  return [x + qw * tx + qy * tz - qz * ty, y + qw * ty + qz * tx - qx * tz, z + qw * tz + qx * ty - qy * tx];
}

/**
 * The shortest rotation that takes unit vector a to unit vector b; for opposite vectors, half a turn about
 * any axis across them. Not gl-matrix's `rotationTo`, which goes through float32 on its way.
 */
export function rotationBetween(a: ArrayLike<number>, b: ArrayLike<number>): Quaternion {
  const [ax, ay, az] = [a[0]!, a[1]!, a[2]!];
  const [bx, by, bz] = [b[0]!, b[1]!, b[2]!];
  const w = 1 + ax * bx + ay * by + az * bz;
  if (w < 1e-12) return Math.abs(ax) > 0.9 ? unit([-az, 0, ax, 0]) : unit([0, az, -ay, 0]);
  return unit([ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx, w]);
}

/** `q` scaled to length 1. */
export function unit(q: Quaternion): Quaternion {
  const length = Math.sqrt(q[0] * q[0] + q[1] * q[1] + q[2] * q[2] + q[3] * q[3]);
  return [q[0] / length, q[1] / length, q[2] / length, q[3] / length];
}
