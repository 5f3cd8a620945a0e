import { framesPerSecond } from '@kneader/core';
import type { Shot } from '@kneader/core';

/** Which of two a blink shows on a frame: each for half a second, the first first. */
export const blinkedAt = ({ rate, range }: Pick<Shot, 'rate' | 'range'>, frame: number): 'a' | 'b' =>
  Math.floor((2 * (frame - range.start)) / framesPerSecond(rate) + 1e-9) % 2 === 0 ? 'a' : 'b';
