/**
 * One way to compare two motions: whole world matrices. Of each node that is watched its place, the way that each of its axes points (so that a mirrored
 * axis or a leaf's turn is seen), and its size. Whoever promises the same motion asks this, on frames and between them.
 */
import type { Rig } from '../rig/rig.ts';

/** World matrices at a frame, 16 numbers for each node, column-major; may be the same array each time. */
export type WorldsAt = (frame: number) => ArrayLike<number>;

/** The greatest amount, and where it was seen. */
interface Peak {
  readonly amount: number;
  readonly node: string;
  readonly frame: number;
}

export interface WorldDifference {
  /** Of origins, cm. */
  readonly place: Peak;
  /** Between the directions of an axis, degrees; 180 where one is mirrored. */
  readonly turn: Peak;
  /** Of the length of an axis, as a part of it. */
  readonly size: Peak;
}

/** Frames at fifths within a range, its ends among them. */
export const LOOKS_PER_FRAME = 5;

/**
 * The greatest differences of the watched nodes.
 * @param watched 1 for each node that counts, by row; all when left out
 * @param each is told the differences of each frame and row
 */
export function worldDifference(
  rig: Rig,
  before: WorldsAt,
  after: WorldsAt,
  frames: Iterable<number>,
  watched?: Uint8Array,
  each?: (frame: number, row: number, placeCm: number, turnDegrees: number) => void,
): WorldDifference {
  const rows = rig.nodes.map((_, row) => row).filter((row) => watched === undefined || watched[row] === 1);
  const first = rig.nodes[rows[0] ?? 0]?.id ?? '';
  let place: Peak = { amount: 0, node: first, frame: 0 };
  let [turn, size] = [place, place];
  let begun = false;
  for (const frame of frames) {
    if (!begun) {
      place = turn = size = { ...place, frame };
      begun = true;
    }
    const a = before(frame);
    const b = after(frame);
    for (const row of rows) {
      const m = row * 16;
      const [x, y, z] = [a[m + 12]! - b[m + 12]!, a[m + 13]! - b[m + 13]!, a[m + 14]! - b[m + 14]!];
      const away = Math.sqrt(x * x + y * y + z * z);
      let turned = 0;
      if (away > place.amount) place = { amount: away, node: rig.nodes[row]!.id, frame };
      for (let axis = m; axis < m + 12; axis += 4) {
        const [p, q] = [lengthAt(a, axis), lengthAt(b, axis)];
        // What has no size points nowhere.
        if (p === 0 || q === 0) continue;
        const grown = Math.abs(q / p - 1);
        if (grown > size.amount) size = { amount: grown, node: rig.nodes[row]!.id, frame };
        const angle = angleAt(a, b, axis);
        if (angle > turned) turned = angle;
        if (angle > turn.amount) turn = { amount: angle, node: rig.nodes[row]!.id, frame };
      }
      each?.(frame, row, away, turned);
    }
  }
  return { place, turn, size };
}

function lengthAt(m: ArrayLike<number>, at: number): number {
  return Math.sqrt(m[at]! * m[at]! + m[at + 1]! * m[at + 1]! + m[at + 2]! * m[at + 2]!);
}

/** The angle between two axes, degrees: by sine and cosine, which is exact near 0 and near 180. */
function angleAt(a: ArrayLike<number>, b: ArrayLike<number>, at: number): number {
  const [ax, ay, az] = [a[at]!, a[at + 1]!, a[at + 2]!];
  const [bx, by, bz] = [b[at]!, b[at + 1]!, b[at + 2]!];
  const [x, y, z] = [ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx];
  return (Math.atan2(Math.sqrt(x * x + y * y + z * z), ax * bx + ay * by + az * bz) * 180) / Math.PI;
}
