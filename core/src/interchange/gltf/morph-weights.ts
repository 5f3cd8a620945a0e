/** Weights of morph targets: as curves of their channels where they come in, as tracks where they go out. */
import { FLAG, isWeighted, rowAtTime, SEGMENT, TANGENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { partOf } from '../../curve/part.ts';
import { buildCurve } from '../../curve/rebuild.ts';
import { addKeysKeepingShape } from '../../curve/split.ts';
import { farthest } from '../../base/farthest.ts';
import { framesOf } from '../../base/frame-range.ts';
import { constantCurve, curveOf, rigOf, splitChannel } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import type { Source, SourceMorphs } from '../../document/sources.ts';
import { timedCurves } from '../../document/parts/parts.ts';
import { valuesAt } from '../../evaluation/evaluation.ts';
import { jumpsOfShot } from '../../evaluation/jumps.ts';
import type { Node } from '../../rig/node.ts';
import type { GltfJson } from './gltf-schema.ts';
import type { Track } from './track.ts';

export interface WeightTrack {
  readonly channels: readonly ChannelId[];
  readonly track: Track;
}

/** The weight of each channel that is none of 0 where nothing moves it: the node's own, else the mesh's (glTF 2.0, 3.7.2.2). */
export function restWeights(json: GltfJson, morphs: readonly SourceMorphs[]): ReadonlyMap<ChannelId, number> {
  return new Map(
    morphs.flatMap(({ node, channels }) => {
      const own = json.nodes![node]!;
      const weights = own.weights ?? json.meshes![own.mesh!]!.weights ?? [];
      return channels.flatMap((channel, i) => (weights[i] ? [[channel, weights[i]] as const] : []));
    }),
  );
}

/** Puts the curves of weights into a table. @param rest what is not keyed and not 0: one key says so */
export function addWeightCurves(
  table: Record<string, Curve>[],
  nodes: readonly Node[],
  tracks: readonly WeightTrack[],
  rest: ReadonlyMap<ChannelId, number>,
  start: number,
): void {
  const rows = new Map(nodes.map(({ id }, row) => [id, row]));
  const put = (channel: ChannelId, curve: Curve) => {
    const { node, name } = splitChannel(channel);
    const row = rows.get(node)!;
    table[row] = { ...table[row], [name]: curve };
  };
  for (const [channel, weight] of rest) put(channel, constantCurve(weight, start));
  for (const { channels, track } of tracks)
    channels.forEach((channel, i) => put(channel, weightCurve(track, i)));
}

function weightCurve({ times, mode, width, values, tangentsIn, tangentsOut }: Track, i: number): Curve {
  return buildCurve(times.length, (columns) => {
    columns.times.set(times);
    for (let k = 0; k < times.length; k += 1) {
      columns.values[k] = values[k * width + i]!;
      if (!tangentsIn || !tangentsOut) continue;
      columns.slopesIn[k] = tangentsIn[k * width + i]!;
      columns.slopesOut[k] = tangentsOut[k * width + i]!;
      if (columns.slopesIn[k] !== columns.slopesOut[k]) columns.flags[k] = FLAG.broken;
    }
    columns.segments.fill(
      mode === 'STEP' ? SEGMENT.stepped : mode === 'LINEAR' ? SEGMENT.linear : SEGMENT.cubic,
    );
    const kind = mode === 'CUBICSPLINE' ? TANGENT.free : TANGENT.linear;
    columns.tangentsIn.fill(kind);
    columns.tangentsOut.fill(kind);
  });
}

/** Weights of all targets of one node of the file, as glTF has them. */
export interface WeightsOut {
  /** Index of the node in the file. */
  readonly node: number;
  readonly mode: Track['mode'];
  /** Frames from the start of the shot. */
  readonly times: readonly number[];
  /** For each time a number for each target; for CUBICSPLINE tangents in, values, tangents out, tangents per frame. */
  readonly values: Float64Array;
  readonly width: number;
}

/** A weight may be so far from what shows. */
const OFF = 1e-4;
const JUMP = 1 / 64;
/** How often the way between two looks is halved at most. */
const DEEPEST = 4;

/** The weights of every node whose targets move, or rest at other weights than the file says. @param rest as `restWeights` gives them */
export function weightsOut(
  shot: Shot,
  { morphs }: Source,
  rest: ReadonlyMap<ChannelId, number>,
): WeightsOut[] {
  const covered = new Set(
    shot.layers.flatMap(({ members, curves }) => [
      ...members,
      ...curves.flatMap((entry, row) => (entry ? [shot.nodes[row]!.id] : [])),
    ]),
  );
  return morphs.flatMap(({ node, channels }): WeightsOut[] => {
    const isPlain = channels.every((channel) => !covered.has(splitChannel(channel).node));
    const made = (isPlain ? ownWeights(shot, channels) : null) ?? sampledWeights(shot, channels);
    const per = made.mode === 'CUBICSPLINE' ? 3 : 1;
    const isStill = Array.from(made.values).every((value, i) => {
      const place = i % (per * channels.length);
      const isTangent = per === 3 && Math.floor(place / channels.length) !== 1;
      const channel = channels[place % channels.length]!;
      return Math.abs(value - (isTangent ? 0 : (rest.get(channel) ?? 0))) < 1e-9;
    });
    return isStill ? [] : [{ ...made, node, width: channels.length }];
  });
}

type Made = Omit<WeightsOut, 'node' | 'width'>;

/** The curves' own keys, where all are of one kind that glTF has. */
function ownWeights(shot: Shot, channels: readonly ChannelId[]): Made | null {
  const curves = channels.map((channel) => curveOf(shot, null, channel));
  const keyed = curves.filter(({ times }) => times.length > 0);
  if (keyed.length === 0) return null;
  if (keyed.some(({ leadIn, leadOut }) => leadIn !== 'hold' || leadOut !== 'hold')) return null;
  const kinds = new Set<number>();
  for (const curve of keyed)
    for (let row = 0; row < curve.times.length; row += 1) {
      if (isWeighted(curve, row)) return null;
      if (row + 1 < curve.times.length) kinds.add(curve.segments[row]!);
    }
  if (kinds.size > 1) return null;
  const [kind = SEGMENT.linear] = kinds;
  const parts = keyed.map((curve) => partOf(curve, shot.range));
  const times = [...new Set(parts.flatMap(({ times: own }) => [...own]))].sort((a, b) => a - b);
  if (times.some((time, i) => i > 0 && time - times[i - 1]! < 1e-4)) return null;
  let at = 0;
  const spread = curves.map((curve) =>
    addKeysKeepingShape(curve.times.length > 0 ? parts[at++]! : constantCurve(0), times),
  );
  const isCubic = kind === SEGMENT.cubic;
  const width = channels.length;
  const values = new Float64Array(times.length * width * (isCubic ? 3 : 1));
  times.forEach((time, k) =>
    spread.forEach((curve, i) => {
      const row = rowAtTime(curve, time);
      const own = isCubic
        ? [curve.slopesIn[row]!, curve.values[row]!, curve.slopesOut[row]!]
        : [curve.values[row]!];
      own.forEach((value, part) => (values[(k * own.length + part) * width + i] = value));
    }),
  );
  const mode = kind === SEGMENT.stepped ? 'STEP' : isCubic ? 'CUBICSPLINE' : 'LINEAR';
  return { mode, times, values };
}

/** What shows on every frame, on keys between them and beside each jump, closer where it bends, and no more of it than straight lines need. */
function sampledWeights(shot: Shot, channels: readonly ChannelId[]): Made {
  const { range } = shot;
  const rig = rigOf(shot);
  const places = channels.map((channel) => rig.channelIndex(channel));
  const jumps = jumpsOfShot(shot, range).flatMap((jump) => [jump - JUMP, jump, jump + JUMP]);
  const keys = [...timedCurves(shot)].flatMap(({ curve }) => [...curve.times]);
  const inside = [...jumps, ...keys].filter((at) => at > range.start && at < range.end);
  const stations = [...new Set([...framesOf(range), range.end, ...inside])]
    .sort((a, b) => a - b)
    .filter((time, i, all) => i === 0 || time - all[i - 1]! > 1e-4);
  const lookAt = (time: number) => {
    const all = valuesAt(shot, time);
    return places.map((place) => all[place]!);
  };
  const times = [stations[0]!];
  const rows = [lookAt(stations[0]!)];
  /** From the last look to this one, closer together where a straight way between them strays. */
  const go = (to: number, row: readonly number[], depth: number) => {
    const [from, last] = [times[times.length - 1]!, rows[rows.length - 1]!];
    const middle = lookAt((from + to) / 2);
    if (
      depth < DEEPEST &&
      to - from > 2 * JUMP &&
      middle.some((value, i) => Math.abs((last[i]! + row[i]!) / 2 - value) > OFF)
    ) {
      go((from + to) / 2, middle, depth + 1);
      go(to, row, depth + 1);
      return;
    }
    times.push(to);
    rows.push([...row]);
  };
  for (const time of stations.slice(1)) go(time, lookAt(time), 0);
  const kept = [0];
  while (kept[kept.length - 1]! < times.length - 1) {
    const from = kept[kept.length - 1]!;
    const reached = farthest(times.length - 1 - from, (distance) => {
      for (let at = from + 1; at < from + distance; at += 1) {
        const u = (times[at]! - times[from]!) / (times[from + distance]! - times[from]!);
        const off = rows[at]!.some((value, i) => {
          const [a, b] = [rows[from]![i]!, rows[from + distance]![i]!];
          return Math.abs(a + u * (b - a) - value) > OFF;
        });
        if (off) return false;
      }
      return true;
    });
    kept.push(from + reached);
  }
  return {
    mode: 'LINEAR',
    times: kept.map((row) => times[row]! - range.start),
    values: Float64Array.from(kept.flatMap((row) => rows[row]!)),
  };
}
