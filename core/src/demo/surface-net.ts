/** A closed surface where a field is 0, by naive surface nets: one vertex in each cell that the surface crosses, a square over each edge that it crosses (S. F. Frisken Gibson 1998, from memory). */
import type { Vector } from '../rig/node.ts';

export interface Net {
  /** Three numbers for each vertex. */
  readonly positions: readonly number[];
  /** Three for each triangle, counter-clockwise from outside. */
  readonly indices: readonly number[];
}

/**
 * @param field below 0 inside, in the unit of the places
 * @param low the corner of a box that holds the surface with a cell to spare @param high the other one
 */
export function surfaceNet(
  field: (x: number, y: number, z: number) => number,
  low: Vector,
  high: Vector,
  cell: number,
): Net {
  const size = [0, 1, 2].map((k) => Math.ceil((high[k]! - low[k]!) / cell) + 1) as [number, number, number];
  const [nx, ny, nz] = size;
  const at = (i: number, j: number, k: number) => (k * ny + j) * nx + i;
  const values = new Float64Array(nx * ny * nz);
  for (let k = 0; k < nz; k += 1)
    for (let j = 0; j < ny; j += 1)
      for (let i = 0; i < nx; i += 1)
        values[at(i, j, k)] = field(low[0] + i * cell, low[1] + j * cell, low[2] + k * cell);
  const positions: number[] = [];
  const vertexOf = new Int32Array(values.length).fill(-1);
  for (let k = 0; k + 1 < nz; k += 1)
    for (let j = 0; j + 1 < ny; j += 1)
      for (let i = 0; i + 1 < nx; i += 1) {
        const crossed = middleOfCrossings((dx, dy, dz) => values[at(i + dx, j + dy, k + dz)]!);
        if (!crossed) continue;
        vertexOf[at(i, j, k)] = positions.length / 3;
        [i, j, k].forEach((corner, axis) => positions.push(low[axis]! + (corner + crossed[axis]!) * cell));
      }
  const indices: number[] = [];
  const square = (a: number, b: number, c: number, d: number, isOut: boolean) =>
    indices.push(...(isOut ? [a, b, c, a, c, d] : [a, c, b, a, d, c]));
  for (let k = 1; k + 1 < nz; k += 1)
    for (let j = 1; j + 1 < ny; j += 1)
      for (let i = 1; i + 1 < nx; i += 1) {
        const inside = values[at(i, j, k)]! < 0;
        const v = (di: number, dj: number, dk: number) => vertexOf[at(i - di, j - dj, k - dk)]!;
        if (inside !== values[at(i + 1, j, k)]! < 0)
          square(v(0, 1, 1), v(0, 0, 1), v(0, 0, 0), v(0, 1, 0), inside);
        if (inside !== values[at(i, j + 1, k)]! < 0)
          square(v(1, 0, 1), v(1, 0, 0), v(0, 0, 0), v(0, 0, 1), inside);
        if (inside !== values[at(i, j, k + 1)]! < 0)
          square(v(1, 1, 0), v(0, 1, 0), v(0, 0, 0), v(1, 0, 0), inside);
      }
  return { positions, indices };
}

const CORNERS = [0, 1, 2, 3, 4, 5, 6, 7].map((n) => [n & 1, (n >> 1) & 1, n >> 2] as const);
const EDGES = CORNERS.flatMap((a, i) =>
  CORNERS.slice(i + 1).flatMap((b) =>
    a.filter((part, k) => part !== b[k]).length === 1 ? [[a, b] as const] : [],
  ),
);

/** In parts of a cell, the mean of where its edges cross the surface; null where none does. */
function middleOfCrossings(value: (dx: number, dy: number, dz: number) => number): Vector | null {
  let count = 0;
  const sum = [0, 0, 0];
  for (const [a, b] of EDGES) {
    const [from, to] = [value(...a), value(...b)];
    if (from < 0 === to < 0) continue;
    const u = from / (from - to);
    for (let k = 0; k < 3; k += 1) sum[k]! += a[k]! + u * (b[k]! - a[k]!);
    count += 1;
  }
  return count === 0 ? null : [sum[0]! / count, sum[1]! / count, sum[2]! / count];
}
