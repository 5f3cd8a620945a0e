/**
 * The local transforms of every node over whole frames, IK and passes resolved, thinned for glTF's LINEAR samples.
 */
import { farthest } from '../../base/farthest.ts';
import { framesOf } from '../../base/frame-range.ts';
import { angleBetween, conjugate, multiply, slerp } from '../../math/quaternion.ts';
import type { Quaternion } from '../../math/euler.ts';
import { computeWorld, newWorldPose } from '../../rig/pose.ts';
import { channelValues } from '../../shot/evaluation.ts';
import { rigOf } from '../../shot/shot.ts';
import type { Shot } from '../../shot/shot.ts';

/** Samples of one property of one node; `rows` of them, `width` numbers each. */
export interface LocalTrack {
  readonly node: number;
  readonly path: 'translation' | 'rotation' | 'scale';
  readonly times: readonly number[];
  readonly values: Float64Array;
  readonly width: number;
}

export interface TrackTolerance {
  /** Greatest distance of a dropped sample from the line between its neighbours. */
  readonly cm: number;
  readonly degrees: number;
  readonly scale: number;
}

export const FINE: TrackTolerance = { cm: 0.005, degrees: 0.02, scale: 1e-4 };

/** The tracks of all nodes that move in the shot's range; frames count from its start. */
export function localTracks(shot: Shot, tolerance: TrackTolerance = FINE): LocalTrack[] {
  const rig = rigOf(shot);
  const frames = framesOf(shot.range);
  const values = new Float64Array(rig.channels.length);
  const pose = newWorldPose(rig);
  const count = rig.nodes.length;
  const translations = rig.nodes.map(() => new Float64Array(frames.length * 3));
  const rotations = rig.nodes.map(() => new Float64Array(frames.length * 4));
  const scales = rig.nodes.map(() => new Float64Array(frames.length * 3));
  frames.forEach((frame, f) => {
    channelValues(shot, frame, values, true);
    computeWorld(rig, values, pose);
    for (let i = 0; i < count; i += 1) {
      const { rest } = rig.nodes[i]!;
      for (let axis = 0; axis < 3; axis += 1) {
        const t = rig.slots[i * 9 + axis]!;
        const s = rig.slots[i * 9 + 6 + axis]!;
        translations[i]![f * 3 + axis] = rest.translation[axis]! + (t < 0 ? 0 : values[t]!);
        scales[i]![f * 3 + axis] = rest.scale[axis]! * (s < 0 ? 1 : values[s]!);
      }
      const own = turnAt(pose.turns, i);
      const parent = rig.parents[i]!;
      const local = parent < 0 ? own : multiply(conjugate(turnAt(pose.turns, parent)), own);
      const before = f > 0 ? turnAt(rotations[i]!, f - 1) : local;
      const side =
        before[0] * local[0] + before[1] * local[1] + before[2] * local[2] + before[3] * local[3] < 0
          ? -1
          : 1;
      rotations[i]!.set(
        local.map((part) => part * side),
        f * 4,
      );
    }
  });
  return rig.nodes.flatMap((node, i) => [
    ...track(i, 'translation', translations[i]!, 3, node.rest.translation, lineError, tolerance.cm),
    ...track(i, 'rotation', rotations[i]!, 4, node.rest.rotation, turnError, tolerance.degrees),
    ...track(i, 'scale', scales[i]!, 3, node.rest.scale, lineError, tolerance.scale),
  ]);
}

const turnAt = (turns: Float64Array, row: number): Quaternion => [
  turns[row * 4]!,
  turns[row * 4 + 1]!,
  turns[row * 4 + 2]!,
  turns[row * 4 + 3]!,
];

/** Distance of sample `at` from the line between samples `from` and `to`. */
type SampleError = (values: Float64Array, from: number, to: number, at: number) => number;

const lineError: SampleError = (values, from, to, at) => {
  const u = (at - from) / (to - from);
  let squares = 0;
  for (let k = 0; k < 3; k += 1) {
    const line = values[from * 3 + k]! * (1 - u) + values[to * 3 + k]! * u;
    squares += (values[at * 3 + k]! - line) ** 2;
  }
  return Math.sqrt(squares);
};

const turnError: SampleError = (values, from, to, at) =>
  angleBetween(
    turnAt(values, at),
    slerp(turnAt(values, from), turnAt(values, to), (at - from) / (to - from)),
  );

function track(
  node: number,
  path: LocalTrack['path'],
  values: Float64Array,
  width: number,
  rest: readonly number[],
  error: SampleError,
  tolerance: number,
): LocalTrack[] {
  const count = values.length / width;
  const still = values.every((value, i) => Math.abs(value - rest[i % width]!) < 1e-9);
  if (still) return [];
  const kept = [0];
  while (kept[kept.length - 1]! < count - 1)
    kept.push(reach(values, kept[kept.length - 1]!, count - 1, error, tolerance));
  const picked = new Float64Array(kept.length * width);
  kept.forEach((row, k) => picked.set(values.subarray(row * width, (row + 1) * width), k * width));
  return [{ node, path, times: kept, values: picked, width }];
}

/**
 * A far sample that a straight line from `from` reaches with all between within the tolerance. Trying every sample in turn
 * found as many keys on captured motion (01_01.bvh) and took five times as long.
 */
function reach(
  values: Float64Array,
  from: number,
  last: number,
  error: SampleError,
  tolerance: number,
): number {
  return (
    from +
    farthest(last - from, (distance) => {
      for (let at = from + 1; at < from + distance; at += 1)
        if (error(values, from, from + distance, at) > tolerance) return false;
      return true;
    })
  );
}
