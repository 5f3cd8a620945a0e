/** Where a recording gets its motion from: the pointer, or a capture feed. */
import type { ChannelId, Shot, Take } from '@kneader/core';

export interface Listening {
  /** @param time on this page's clock, ms */
  readonly push: (time: number, values: Readonly<Record<string, number>>) => void;
  /** By how much the last input came late, ms. */
  readonly late: (ms: number) => void;
  /** It ended by itself, and why. */
  readonly ended: (sentence: string) => void;
}

export interface Source {
  /** Listens until the function that it gives is called. */
  readonly listen: (to: Listening) => () => void;
  /**
   * What the controls are at these times.
   * @param from the frame of the first time; the others follow one by one
   */
  readonly values: (take: Take, times: Float64Array, shot: Shot, from: number) => Record<ChannelId, number[]>;
  /** What else is to be said when it is over; empty for nothing. */
  readonly remarks: () => readonly string[];
}
