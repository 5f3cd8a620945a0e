/** Frames as numbers: computed ones are whole where they are meant to be, and stand once and in order in a list. */

/** Frames nearer than this to a whole one are whole: computed in float64, a frame below a million is off by less. */
const HAIR = 1e-9;

/** The whole frame where a computed one is that but for rounding, so that nothing comes late by it. */
export function onFrame(frame: number): number {
  const whole = Math.round(frame);
  return Math.abs(frame - whole) < HAIR ? whole : frame;
}

/** The frames of all lists, rising, whole where they are near to it, each once. */
export function rising(...lists: readonly Iterable<number>[]): number[] {
  const all = lists.flatMap((list) => Array.from(list, onFrame)).sort((a, b) => a - b);
  return all.filter((frame, i) => i === 0 || frame - all[i - 1]! > HAIR);
}
