/**
 * One node's world transform from its channels and what carries it: the innermost step of every pose. It is written out in plain numbers,
 * since an object made for each node would cost more than the transform.
 */
import { halfTurnSigns } from '../math/euler.ts';
import type { Node } from './node.ts';

/** Numbers of a node in `rests`: translation 3, rotation 4, scale 3, the signs of its Euler order 4. */
const REST = 14;

/** What the nodes' channels are added to, a row of numbers for each. */
export function restsOf(nodes: readonly Node[]): Float64Array {
  const rests = new Float64Array(nodes.length * REST);
  nodes.forEach(({ rest, order }, i) =>
    rests.set([...rest.translation, ...rest.rotation, ...rest.scale, ...halfTurnSigns(order)], i * REST),
  );
  return rests;
}

/** World transforms, 16 numbers of a column-major matrix for each row, and 4 of its orientation without scale. */
export interface Placed {
  readonly matrices: Float64Array;
  readonly turns: Float64Array;
}

/** Nine channel indices for each node, −1 where it lacks them, and what those channels are added to. */
interface Slots {
  readonly slots: Int32Array;
  readonly rests: Float64Array;
}

const HALF = Math.PI / 360;
const own = (values: ArrayLike<number>, channel: number, absent: number) =>
  channel < 0 ? absent : values[channel]!;

/**
 * Places a node in the axes of what carries it.
 * @param carriers where what carries it stands, in `row`; below 0 it is the world
 * @param held its orientation in the world where something has solved that: it replaces its own, and is kept as a turn in the carrier's axes, so
 * that the scale of what stands above stays
 * @param stretch how much longer the bone to it is
 */
export function placeNode(
  { slots, rests }: Slots,
  values: ArrayLike<number>,
  { matrices, turns }: Placed,
  i: number,
  { matrices: above, turns: turnsAbove }: Placed,
  row: number,
  held: ArrayLike<number> | null = null,
  stretch = 1,
): void {
  const s = i * 9;
  const r = i * REST;
  const m = i * 16;
  const q = i * 4;
  const p = row * 16;
  const c = row * 4;
  const free = row < 0;

  // Its orientation in what carries it (x y z w), and in the world.
  let x: number;
  let y: number;
  let z: number;
  let w: number;
  if (held === null) {
    const a = own(values, slots[s + 3]!, 0) * HALF;
    const b = own(values, slots[s + 4]!, 0) * HALF;
    const g = own(values, slots[s + 5]!, 0) * HALF;
    const sa = Math.sin(a);
    const ca = Math.cos(a);
    const sb = Math.sin(b);
    const cb = Math.cos(b);
    const sg = Math.sin(g);
    const cg = Math.cos(g);
    const ex = sa * cb * cg + rests[r + 10]! * ca * sb * sg;
    const ey = ca * sb * cg + rests[r + 11]! * sa * cb * sg;
    const ez = ca * cb * sg + rests[r + 12]! * sa * sb * cg;
    const ew = ca * cb * cg + rests[r + 13]! * sa * sb * sg;
    const rx = rests[r + 3]!;
    const ry = rests[r + 4]!;
    const rz = rests[r + 5]!;
    const rw = rests[r + 6]!;
    x = rw * ex + rx * ew + ry * ez - rz * ey;
    y = rw * ey + ry * ew + rz * ex - rx * ez;
    z = rw * ez + rz * ew + rx * ey - ry * ex;
    w = rw * ew - rx * ex - ry * ey - rz * ez;
  } else {
    x = held[0]!;
    y = held[1]!;
    z = held[2]!;
    w = held[3]!;
  }
  if (free) {
    turns[q] = x;
    turns[q + 1] = y;
    turns[q + 2] = z;
    turns[q + 3] = w;
  } else {
    const cx = turnsAbove[c]!;
    const cy = turnsAbove[c + 1]!;
    const cz = turnsAbove[c + 2]!;
    const cw = turnsAbove[c + 3]!;
    if (held === null) {
      turns[q] = cw * x + cx * w + cy * z - cz * y;
      turns[q + 1] = cw * y + cy * w + cz * x - cx * z;
      turns[q + 2] = cw * z + cz * w + cx * y - cy * x;
      turns[q + 3] = cw * w - cx * x - cy * y - cz * z;
    } else {
      turns[q] = x;
      turns[q + 1] = y;
      turns[q + 2] = z;
      turns[q + 3] = w;
      // The carrier's turn taken out.
      const hx = cw * x - cx * w - cy * z + cz * y;
      const hy = cw * y - cy * w - cz * x + cx * z;
      const hz = cw * z - cz * w - cx * y + cy * x;
      w = cw * w + cx * x + cy * y + cz * z;
      x = hx;
      y = hy;
      z = hz;
    }
  }

  // Its three axes, one after the other, and its origin.
  const sx = rests[r + 7]! * own(values, slots[s + 6]!, 1);
  const sy = rests[r + 8]! * own(values, slots[s + 7]!, 1);
  const sz = rests[r + 9]! * own(values, slots[s + 8]!, 1);
  const xx = (1 - 2 * (y * y + z * z)) * sx;
  const xy = 2 * (x * y + z * w) * sx;
  const xz = 2 * (x * z - y * w) * sx;
  const yx = 2 * (x * y - z * w) * sy;
  const yy = (1 - 2 * (x * x + z * z)) * sy;
  const yz = 2 * (y * z + x * w) * sy;
  const zx = 2 * (x * z + y * w) * sz;
  const zy = 2 * (y * z - x * w) * sz;
  const zz = (1 - 2 * (x * x + y * y)) * sz;
  const ox = (rests[r]! + own(values, slots[s]!, 0)) * stretch;
  const oy = (rests[r + 1]! + own(values, slots[s + 1]!, 0)) * stretch;
  const oz = (rests[r + 2]! + own(values, slots[s + 2]!, 0)) * stretch;
  matrices[m + 3] = 0;
  matrices[m + 7] = 0;
  matrices[m + 11] = 0;
  matrices[m + 15] = 1;
  if (free) {
    matrices[m] = xx;
    matrices[m + 1] = xy;
    matrices[m + 2] = xz;
    matrices[m + 4] = yx;
    matrices[m + 5] = yy;
    matrices[m + 6] = yz;
    matrices[m + 8] = zx;
    matrices[m + 9] = zy;
    matrices[m + 10] = zz;
    matrices[m + 12] = ox;
    matrices[m + 13] = oy;
    matrices[m + 14] = oz;
    return;
  }
  for (let k = 0; k < 3; k += 1) {
    const a = above[p + k]!;
    const b = above[p + 4 + k]!;
    const g = above[p + 8 + k]!;
    matrices[m + k] = a * xx + b * xy + g * xz;
    matrices[m + 4 + k] = a * yx + b * yy + g * yz;
    matrices[m + 8 + k] = a * zx + b * zy + g * zz;
    matrices[m + 12 + k] = a * ox + b * oy + g * oz + above[p + 12 + k]!;
  }
}
