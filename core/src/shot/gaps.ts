/** The gaps between pose columns, and retiming a shot so that they are others. */
import type { Curve } from '../curve/curve.ts';
import { retimeCurve, rippleCurve } from '../curve/ripple.ts';
import { retimeShot } from './retime.ts';
import type { LayerChanges } from './layers.ts';
import type { ChannelId, Shot } from './shot.ts';

export interface GapChanges extends LayerChanges {
  readonly merged: number;
}

/** Later keys moved by `by` frames from `at` on, with all that time carries. */
export function rippleShot(
  shot: Shot,
  channels: ReadonlySet<ChannelId> | null,
  at: number,
  by: number,
  shrink = false,
): GapChanges {
  let merged = 0;
  const changes = retimeShot(shot, {
    channels,
    from: at + 1e-3,
    grow: channels === null ? by : Math.max(by, 0),
    shrink,
    frame: (frame) => (frame > at + 1e-6 ? frame + by : frame),
    curve: (curve) => {
      const rippled = rippleCurve(curve, at, by);
      merged += rippled.merged;
      return rippled.curve;
    },
  });
  return { ...changes, merged };
}

/**
 * The shot with its pose columns at other frames. Keys on columns land on the new ones; keys between two columns keep their
 * share of the gap, on whole frames; keys past the last column move with it.
 * @param columns rising, two or more; @param frames where each comes to lie, rising, each a frame or more after the one before
 */
export function moveColumns(
  shot: Shot,
  channels: ReadonlySet<ChannelId> | null,
  columns: readonly number[],
  frames: readonly number[],
): GapChanges {
  const last = columns.length - 1;
  const timeOf = (time: number): number => {
    if (time <= columns[0]!) return time;
    if (time >= columns[last]! - 1e-6) return time + frames[last]! - columns[last]!;
    let k = 0;
    while (columns[k + 1]! <= time + 1e-6) k += 1;
    if (Math.abs(time - columns[k]!) < 1e-6) return frames[k]!;
    const share = (time - columns[k]!) / (columns[k + 1]! - columns[k]!);
    const moved = frames[k]! + share * (frames[k + 1]! - frames[k]!);
    return Number.isInteger(time) ? Math.round(moved) : moved;
  };
  let merged = 0;
  const changes = retimeShot(shot, {
    channels,
    from: columns[0]! + 1e-3,
    grow: frames[last]! - columns[last]!,
    shrink: channels === null,
    frame: timeOf,
    curve: (curve: Curve) => {
      const moved = retimeCurve(curve, timeOf);
      merged += moved.merged;
      return moved.curve;
    },
  });
  return { ...changes, merged };
}
