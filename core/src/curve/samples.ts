/**
 * Samples of a curve on whole frames, kept by the curve's identity: a curve never changes, so they can
 * never be stale, and undo finds them again.
 */
import { sampleInto } from './evaluate.ts';
import type { Curve } from './curve.ts';

export interface FrameGrid {
  readonly start: number;
  readonly count: number;
}

interface KeptSamples extends FrameGrid {
  readonly samples: Float64Array;
}

const kept = new WeakMap<Curve, KeptSamples>();

/** The values at frames start, start + 1, …; the array is shared, do not write to it. */
export function samplesOf(curve: Curve, grid: FrameGrid, absent = 0): Float64Array {
  const known = kept.get(curve);
  if (known && known.start === grid.start && known.count === grid.count) return known.samples;
  const times = gridTimes(grid);
  const samples = new Float64Array(grid.count);
  sampleInto(samples, 0, 1, curve, times, absent);
  kept.set(curve, { ...grid, samples });
  return samples;
}

let lastGrid: { grid: FrameGrid; times: Float64Array } | null = null;

/** The frames of a grid; the last one is kept, since whole shots ask for the same one again and again. */
function gridTimes(grid: FrameGrid): Float64Array {
  if (lastGrid && lastGrid.grid.start === grid.start && lastGrid.grid.count === grid.count)
    return lastGrid.times;
  const times = Float64Array.from({ length: grid.count }, (_, i) => grid.start + i);
  lastGrid = { grid, times };
  return times;
}
