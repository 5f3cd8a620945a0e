/**
 * Solves a tridiagonal system in place by elimination (Thomas's algorithm; Burden & Faires, Numerical
 * Analysis, 6.6). Stable for the diagonally dominant systems of splines, which is what it is for.
 *
 * Row i reads below[i]·x[i−1] + diagonal[i]·x[i] + above[i]·x[i+1] = right[i]. All of length n; below[0]
 * and above[n−1] are not read. Overwrites `diagonal` and leaves x in `right`.
 */
export function solveTridiagonal(
  below: Float64Array,
  diagonal: Float64Array,
  above: Float64Array,
  right: Float64Array,
): Float64Array {
  const n = diagonal.length;
  for (let i = 1; i < n; i += 1) {
    const factor = below[i]! / diagonal[i - 1]!;
    diagonal[i]! -= factor * above[i - 1]!;
    right[i]! -= factor * right[i - 1]!;
  }
  for (let i = n - 1; i >= 0; i -= 1) {
    const next = i + 1 < n ? above[i]! * right[i + 1]! : 0;
    right[i] = (right[i]! - next) / diagonal[i]!;
  }
  return right;
}
