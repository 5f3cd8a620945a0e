/** Vectors of three numbers that stand one behind the other in an array. */

export const dot = (p: Float64Array, i: number, q: Float64Array, j: number): number =>
  p[i]! * q[j]! + p[i + 1]! * q[j + 1]! + p[i + 2]! * q[j + 2]!;

/** Makes the vector that begins there as long as 1; one of no length stays. */
export function normalise(v: Float64Array, at: number): void {
  const scale = 1 / (Math.sqrt(dot(v, at, v, at)) || 1);
  v[at]! *= scale;
  v[at + 1]! *= scale;
  v[at + 2]! *= scale;
}
