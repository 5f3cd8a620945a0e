/** Where a shot's figures are and how large, so that the stage can be set up for them. */
import { placeIn, worldAt } from '@kneader/core';
import type { Shot } from '@kneader/core';

export interface FigureSize {
  readonly middle: readonly [number, number, number];
  readonly height: number;
  readonly floor: number;
}

/** The box of all body joints over a few frames. */
export function figureSize(shot: Shot): FigureSize {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  const { start, end } = shot.range;
  for (const share of [0, 0.25, 0.5, 0.75, 1]) {
    const pose = worldAt(shot, start + (end - start) * share);
    shot.nodes.forEach((node, i) => {
      if (node.part === 'prop' || node.kind === 'camera' || node.kind === 'goal') return;
      placeIn(pose, i).forEach((value, axis) => {
        low[axis] = Math.min(low[axis]!, value);
        high[axis] = Math.max(high[axis]!, value);
      });
    });
  }
  if (!low.every(Number.isFinite)) return { middle: [0, 50, 0], height: 100, floor: 0 };
  const middle = low.map((value, axis) => (value + high[axis]!) / 2) as [number, number, number];
  const height = Math.max(high[1]! - low[1]!, (high[0]! - low[0]!) * 0.5, 1);
  return { middle, height, floor: Math.abs(low[1]!) < height * 0.1 ? 0 : low[1]! };
}
