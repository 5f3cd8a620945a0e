/**
 * Euler angles in degrees, intrinsic, in all six orders. An order is written as the order of
 * multiplication: `xyz` means R = Rx·Ry·Rz. Quaternions are `[x, y, z, w]`.
 *
 * For R = Ri(a)·Rj(b)·Rk(c) and e = +1 for the even orders, −1 for the odd ones:
 *   R[i][k] = e·sin b,  R[j][k] = −e·sin a·cos b,  R[k][k] = cos a·cos b,
 *   R[i][j] = −e·cos b·sin c,  R[i][i] = cos b·cos c
 * Source: K. Shoemake, Euler Angle Conversion, Graphics Gems IV (1994).
 */
export const EULER_ORDERS = ['xyz', 'yzx', 'zxy', 'xzy', 'zyx', 'yxz'] as const;
export type EulerOrder = (typeof EULER_ORDERS)[number];

export type Triple = [number, number, number];
export type ReadonlyTriple = ArrayLike<number>;
export type Quaternion = [number, number, number, number];

const RADIANS = Math.PI / 180;

interface Axes {
  readonly i: number;
  readonly j: number;
  readonly k: number;
  readonly sign: number;
}

const AXES = Object.fromEntries(
  EULER_ORDERS.map((order, index) => {
    const [i, j, k] = [...order].map((letter) => 'xyz'.indexOf(letter)) as Triple;
    return [order, { i, j, k, sign: index < 3 ? 1 : -1 }];
  }),
) as Record<EulerOrder, Axes>;

/**
 * Writes the quaternion of Euler angles to out[at…at+3].
 * @param x degrees about x, whatever the order; likewise y and z
 */
export function quatFromEuler(
  out: { [index: number]: number },
  at: number,
  x: number,
  y: number,
  z: number,
  order: EulerOrder,
): void {
  const sx = Math.sin(x * RADIANS * 0.5);
  const cx = Math.cos(x * RADIANS * 0.5);
  const sy = Math.sin(y * RADIANS * 0.5);
  const cy = Math.cos(y * RADIANS * 0.5);
  const sz = Math.sin(z * RADIANS * 0.5);
  const cz = Math.cos(z * RADIANS * 0.5);
  // The eight half-angle products; each order differs only in four signs.
  const [a, b, c, d] = SIGNS[order];
  out[at] = sx * cy * cz + a * cx * sy * sz;
  out[at + 1] = cx * sy * cz + b * sx * cy * sz;
  out[at + 2] = cx * cy * sz + c * sx * sy * cz;
  out[at + 3] = cx * cy * cz + d * sx * sy * sz;
}

/** The signs of the four second products of an order, for those who write the quaternion out themselves. */
export const halfTurnSigns = (order: EulerOrder): readonly [number, number, number, number] => SIGNS[order];

/** Signs of the second products of x, y, z, w; from multiplying out the three half-turn quaternions. */
const SIGNS: Record<EulerOrder, readonly [number, number, number, number]> = {
  xyz: [1, -1, 1, -1],
  yxz: [1, -1, -1, 1],
  zxy: [-1, 1, 1, -1],
  zyx: [-1, 1, -1, 1],
  yzx: [1, 1, -1, -1],
  xzy: [-1, -1, 1, 1],
};

/** One entry of the rotation matrix of a unit quaternion. */
function matrixEntry(q: ReadonlyTriple, row: number, column: number): number {
  const w = q[3]!;
  if (row === column) {
    const u = q[(row + 1) % 3]!;
    const v = q[(row + 2) % 3]!;
    return 1 - 2 * (u * u + v * v);
  }
  const rest = 3 - row - column;
  const turn = (column - row + 3) % 3 === 1 ? -1 : 1;
  return 2 * (q[row]! * q[column]! + turn * w * q[rest]!);
}

/**
 * The Euler angles of a unit quaternion, in degrees: the solution nearest to `near` (zero when not given),
 * whole turns included, so that a row of them over time does not jump.
 */
export function eulerFromQuat(
  q: ReadonlyTriple,
  order: EulerOrder,
  near: ReadonlyTriple = [0, 0, 0],
): Triple {
  const { i, j, k, sign } = AXES[order];
  const angles: Triple = [0, 0, 0];
  const sine = Math.min(1, Math.max(-1, sign * matrixEntry(q, i, k)));
  angles[j] = Math.asin(sine) / RADIANS;
  if (Math.abs(sine) < 1 - 1e-12) {
    angles[i] = Math.atan2(-sign * matrixEntry(q, j, k), matrixEntry(q, k, k)) / RADIANS;
    angles[k] = Math.atan2(-sign * matrixEntry(q, i, j), matrixEntry(q, i, i)) / RADIANS;
  } else {
    // The outer axes coincide: only their sum or difference is known. The last stays where it was.
    const both = Math.atan2(sign * matrixEntry(q, k, j), matrixEntry(q, j, j)) / RADIANS;
    angles[k] = near[k]!;
    angles[i] = both - sign * Math.sign(sine) * near[k]!;
  }
  const other: Triple = [0, 0, 0];
  other[i] = angles[i] + 180;
  other[j] = 180 - angles[j];
  other[k] = angles[k] + 180;
  const first = unwind(angles, near);
  const second = unwind(other, near);
  return distance(first, near) <= distance(second, near) + 1e-9 ? first : second;
}

/** How many whole turns a step between two angles holds, degrees; half a turn is none: it may be meant either way. */
export const wholeTurns = (step: number): number =>
  // Never −0.
  Math.sign(step) * Math.ceil(Math.max(Math.abs(step) - 180 - 1e-9, 0) / 360) + 0;

/** Each angle moved by whole turns to within 180° of `near`. */
function unwind(angles: Triple, near: ReadonlyTriple): Triple {
  return angles.map((angle, axis) => angle - 360 * Math.round((angle - near[axis]!) / 360)) as Triple;
}

function distance(a: ReadonlyTriple, b: ReadonlyTriple): number {
  return Math.abs(a[0]! - b[0]!) + Math.abs(a[1]! - b[1]!) + Math.abs(a[2]! - b[2]!);
}
