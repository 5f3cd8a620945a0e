/** The ends and ramps of a layer's range in its row: where they are, which one is touched, and the range when one is dragged. */
import type { FrameRange, LayerRange } from '@kneader/core';

export type RangeHandle = 'start' | 'end' | 'rampIn' | 'rampOut';

/** The frames on which the handles stand. */
export const handleFrames = ({
  start,
  end,
  rampIn,
  rampOut,
}: LayerRange): Readonly<Record<RangeHandle, number>> => ({
  start,
  end,
  rampIn: start + rampIn,
  rampOut: end - rampOut,
});

/** Ramps are touched in the upper half, ends in the lower: so that both can be had where a ramp is nothing. */
export function handleAt(
  range: LayerRange,
  toX: (frame: number) => number,
  x: number,
  isUpper: boolean,
  reach: number,
): RangeHandle | null {
  const frames = handleFrames(range);
  const names: readonly RangeHandle[] = isUpper ? ['rampIn', 'rampOut'] : ['start', 'end'];
  let found: RangeHandle | null = null;
  let nearest = reach;
  for (const name of names) {
    const away = Math.abs(toX(frames[name]) - x);
    if (away < nearest) [found, nearest] = [name, away];
  }
  return found;
}

/** The range with a handle at a frame: ends never pass each other, ramps never overlap, and ramps go along with their ends. */
export function draggedRange(range: LayerRange, handle: RangeHandle, frame: number): LayerRange {
  const { start, end, rampIn, rampOut } = range;
  switch (handle) {
    case 'start':
      return fitted(range, { start: Math.min(frame, end - 1), end });
    case 'end':
      return fitted(range, { start, end: Math.max(frame, start + 1) });
    case 'rampIn':
      return { ...range, rampIn: Math.min(Math.max(frame - start, 0), end - start - rampOut) };
    case 'rampOut':
      return { ...range, rampOut: Math.min(Math.max(end - frame, 0), end - start - rampIn) };
  }
}

/** The range with other ends: where there is no room for both ramps, the one that comes in gives way first. */
function fitted({ rampIn, rampOut }: LayerRange, { start, end }: FrameRange): LayerRange {
  const out = Math.min(rampOut, end - start);
  return { start, end, rampIn: Math.min(rampIn, end - start - out), rampOut: out };
}
