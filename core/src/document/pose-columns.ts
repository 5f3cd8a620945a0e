/**
 * Pose columns: the frames at which the pose is set. The rule: a frame counts when at least a share of the nodes that are keyed
 * at all carry a key there. Frames can be added and removed by hand (`Shot.poseColumns`). On captured motion nearly every frame
 * would count, which is said as such; there only the frames added by hand are columns.
 */
import type { Curve } from '../curve/curve.ts';
import { DEFAULT_COLUMNS, rigOf } from './shot.ts';
import type { NodeCurves } from '../layers/layer.ts';
import type { ChannelId, ColumnRule, Shot } from './shot.ts';

export interface PoseColumns {
  /** Frames, rising; of all characters together. */
  readonly frames: readonly number[];
  /** Those of each character that has any keys. */
  readonly byCharacter: ReadonlyMap<string | null, readonly number[]>;
  /** Whether nearly every frame of the shot carries keys: the motion is captured or baked. */
  readonly dense: boolean;
  readonly rule: ColumnRule;
}

const DENSE_SHARE = 0.6;

interface KeptColumns {
  readonly range: Shot['range'];
  readonly rule: ColumnRule;
  readonly columns: PoseColumns;
}
const kept = new WeakMap<Shot['curves'], KeptColumns>();

/**
 * The pose columns of the base curves: of each character those that its own controls make, and all of them together.
 * @param channels only these count; null is all
 */
export function poseColumns(shot: Shot, channels: ReadonlySet<ChannelId> | null = null): PoseColumns {
  const rule = shot.poseColumns ?? DEFAULT_COLUMNS;
  if (channels !== null) return columnsOf(shot, rule, channels);
  const known = kept.get(shot.curves);
  // Whether motion is dense depends on the range, so that the range belongs to the key.
  if (known?.rule === rule && known.range === shot.range) return known.columns;
  const columns = columnsOf(shot, rule, null);
  kept.set(shot.curves, { range: shot.range, rule, columns });
  return columns;
}

function columnsOf(shot: Shot, rule: ColumnRule, channels: ReadonlySet<ChannelId> | null): PoseColumns {
  const rig = rigOf(shot);
  const groups = new Map<string | null, Group>();
  shot.curves.forEach((entry, row) => {
    const frames =
      channels === null ? framesOfNode(entry) : uniteFrames(entry, shot.nodes[row]!.id, channels);
    if (frames.length === 0) return;
    const { character } = rig.nodes[row]!;
    const group = groups.get(character) ?? NOBODY_KEYED;
    groups.set(character, { keyed: group.keyed + 1, ...withOneMore(group, frames) });
  });
  const length = shot.range.end - shot.range.start + 1;
  const removed = new Set(rule.removed);
  const byCharacter = new Map<string | null, readonly number[]>();
  // What belongs to nobody, a prop, a camera, makes columns only where there is no character.
  const makers = [...groups].filter(([character]) => character !== null || groups.size === 1);
  let dense = false;
  const all = new Set<number>(rule.added);
  for (const [character, { keyed, frames, nodes }] of makers) {
    const enough = Math.max(1, keyed * rule.share);
    const found = [...frames.filter((_, i) => nodes[i]! >= enough)];
    const crowded = found.length > 12 && found.length > DENSE_SHARE * length;
    dense ||= crowded;
    const own = sorted([...(crowded ? [] : found), ...rule.added].filter((frame) => !removed.has(frame)));
    byCharacter.set(character, own);
    for (const frame of own) all.add(frame);
  }
  return { frames: sorted([...all].filter((frame) => !removed.has(frame))), byCharacter, dense, rule };
}

/** Nodes that are keyed at all, the frames at which any is, rising, and how many are at each. */
interface Group {
  readonly keyed: number;
  readonly frames: Int32Array;
  readonly nodes: Int32Array;
}

/** Counts a node at its frames, which rise. */
function withOneMore({ frames, nodes }: Group, own: Int32Array): Pick<Group, 'frames' | 'nodes'> {
  const united = new Int32Array(frames.length + own.length);
  const counts = new Int32Array(united.length);
  let count = 0;
  for (let f = 0, o = 0; f < frames.length || o < own.length; count += 1) {
    const [before, now] = [frames[f] ?? Infinity, own[o] ?? Infinity];
    united[count] = Math.min(before, now);
    counts[count] = (before <= now ? nodes[f++]! : 0) + (now <= before ? 1 : 0);
    if (now <= before) o += 1;
  }
  return { frames: united.subarray(0, count), nodes: counts.subarray(0, count) };
}

/** Frames of a node by the first of its curves, with all of them: an edit changes those of few nodes, and a shot from elsewhere shares the curves only. */
const framesKept = new WeakMap<Curve, { readonly curves: readonly Curve[]; readonly frames: Int32Array }>();
const NO_FRAMES: Int32Array = new Int32Array(0);
const NOBODY_KEYED: Group = { keyed: 0, frames: NO_FRAMES, nodes: NO_FRAMES };

function framesOfNode(entry: NodeCurves | undefined): Int32Array {
  const curves = Object.values(entry ?? {});
  const [first] = curves;
  if (!first) return NO_FRAMES;
  const known = framesKept.get(first);
  if (known?.curves.length === curves.length && curves.every((curve, i) => curve === known.curves[i]))
    return known.frames;
  const frames = uniteFrames(entry, '', null);
  framesKept.set(first, { curves, frames });
  return frames;
}

/** The whole frames on which a node's curves of two keys and more have a key, each once. @param channels only these count; null is all */
function uniteFrames(
  entry: NodeCurves | undefined,
  node: string,
  channels: ReadonlySet<ChannelId> | null,
): Int32Array {
  let frames = NO_FRAMES;
  for (const [name, { times }] of Object.entries(entry ?? {})) {
    if (times.length < 2 || (channels !== null && !channels.has(`${node}.${name}`))) continue;
    frames = withFramesOf(frames, times);
  }
  return frames;
}

/** Frames and the whole frames that rising times lie on, rising, each once. */
function withFramesOf(frames: Int32Array, times: Float64Array): Int32Array {
  const united = new Int32Array(frames.length + times.length);
  let count = 0;
  for (let f = 0, t = 0; f < frames.length || t < times.length;) {
    const time = t < times.length ? Math.round(times[t]!) : Infinity;
    const next = f < frames.length && frames[f]! <= time ? frames[f++]! : (t++, time);
    if (count === 0 || united[count - 1]! < next) united[count++] = next;
  }
  return united.subarray(0, count);
}

const sorted = (frames: readonly number[]) => [...new Set(frames)].sort((a, b) => a - b);

/** The columns that a control keeps to: its character's, or all where it belongs to none that has any. */
export const columnsOfNode = (
  { byCharacter, frames }: PoseColumns,
  character: string | null,
): readonly number[] => byCharacter.get(character) ?? frames;
