/**
 * Pose columns: the frames at which the pose is set. The rule: a frame counts when at least a share of the nodes that are keyed
 * at all carry a key there. Frames can be added and removed by hand (`Shot.poseColumns`). On captured motion nearly every frame
 * would count, which is said as such; there only the frames added by hand are columns.
 */
import { curvesIn, DEFAULT_COLUMNS, splitChannel } from './shot.ts';
import type { ColumnRule, Shot } from './shot.ts';

export interface PoseColumns {
  /** Frames, rising. */
  readonly frames: readonly number[];
  /** Whether nearly every frame of the shot carries keys: the motion is captured or baked. */
  readonly dense: boolean;
  readonly rule: ColumnRule;
}

const DENSE_SHARE = 0.6;
const kept = new WeakMap<Shot['curves'], PoseColumns>();

/** The pose columns of the base curves. */
export function poseColumns(shot: Shot): PoseColumns {
  const rule = shot.poseColumns ?? DEFAULT_COLUMNS;
  const known = kept.get(shot.curves);
  if (known?.rule === rule) return known;
  const nodesAt = new Map<number, Set<string>>();
  const keyed = new Set<string>();
  for (const [id, curve] of curvesIn(shot.curves, shot.nodes)) {
    const { node } = splitChannel(id);
    if (curve.times.length < 2) continue;
    keyed.add(node);
    for (const time of curve.times) {
      const frame = Math.round(time);
      const nodes = nodesAt.get(frame);
      if (nodes) nodes.add(node);
      else nodesAt.set(frame, new Set([node]));
    }
  }
  const enough = Math.max(1, keyed.size * rule.share);
  const found = [...nodesAt].filter(([, nodes]) => nodes.size >= enough).map(([frame]) => frame);
  const length = shot.range.end - shot.range.start + 1;
  const dense = found.length > 12 && found.length > DENSE_SHARE * length;
  const removed = new Set(rule.removed);
  const frames = [...new Set([...(dense ? [] : found), ...rule.added])].filter(
    (frame) => !removed.has(frame),
  );
  frames.sort((a, b) => a - b);
  const columns = { frames, dense, rule };
  kept.set(shot.curves, columns);
  return columns;
}
