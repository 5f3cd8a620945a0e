/** Places that belong to nodes, and where they lie. */
import type { Triple } from '../math/euler.ts';

/** A place that belongs to a node, in the node's own axes, cm. */
export interface BodyPoint {
  readonly node: number;
  readonly at: Triple;
}

/** Where such a place lies in a pose. */
export function pointIn(
  { matrices }: { readonly matrices: ArrayLike<number> },
  { node, at: [a, b, c] }: BodyPoint,
): Triple {
  const m = node * 16;
  return [0, 1, 2].map(
    (axis) =>
      matrices[m + axis]! * a +
      matrices[m + 4 + axis]! * b +
      matrices[m + 8 + axis]! * c +
      matrices[m + 12 + axis]!,
  ) as Triple;
}
