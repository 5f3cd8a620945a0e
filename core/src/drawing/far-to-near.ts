/**
 * The order in which shapes are painted so that what is nearer covers what is farther.
 *
 * One number for the depth of each is not enough: a cap on a head lies behind the face by its middle and before it where the two meet. So each two that overlap are compared at places where they do:
 * the one that is nearer at most of them is painted later, in an order that agrees with all of that; where three go in a circle the one that is farthest by its middle comes first.
 */

export interface Overlapping {
  /** Of the whole, toward the eye. */
  readonly depth: number;
  /** How far from the eye it begins and how near to it it ends. */
  readonly far: number;
  readonly near: number;
  readonly left: number;
  readonly right: number;
  readonly top: number;
  readonly bottom: number;
  /** How near its surface is to the eye over a place of the canvas; null where it does not reach. */
  readonly nearAt: (x: number, y: number) => number | null;
}

/** Where two are compared, as parts of the box in which they overlap. */
const PLACES = [0.12, 0.37, 0.63, 0.88];

/** @returns the places of the shapes in the list, the one to be painted first first */
export function farToNear(shapes: readonly Overlapping[]): number[] {
  const rows = [...shapes.keys()].sort((a, b) => shapes[a]!.depth - shapes[b]!.depth);
  const byDepth = rows.map((row) => shapes[row]!);
  const covers: number[][] = byDepth.map(() => []);
  const waits = new Uint16Array(byDepth.length);
  for (let i = 0; i < byDepth.length; i += 1)
    for (let j = i + 1; j < byDepth.length; j += 1) {
      const nearer = nearerOf(byDepth[i]!, byDepth[j]!);
      if (nearer === 0) continue;
      const [under, over] = nearer > 0 ? [i, j] : [j, i];
      covers[under]!.push(over);
      waits[over]! += 1;
    }
  const order: number[] = [];
  const open = byDepth.map((_, i) => i);
  while (open.length > 0) {
    const at = Math.max(
      0,
      open.findIndex((i) => waits[i] === 0),
    );
    const [next] = open.splice(at, 1) as [number];
    order.push(rows[next]!);
    for (const over of covers[next]!) waits[over]! -= waits[over]! > 0 ? 1 : 0;
  }
  return order;
}

/** Above 0 where b is nearer than a, below where a is; 0 where they do not meet on the canvas. */
function nearerOf(a: Overlapping, b: Overlapping): number {
  const left = Math.max(a.left, b.left);
  const width = Math.min(a.right, b.right) - left;
  const top = Math.max(a.top, b.top);
  const height = Math.min(a.bottom, b.bottom) - top;
  if (width <= 0 || height <= 0) return 0;
  if (a.near <= b.far) return 1;
  if (b.near <= a.far) return -1;
  // Where two have grown into each other the one that shows at more places is the nearer one.
  let nearer = 0;
  for (const across of PLACES)
    for (const down of PLACES) {
      const x = left + across * width;
      const y = top + down * height;
      const nearA = a.nearAt(x, y);
      if (nearA === null) continue;
      const nearB = b.nearAt(x, y);
      if (nearB !== null) nearer += nearB > nearA ? 1 : -1;
    }
  return nearer;
}
