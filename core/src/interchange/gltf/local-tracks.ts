/**
 * The local transforms of every node as glTF tracks: the curves' own keys where those are all that shows (`own-tracks.ts`), else samples
 * with relations and layers resolved, thinned for LINEAR. Samples lie on whole frames, on keys between frames, closer where a straight way between them
 * would stray, and just beside each jump, so that a hold is no ramp.
 */
import { refuse } from '../../base/finding.ts';
import { LIMITS } from '../../base/limits.ts';
import { farthest } from '../../base/farthest.ts';
import { framesOf } from '../../base/frame-range.ts';
import { angleBetween, slerp } from '../../math/quaternion.ts';
import type { Quaternion } from '../../math/euler.ts';
import { kindOf } from '../../layers/kinds.ts';
import { timedCurves } from '../../document/parts/parts.ts';
import { contextOf } from '../../evaluation/context.ts';
import { jumpsOfShot } from '../../evaluation/jumps.ts';
import { rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { LocalTransforms } from '../local-transforms.ts';
import { ONE_TIME, ownTrack, PATHS, plainNodes } from './own-tracks.ts';
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

/** A property that is sampled, with what was found so far. */
interface Sampled {
  readonly node: number;
  readonly path: TrackPath;
  readonly width: number;
  readonly most: number;
  readonly times: number[];
  readonly values: number[];
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
  const locals = new LocalTransforms(shot);
  const sampled = [...left].flatMap(([node, paths]) =>
    paths.map((path): Sampled => {
      const most =
        path === 'rotation' ? tolerance.degrees : path === 'scale' ? tolerance.scale : tolerance.cm;
      return { node, path, width: path === 'rotation' ? 4 : 3, most, times: [], values: [] };
    }),
  );
  /** The sample of a property in the transforms that were worked out last. */
  const take = ({ node, path, width, values }: Sampled, before: number): number[] => {
    const from = path === 'rotation' ? locals.turns : path === 'scale' ? locals.scales : locals.translations;
    const now = Array.from(from.subarray(node * width, node * width + width));
    if (width === 3) return now;
    // One of the two quaternions of a turn: the one nearer to the sample before.
    let dot = 0;
    for (let k = 0; k < 4; k += 1) dot += (values[before * 4 + k] ?? now[k]!) * now[k]!;
    return dot < 0 ? now.map((part) => -part) : now;
  };
  const push = (one: Sampled, frame: number, value: readonly number[]) => {
    one.times.push(frame - shot.range.start);
    one.values.push(...value);
  };
  const samplesAt = (some: readonly Sampled[], frame: number) => {
    locals.at(frame);
    return some.map((one) => take(one, one.times.length - 1));
  };
  /** From the last sample of each to this frame: between two samples a reader runs straight, and where that strays they stand closer. */
  const fill = (some: readonly Sampled[], from: number, frame: number) => {
    const between = frame - from > 2 * JUMP ? FIFTHS.map((part) => from + part * (frame - from)) : [];
    const looks = between.map((time) => samplesAt(some, time));
    const ends = samplesAt(some, frame);
    const closer: Sampled[] = [];
    some.forEach((one, i) => {
      const start = one.values.slice(-one.width);
      const stray = Math.max(
        0,
        ...looks.map((look, k) => strayOf(one, start, ends[i]!, look[i]!, FIFTHS[k]!)),
      );
      if (stray > FIFTHS_LEAVE * one.most) closer.push(one);
      else {
        if (stray > one.most) looks.forEach((look, k) => push(one, between[k]!, look[i]!));
        push(one, frame, ends[i]!);
      }
    });
    if (closer.length === 0) return;
    for (const [k, time] of [...between, frame].entries()) fill(closer, between[k - 1] ?? from, time);
  };
  for (const [f, frame] of frames.entries()) fill(sampled, frames[f - 1] ?? frame, frame);
  return sampled.flatMap(({ node, path, width, most, times, values }) =>
    thinned(shot, { node, path, mode: 'LINEAR', times, values: Float64Array.from(values), width }, most),
  );
}

const FIFTHS = [0.2, 0.4, 0.6, 0.8];
/** A bend that is cut in five strays by a part of 25: what strays by more than so many times what may be is cut again. */
const FIFTHS_LEAVE = 20;

/** How far a look lies from the straight way between two samples, at a part of it. */
function strayOf(
  { path }: Sampled,
  from: readonly number[],
  to: readonly number[],
  look: readonly number[],
  part: number,
): number {
  if (path === 'rotation') return angleBetween(look, slerp(from, to, part));
  return Math.hypot(...look.map((value, k) => value - from[k]! - part * (to[k]! - from[k]!)));
}

/** Whole frames, keys between them, and the moments beside jumps. */
function sampleTimes(shot: Shot): Float64Array {
  const { range } = shot;
  const times = new Set<number>([...framesOf(range), range.end]);
  const add = (time: number) => time > range.start && time < range.end && times.add(time);
  for (const { curve } of timedCurves(shot))
    for (const time of curve.times) if (time !== Math.round(time)) add(time);
  const context = contextOf(shot);
  for (const layer of context.layers) {
    const keyTimes = kindOf(layer)?.keyTimes;
    if (keyTimes)
      for (const { node, name } of context.rig.channels)
        for (const time of keyTimes(layer, node, name, context)) add(time);
  }
  for (const jump of jumpsOfShot(shot, range)) {
    add(jump - JUMP);
    add(jump);
    add(jump + JUMP);
  }
  return Float64Array.from(times)
    .sort()
    .filter((time, i, all) => i === 0 || time - all[i - 1]! > ONE_TIME);
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
