/** Affine frames in rows of numbers: 16 of a column-major matrix, 4 of an orientation; written in place, since poses are full of them. */

/** out = a · b for matrices whose last row is 0 0 0 1; `out` is neither of them. */
export function multiplyAffine(
  out: Float64Array,
  a: Float64Array,
  aAt: number,
  b: Float64Array,
  bAt = 0,
): void {
  for (let row = 0; row < 3; row += 1) {
    const x = a[aAt + row]!;
    const y = a[aAt + 4 + row]!;
    const z = a[aAt + 8 + row]!;
    out[row] = x * b[bAt]! + y * b[bAt + 1]! + z * b[bAt + 2]!;
    out[4 + row] = x * b[bAt + 4]! + y * b[bAt + 5]! + z * b[bAt + 6]!;
    out[8 + row] = x * b[bAt + 8]! + y * b[bAt + 9]! + z * b[bAt + 10]!;
    out[12 + row] = x * b[bAt + 12]! + y * b[bAt + 13]! + z * b[bAt + 14]! + a[aAt + 12 + row]!;
  }
  out[3] = 0;
  out[7] = 0;
  out[11] = 0;
  out[15] = 1;
}

/** out = a · b for orientations `[x, y, z, w]`; `out` may be one of them. */
export function multiplyTurns(
  out: Float64Array,
  a: ArrayLike<number>,
  aAt: number,
  b: ArrayLike<number>,
  bAt = 0,
): void {
  const ax = a[aAt]!;
  const ay = a[aAt + 1]!;
  const az = a[aAt + 2]!;
  const aw = a[aAt + 3]!;
  const bx = b[bAt]!;
  const by = b[bAt + 1]!;
  const bz = b[bAt + 2]!;
  const bw = b[bAt + 3]!;
  out[0] = aw * bx + ax * bw + ay * bz - az * by;
  out[1] = aw * by + ay * bw + az * bx - ax * bz;
  out[2] = aw * bz + az * bw + ax * by - ay * bx;
  out[3] = aw * bw - ax * bx - ay * by - az * bz;
}
