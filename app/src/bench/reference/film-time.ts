/** Which moment of a film lies beside which frame of the shot. */
import type { ReferencePlace } from '../../store/references.ts';

type Lies = Pick<ReferencePlace, 'offset' | 'rate' | 'from' | 'to'>;

/** Seconds of the film at a frame, within what is shown of it. */
export function momentAt(
  { offset, rate, from, to }: Lies,
  frame: number,
  framesPerSecond: number,
  duration: number,
): number {
  const moment = from + ((frame - offset) / framesPerSecond) * rate;
  return Math.min(Math.max(moment, from), to ?? duration);
}

/** The frame at which a moment is shown. */
export const frameAtMoment = (
  { offset, rate, from }: Lies,
  moment: number,
  framesPerSecond: number,
): number => offset + ((moment - from) / rate) * framesPerSecond;
