import type { ThinOptions } from '../curve/thin.ts';

/** What tests of thinning begin with, and change one of. */
export const PLAIN_THINNING: ThinOptions = {
  tolerance: 0.5,
  keepPeaks: false,
  keepFrames: [],
  joined: true,
  weighted: false,
  wholeFrames: true,
  takesPart: () => true,
};
