/** The options that confine a new layer: what passes and filters share. */
import { z } from 'zod';
import { refuse } from '../../base/finding.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { LIMITS } from '../../base/limits.ts';
import { withEnds } from '../../layers/layer-range.ts';
import type { LayerRange } from '../../layers/layer.ts';

const frame = z.number().min(-LIMITS.frame).max(LIMITS.frame);

export const bookendsOption = z.object({ start: frame, end: frame }).nullable().default(null).meta({
  title: 'Bookends',
  description: 'The layer counts from the first to the last frame and nowhere else.',
});

export const rampsOption = z.number().min(0).max(LIMITS.frame).default(6).meta({
  title: 'Ramps',
  unit: 'frames',
  step: 1,
  description: 'Frames over which it fades in and out within the bookends.',
});

/** The range that the two options make. */
export function rangeOf(bookends: FrameRange | null, ramps: number): LayerRange | null {
  if (!bookends) return null;
  if (!(bookends.end > bookends.start)) refuse('badRange', {}, bookends.start, bookends.end);
  return withEnds({ ...bookends, rampIn: ramps, rampOut: ramps }, bookends);
}
