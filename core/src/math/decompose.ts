/** A linear map as an orientation and a size along each axis, as near as those can say it. */
import { quat } from 'gl-matrix';
import type { Quaternion, Triple } from './euler.ts';

export interface Decomposed {
  readonly turn: Quaternion;
  /** Negative along one or three axes where the map mirrors. */
  readonly scale: Triple;
  /** What of it is shear, which neither can say: the greatest part of an axis that is left over; 0 where nothing is. */
  readonly shear: number;
}

/** Which axis is taken as the mirrored one, by the signs of sizes that are usual there. */
const signsFor = (mirrored: boolean, usual: Readonly<Triple>): Triple => {
  const signs = usual.map((size) => (size < 0 ? -1 : 1)) as Triple;
  const odd = signs[0] * signs[1] * signs[2] < 0;
  return odd === mirrored ? signs : [-signs[0], signs[1], signs[2]];
};

/**
 * The polar part by Newton's iteration (Higham, Computing the polar decomposition, 1986), then sizes along its axes.
 * @param m column-major; the upper 3×3 of 16 numbers counts
 * @param usual sizes whose signs are kept where they can be
 * @returns null where the map flattens space
 */
export function decomposed(m: ArrayLike<number>, usual: Readonly<Triple> = [1, 1, 1]): Decomposed | null {
  let q = [m[0]!, m[1]!, m[2]!, m[4]!, m[5]!, m[6]!, m[8]!, m[9]!, m[10]!];
  const given = q;
  const size = Math.hypot(...q);
  const mirrored = determinant(q) < 0;
  if (!(Math.abs(determinant(q)) > 1e-12 * size ** 3)) return null;
  // Sizes taken out first, so that it converges from anywhere at once: an orthogonal map with sizes is its own answer.
  q = [0, 1, 2].flatMap((axis) => {
    const column = q.slice(axis * 3, axis * 3 + 3);
    const length = Math.hypot(...column);
    return column.map((part) => part / length);
  });
  for (let step = 0; step < 60; step += 1) {
    const inverse = inverseTranspose(q);
    const next = q.map((part, i) => (part + inverse[i]!) / 2);
    const moved = Math.max(...next.map((part, i) => Math.abs(part - q[i]!)));
    q = next;
    if (moved < 1e-15) break;
  }
  const signs = signsFor(mirrored, usual);
  const axes = q.map((part, i) => part * signs[Math.floor(i / 3)]!);
  const scale = [0, 1, 2].map((axis) =>
    [0, 1, 2].reduce((sum, row) => sum + axes[axis * 3 + row]! * given[axis * 3 + row]!, 0),
  ) as Triple;
  const shear = Math.max(
    ...given.map(
      (part, i) =>
        Math.abs(part - axes[i]! * scale[Math.floor(i / 3)]!) / Math.abs(scale[Math.floor(i / 3)]!),
    ),
  );
  const turn: Quaternion = [0, 0, 0, 1];
  // Its declared type is of float32 arrays; it writes into what it is given.
  quat.fromMat3(turn, axes);
  quat.normalize(turn, turn);
  return { turn, scale, shear };
}

/** The cofactors of a 3×3, in its places. */
function cofactors(m: readonly number[]): number[] {
  const [a, b, c, d, e, f, g, h, i] = [0, 1, 2, 3, 4, 5, 6, 7, 8].map((k) => m[k]!) as [
    ...[number, number, number, number, number, number, number, number, number],
  ];
  return [
    ...[e * i - f * h, f * g - d * i, d * h - e * g],
    ...[c * h - b * i, a * i - c * g, b * g - a * h],
    ...[b * f - c * e, c * d - a * f, a * e - b * d],
  ];
}

/** Its first row along the first row of its cofactors. */
function determinant(m: readonly number[]): number {
  const [x, y, z] = cofactors(m);
  return m[0]! * x! + m[1]! * y! + m[2]! * z!;
}

/** The inverse of the transpose. */
function inverseTranspose(m: readonly number[]): number[] {
  const by = determinant(m);
  return cofactors(m).map((part) => part / by);
}
