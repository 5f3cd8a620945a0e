/** The range of a layer with other ends. */
import type { FrameRange } from '../base/frame-range.ts';
import type { LayerRange } from './layer.ts';

/** The same with other ends: ramps keep their frames as long as there is room for both. */
export function withEnds({ rampIn, rampOut }: LayerRange, { start, end }: FrameRange): LayerRange {
  const room = Math.min(1, (end - start) / Math.max(rampIn + rampOut, 1e-9));
  return { start, end, rampIn: rampIn * room, rampOut: rampOut * room };
}
