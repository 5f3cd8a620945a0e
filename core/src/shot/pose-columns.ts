/**
 * Pose columns: the frames at which the pose is set. The rule: a frame counts when at least a share of the nodes that are keyed
 * at all carry a key there. Frames can be added and removed by hand (`Shot.poseColumns`). On captured motion nearly every frame
 * would count, which is said as such; there only the frames added by hand are columns.
 */
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

interface Kept {
  readonly range: Shot['range'];
  readonly rule: ColumnRule;
  readonly columns: PoseColumns;
}
const kept = new WeakMap<Shot['curves'], Kept>();

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
    let group = groups.get(character);
    if (!group) groups.set(character, (group = { keyed: 0, nodesAt: new Map() }));
    group.keyed += 1;
    for (const frame of frames) group.nodesAt.set(frame, (group.nodesAt.get(frame) ?? 0) + 1);
  });
  const length = shot.range.end - shot.range.start + 1;
  const removed = new Set(rule.removed);
  const byCharacter = new Map<string | null, readonly number[]>();
  // What belongs to nobody, a prop, a camera, makes columns only where there is no character.
  const makers = [...groups].filter(([character]) => character !== null || groups.size === 1);
  let dense = false;
  const all = new Set<number>(rule.added);
  for (const [character, { keyed, nodesAt }] of makers) {
    const enough = Math.max(1, keyed * rule.share);
    const found = [...nodesAt].filter(([, nodes]) => nodes >= enough).map(([frame]) => frame);
    const crowded = found.length > 12 && found.length > DENSE_SHARE * length;
    dense ||= crowded;
    const own = sorted([...(crowded ? [] : found), ...rule.added].filter((frame) => !removed.has(frame)));
    byCharacter.set(character, own);
    for (const frame of own) all.add(frame);
  }
  return { frames: sorted([...all].filter((frame) => !removed.has(frame))), byCharacter, dense, rule };
}

interface Group {
  /** Nodes that are keyed at all, and how many are at each frame. */
  keyed: number;
  readonly nodesAt: Map<number, number>;
}

/** Frames of nodes by their curves: an edit changes those of few. */
const framesKept = new WeakMap<NodeCurves, Int32Array>();
const NO_FRAMES = new Int32Array(0);

function framesOfNode(entry: NodeCurves | undefined): Int32Array {
  if (!entry) return NO_FRAMES;
  let frames = framesKept.get(entry);
  if (!frames) framesKept.set(entry, (frames = uniteFrames(entry, '', null)));
  return frames;
}

/** The whole frames on which a node's curves of two keys and more have a key, each once. @param channels only these count; null is all */
function uniteFrames(
  entry: NodeCurves | undefined,
  node: string,
  channels: ReadonlySet<ChannelId> | null,
): Int32Array {
  const frames = new Set<number>();
  for (const [name, curve] of Object.entries(entry ?? {})) {
    if (curve.times.length < 2 || (channels !== null && !channels.has(`${node}.${name}`))) continue;
    for (const time of curve.times) frames.add(Math.round(time));
  }
  return Int32Array.from(frames);
}

const sorted = (frames: readonly number[]) => [...new Set(frames)].sort((a, b) => a - b);

/** The columns that a control keeps to: its character's, or all where it belongs to none that has any. */
export const columnsOfNode = (
  { byCharacter, frames }: PoseColumns,
  character: string | null,
): readonly number[] => byCharacter.get(character) ?? frames;
