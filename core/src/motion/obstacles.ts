/**
 * What is in the way of a chain: capsules that move. The end of a rod that has come into one is put back onto its skin, and what of its speed goes further in is taken off; nothing rubs
 * and nothing bounces. Knows numbers alone; whose they are is said by `layers/filters/follow-bodies.ts`.
 */
import { dot, normalise } from './packed-vectors.ts';

/** Capsules by the rows of a drive. */
export interface Obstacles {
  readonly count: number;
  /** Row after row, for each the two ends of its axis: six numbers, cm. A sphere has two ends that are one. */
  readonly ends: Float64Array;
  /** How near the end of each rod may come to the axis of each capsule, cm: rod after rod. */
  readonly radii: Float64Array;
}

/** A chain as it is put back: unit vectors and their speeds, three numbers each, and how long the rods are. */
interface Chained {
  readonly ways: Float64Array;
  readonly speeds: Float64Array;
  readonly lengths: readonly number[];
}

/** Rounds in which the end of a rod comes onto a skin. */
const ROUNDS = 8;

/** Where a rod hangs and how fast that goes, where its end lies, which way is out. */
const [root, pace, tip, out] = [0, 1, 2, 3].map(() => new Float64Array(3)) as [
  Float64Array,
  Float64Array,
  Float64Array,
  Float64Array,
];

/**
 * Puts the ends of rods out of what is in their way.
 * @param row of the drive, 1 and more @param places where the chain hangs, three numbers a row @param step seconds between rows
 */
export function putOut(
  { ways, speeds, lengths }: Chained,
  { count, ends, radii }: Obstacles,
  row: number,
  places: Float64Array,
  step: number,
): void {
  for (let a = 0; a < 3; a += 1) {
    root[a] = places[3 * row + a]!;
    pace[a] = (root[a]! - places[3 * row - 3 + a]!) / step;
  }
  lengths.forEach((length, i) => {
    const rod = 3 * i;
    for (let k = 0; k < count; k += 1) {
      const radius = radii[i * count + k]!;
      const [now, before] = [6 * (row * count + k), 6 * ((row - 1) * count + k)];
      let along: number | null = null;
      // Put onto the skin the rod is too long or too short, and as long as it is it has left the skin: in turn they meet.
      for (let round = 0; round < ROUNDS; round += 1) {
        for (let a = 0; a < 3; a += 1) tip[a] = root[a]! + length * ways[rod + a]!;
        const found = outOf(ends, now, radius);
        if (found === null) break;
        along = found;
        for (let a = 0; a < 3; a += 1)
          ways[rod + a] = (placeAlong(ends, now + a, along) + radius * out[a]! - root[a]!) / length;
        normalise(ways, rod);
      }
      if (along === null) continue;
      // It was turned: what of its speed went across it hardly does now.
      const grows = dot(speeds, rod, ways, rod);
      for (let a = 0; a < 3; a += 1) speeds[rod + a]! -= grows * ways[rod + a]!;
      let inward = 0;
      for (let a = 0; a < 3; a += 1) {
        const goes = (placeAlong(ends, now + a, along) - placeAlong(ends, before + a, along)) / step;
        inward += out[a]! * (pace[a]! + length * speeds[rod + a]! - goes);
      }
      if (inward >= 0) continue;
      // The rod neither grows nor shrinks: what stops it goes across it.
      const lean = dot(out, 0, ways, rod);
      const across = 1 - lean * lean;
      if (across < 1e-6) continue;
      for (let a = 0; a < 3; a += 1)
        speeds[rod + a]! -= (inward / length / across) * (out[a]! - lean * ways[rod + a]!);
    }
    for (let a = 0; a < 3; a += 1) {
      root[a]! += length * ways[rod + a]!;
      pace[a]! += length * speeds[rod + a]!;
    }
  });
}

const placeAlong = (ends: Float64Array, at: number, along: number) =>
  ends[at]! + along * (ends[at + 3]! - ends[at]!);

/** Where along its axis, 0…1, a capsule that the tip lies in is nearest to it, the way out written; null where the tip lies outside. */
function outOf(ends: Float64Array, at: number, radius: number): number | null {
  let [along, length] = [0, 0];
  for (let a = 0; a < 3; a += 1) {
    const axis = ends[at + 3 + a]! - ends[at + a]!;
    along += axis * (tip[a]! - ends[at + a]!);
    length += axis * axis;
  }
  along = length < 1e-12 ? 0 : Math.min(Math.max(along / length, 0), 1);
  const x = tip[0]! - placeAlong(ends, at, along);
  const y = tip[1]! - placeAlong(ends, at + 1, along);
  const z = tip[2]! - placeAlong(ends, at + 2, along);
  const away = Math.sqrt(x * x + y * y + z * z);
  if (away >= radius || away < 1e-9) return null;
  [out[0], out[1], out[2]] = [x / away, y / away, z / away];
  return along;
}
