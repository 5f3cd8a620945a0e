/**
 * Pose columns: the frames at which the pose is set. The rule: a frame counts when at least `share` of the
 * nodes that are keyed at all carry a key there. On captured motion every frame counts, which is said as such.
 */
import { curvesIn, splitChannel } from './shot.ts';
import type { Shot } from './shot.ts';

export interface PoseColumns {
  /** Frames, rising. */
  readonly frames: readonly number[];
  /** Whether nearly every frame of the shot is a column: the motion is captured or baked. */
  readonly dense: boolean;
}

const DENSE_SHARE = 0.6;
const kept = new WeakMap<Shot['curves'], PoseColumns>();

/** The pose columns of the base curves. @param share 0…1 */
export function poseColumns(shot: Shot, share = 0.5): PoseColumns {
  const known = kept.get(shot.curves);
  if (known && share === 0.5) return known;
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
  const enough = Math.max(1, keyed.size * share);
  const frames = [...nodesAt].filter(([, nodes]) => nodes.size >= enough).map(([frame]) => frame);
  frames.sort((a, b) => a - b);
  const length = shot.range.end - shot.range.start + 1;
  const columns = { frames, dense: frames.length > 12 && frames.length > DENSE_SHARE * length };
  if (share === 0.5) kept.set(shot.curves, columns);
  return columns;
}
