/**
 * The local transforms of every node as glTF tracks: the curves' own keys where those are all that shows (`own-tracks.ts`), else samples
 * with IK and passes resolved, thinned for LINEAR. Samples lie on whole frames, on keys between frames, and just before each jump,
 * so that a hold is no ramp.
 */
import { refuse } from '../../base/finding.ts';
import { LIMITS } from '../../base/limits.ts';
import { farthest } from '../../base/farthest.ts';
import { framesOf } from '../../base/frame-range.ts';
import { SEGMENT } from '../../curve/curve.ts';
import { angleBetween, conjugate, multiply, slerp } from '../../math/quaternion.ts';
import type { Quaternion } from '../../math/euler.ts';
import { kindOf } from '../../layers/kinds.ts';
import { newWorldPose } from '../../rig/pose.ts';
import { timedCurves } from '../../shot/document/parts.ts';
import { contextOf, worldInto } from '../../shot/evaluation.ts';
import { rigOf } from '../../shot/shot.ts';
import type { Shot } from '../../shot/shot.ts';
import { ownTrack, PATHS, plainNodes } from './own-tracks.ts';
import type { LocalTrack, TrackPath } from './own-tracks.ts';

export interface TrackTolerance {
  /** Greatest distance of a dropped sample from the line between its neighbours. */
  readonly cm: number;
  readonly degrees: number;
  readonly scale: number;
}

export const FINE: TrackTolerance = { cm: 0.005, degrees: 0.02, scale: 1e-4 };

/** A jump is drawn over this part of a frame: single precision tells it apart up to an hour at 24 per second. */
const JUMP = 1 / 64;

/** The tracks of all nodes that move in the shot's range; frames count from its start. */
export function localTracks(shot: Shot, tolerance: TrackTolerance = FINE): LocalTrack[] {
  const plain = plainNodes(shot);
  const own: LocalTrack[] = [];
  /** Properties that are left to be sampled, by node. */
  const left = new Map<number, TrackPath[]>();
  shot.nodes.forEach((_, row) => {
    for (const { path, names } of PATHS) {
      const keyed = names.some((name) => (shot.curves[row]?.[name]?.times.length ?? 0) > 0);
      if (plain.has(row) && !keyed) continue;
      const track = plain.has(row) ? ownTrack(shot, row, path, tolerance.degrees) : null;
      if (track) own.push(track);
      else left.set(row, [...(left.get(row) ?? []), path]);
    }
  });
  return [...own.filter((track) => moves(shot, track)), ...sampledTracks(shot, left, tolerance)];
}

/** Whether a track says anything beside the rest pose. */
function moves({ nodes }: Shot, { node, path, mode, values, width }: LocalTrack): boolean {
  const rest = nodes[node]!.rest[path];
  if (mode !== 'CUBICSPLINE') return !values.every((value, i) => Math.abs(value - rest[i % width]!) < 1e-9);
  const per = width * 3;
  return !values.every((value, i) => {
    const place = i % per;
    return Math.abs(value - (place >= width && place < 2 * width ? rest[place - width]! : 0)) < 1e-9;
  });
}

function sampledTracks(
  shot: Shot,
  left: ReadonlyMap<number, readonly TrackPath[]>,
  tolerance: TrackTolerance,
): LocalTrack[] {
  if (left.size === 0) return [];
  const rig = rigOf(shot);
  const frames = sampleTimes(shot);
  if (frames.length * rig.nodes.length > LIMITS.samples)
    refuse('notSampleable', {}, frames.length * rig.nodes.length);
  const values = new Float64Array(rig.channels.length);
  const pose = newWorldPose(rig);
  const buffers = new Map(
    [...left.keys()].map((node) => [
      node,
      {
        translation: new Float64Array(frames.length * 3),
        rotation: new Float64Array(frames.length * 4),
        scale: new Float64Array(frames.length * 3),
      },
    ]),
  );
  frames.forEach((frame, f) => {
    worldInto(shot, frame, values, pose, true);
    for (const [i, { translation, rotation, scale }] of buffers) {
      const { rest } = rig.nodes[i]!;
      for (let axis = 0; axis < 3; axis += 1) {
        const t = rig.slots[i * 9 + axis]!;
        const s = rig.slots[i * 9 + 6 + axis]!;
        translation[f * 3 + axis] = rest.translation[axis]! + (t < 0 ? 0 : values[t]!);
        scale[f * 3 + axis] = rest.scale[axis]! * (s < 0 ? 1 : values[s]!);
      }
      const own = turnAt(pose.turns, i);
      const parent = rig.parents[i]!;
      const local = parent < 0 ? own : multiply(conjugate(turnAt(pose.turns, parent)), own);
      const before = f > 0 ? turnAt(rotation, f - 1) : local;
      const side =
        before[0] * local[0] + before[1] * local[1] + before[2] * local[2] + before[3] * local[3] < 0
          ? -1
          : 1;
      rotation.set(
        local.map((part) => part * side),
        f * 4,
      );
    }
  });
  const times = Array.from(frames, (frame) => frame - shot.range.start);
  return [...left].flatMap(([node, paths]) =>
    paths.flatMap((path) => {
      const turns = path === 'rotation';
      const samples = buffers.get(node)![path];
      const most = turns ? tolerance.degrees : path === 'scale' ? tolerance.scale : tolerance.cm;
      return thinned(
        shot,
        { node, path, mode: 'LINEAR', times, values: samples, width: turns ? 4 : 3 },
        most,
      );
    }),
  );
}

/** Whole frames, keys between them, and the moments before jumps. */
function sampleTimes({ range, ...shot }: Shot): Float64Array {
  const times = new Set<number>(framesOf(range));
  times.add(range.end);
  for (const layer of shot.layers) {
    const keyTimes = kindOf(layer)?.keyTimes;
    if (!keyTimes || layer.muted) continue;
    const context = contextOf({ range, ...shot });
    for (const { node, name } of context.rig.channels)
      for (const time of keyTimes(layer, node, name, context))
        if (time > range.start && time < range.end) times.add(time);
  }
  for (const { curve } of timedCurves({ range, ...shot })) {
    for (let row = 0; row < curve.times.length; row += 1) {
      const time = curve.times[row]!;
      if (time <= range.start || time > range.end) continue;
      if (time !== Math.round(time)) times.add(time);
      if (curve.segments[row - 1] === SEGMENT.stepped && curve.values[row] !== curve.values[row - 1])
        times.add(time - JUMP);
    }
  }
  return Float64Array.from(times).sort();
}

const turnAt = (turns: Float64Array, row: number): Quaternion => [
  turns[row * 4]!,
  turns[row * 4 + 1]!,
  turns[row * 4 + 2]!,
  turns[row * 4 + 3]!,
];

/** Distance of sample `at` from the line between samples `from` and `to`. */
type SampleError = (values: Float64Array, from: number, to: number, at: number) => number;

const lineError =
  (times: readonly number[]): SampleError =>
  (values, from, to, at) => {
    const u = (times[at]! - times[from]!) / (times[to]! - times[from]!);
    let squares = 0;
    for (let k = 0; k < 3; k += 1) {
      const line = values[from * 3 + k]! * (1 - u) + values[to * 3 + k]! * u;
      squares += (values[at * 3 + k]! - line) ** 2;
    }
    return Math.sqrt(squares);
  };

const turnError =
  (times: readonly number[]): SampleError =>
  (values, from, to, at) =>
    angleBetween(
      turnAt(values, at),
      slerp(
        turnAt(values, from),
        turnAt(values, to),
        (times[at]! - times[from]!) / (times[to]! - times[from]!),
      ),
    );

/** A sampled track with no more samples than lines between them need; none where nothing moves. */
function thinned(shot: Shot, sampled: LocalTrack, tolerance: number): LocalTrack[] {
  if (!moves(shot, sampled)) return [];
  const { values, width, path, times } = sampled;
  const error = path === 'rotation' ? turnError(times) : lineError(times);
  const kept = [0];
  while (kept[kept.length - 1]! < times.length - 1)
    kept.push(reach(values, kept[kept.length - 1]!, times.length - 1, error, tolerance));
  const picked = new Float64Array(kept.length * width);
  kept.forEach((row, k) => picked.set(values.subarray(row * width, (row + 1) * width), k * width));
  return [{ ...sampled, times: kept.map((row) => times[row]!), values: picked }];
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
