/** How short a block may be, however it comes by its length. */
import type { FrameRange } from '../../base/frame-range.ts';
import { refuse } from '../../base/finding.ts';
import { tidyFrame } from '../actions/action-on-shot.ts';

/** Frames of the shot: one pose and the next. */
export const SHORTEST_BLOCK = 1;

/** Refuses frames in which a block would be too short to be seen or taken hold of. */
export function longEnough({ start, end }: FrameRange): void {
  const length = end - start;
  if (!(length >= SHORTEST_BLOCK - 1e-9)) refuse('blockTooShort', {}, tidyFrame(length), SHORTEST_BLOCK);
}
