/** The options that confine a new layer: what passes and filters share. */
import { z } from 'zod';
import { refuse } from '../../base/finding.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { LIMITS } from '../../base/limits.ts';
import { withEnds } from '../../layers/layer-range.ts';
import type { LayerRange } from '../../layers/layer.ts';

const frame = z.number().min(-LIMITS.frame).max(LIMITS.frame);

export const bookendsOption = z
  .object({ start: frame, end: frame })
  .nullable()
  .default(null)
  .meta({ title: 'Bookends', description: 'The layer counts from one to the other and nowhere else.' });

export const rampsOption = z.number().min(0).max(LIMITS.frame).default(6).meta({
  title: 'Ramps',
  unit: 'frames',
  step: 1,
  description: 'It comes in and goes out over so many frames within the bookends.',
});

/** The range that the two options make. */
export function rangeOf(bookends: FrameRange | null, ramps: number): LayerRange | null {
  if (!bookends) return null;
  if (!(bookends.end > bookends.start)) refuse('badRange', {}, bookends.start, bookends.end);
  return withEnds({ ...bookends, rampIn: ramps, rampOut: ramps }, bookends);
}
