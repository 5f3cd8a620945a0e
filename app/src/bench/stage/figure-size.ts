/** Where a shot's figures are and how large, so that the stage can be set up for them. */
import { placeIn, worldAt } from '@kneader/core';
import type { Node, Shot } from '@kneader/core';

type Point = readonly [number, number, number];

/** A box in the world, cm. */
export interface Extent {
  readonly low: Point;
  readonly high: Point;
}

export interface FigureSize {
  readonly middle: Point;
  readonly height: number;
  readonly floor: number;
  /** All that the body takes up while the shot plays. */
  readonly extent: Extent;
}

/** Moments of the shot that are looked at. */
const LOOKS = 9;
/** A head reaches beyond its joint, and so do hands and feet: parts of the height between joints. */
const CROWN = 0.1;
const SIDES = 0.04;

const isBody = ({ part, kind }: Node) => part !== 'prop' && kind !== 'camera' && kind !== 'goal';

/** The box of the nodes' origins over some frames; null where there are none. */
export function extentOf(
  shot: Shot,
  frames: readonly number[],
  counts: (node: Node) => boolean,
): Extent | null {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (const frame of frames) {
    const pose = worldAt(shot, frame);
    shot.nodes.forEach((node, i) => {
      if (!counts(node)) return;
      placeIn(pose, i).forEach((value, axis) => {
        low[axis] = Math.min(low[axis]!, value);
        high[axis] = Math.max(high[axis]!, value);
      });
    });
  }
  return low.every(Number.isFinite) ? { low: low as never, high: high as never } : null;
}

/** The box of all body joints over the shot, with room for what reaches beyond them. */
export function figureSize(shot: Shot): FigureSize {
  const { start, end } = shot.range;
  const frames = Array.from({ length: LOOKS }, (_, i) => start + ((end - start) * i) / (LOOKS - 1));
  const box = extentOf(shot, frames, isBody) ?? { low: [-50, 0, -50], high: [50, 100, 50] };
  const first = extentOf(shot, [start], isBody) ?? box;
  const height = Math.max(first.high[1] - first.low[1], box.high[1] - box.low[1], 1);
  const [out, up] = [height * SIDES, height * CROWN];
  const extent: Extent = {
    low: [box.low[0] - out, box.low[1] - out, box.low[2] - out],
    high: [box.high[0] + out, box.high[1] + up, box.high[2] + out],
  };
  const middle = [0, 1, 2].map((axis) => (extent.low[axis]! + extent.high[axis]!) / 2) as never;
  return { middle, height, floor: Math.abs(box.low[1]) < height * 0.1 ? 0 : box.low[1], extent };
}

/**
 * How far a camera must be from the middle of a box so that all of it is seen.
 * @param fov degrees, upright; @param aspect width by height
 */
export function distanceFor({ low, high }: Extent, fov: number, aspect: number): number {
  const half = Math.tan((fov * Math.PI) / 360);
  const [x, y, z] = [0, 1, 2].map((axis) => (high[axis]! - low[axis]!) / 2) as [number, number, number];
  // Turned about the upright it is never wider than its diagonal.
  const across = Math.hypot(x, z);
  return Math.max(y / half, across / (half * aspect)) * MARGIN + across * 0.5;
}
const MARGIN = 1.12;
