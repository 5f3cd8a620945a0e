/** The range of a layer where time goes elsewhere. */
import type { FrameRange } from '../base/frame-range.ts';
import { carriedRange } from '../base/time-map.ts';
import type { TimeReader } from '../base/time-map.ts';
import type { LayerRange } from './layer.ts';

/** The same with other ends: ramps keep their frames as long as there is room for both. */
export function withEnds({ rampIn, rampOut }: LayerRange, { start, end }: FrameRange): LayerRange {
  const room = Math.min(1, (end - start) / Math.max(rampIn + rampOut, 1e-9));
  return { start, end, rampIn: rampIn * room, rampOut: rampOut * room };
}

/** The range where a map takes it, its ramps along with the frames that they cover; of which all time was taken out, next to nothing. */
export function carriedLayerRange(range: LayerRange, time: TimeReader): LayerRange {
  const moved = carriedRange(range, time);
  if (moved.end - moved.start < 1) return withEnds(range, { start: moved.start, end: moved.start + 1 });
  const [up, down] = [range.start + range.rampIn, range.end - range.rampOut];
  return {
    ...moved,
    rampIn: range.rampIn === 0 ? 0 : Math.max(time.at(up, 1) - moved.start, 0),
    rampOut: range.rampOut === 0 ? 0 : Math.max(moved.end - time.at(down, -1), 0),
  };
}
