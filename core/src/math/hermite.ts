/**
 * Cubic Hermite interpolation on the unit interval; the segment of glTF's CUBICSPLINE.
 * Source: any text on cubic Hermite interpolation; glTF 2.0, appendix C.
 */

/**
 * The value at u in [0, 1] between v0 and v1.
 * @param d0 slope at 0 times the length of the interval; @param d1 the same at 1
 */
export function hermite(v0: number, d0: number, v1: number, d1: number, u: number): number {
  const rise = v1 - v0;
  // Power form: v0 + d0·u + (3·rise − 2·d0 − d1)·u² + (d0 + d1 − 2·rise)·u³
  return v0 + u * (d0 + u * (3 * rise - 2 * d0 - d1 + u * (d0 + d1 - 2 * rise)));
}
