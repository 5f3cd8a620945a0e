/**
 * What a curve does ahead of its first key and past its last: where a time out there lies in the keyed part, and what is
 * added to the value that is found there.
 *
 *   hold            the end's value
 *   slope           straight on, as the curve came in or went out
 *   loop            the keyed part again
 *   loop and carry  again, from where it ended
 *   swing           there and back
 *
 * A count bounds the repeats; past them the curve holds. 0 is without end.
 */
import { SEGMENT } from './curve.ts';
import type { Curve } from './curve.ts';

/** Out-parameters of `leadPlace`: the time within the keys, what is added to its value, and whether time runs backward. */
export interface LeadPlace {
  time: number;
  offset: number;
  backward: boolean;
}

/** Whether any time outside the keys is more than the end's value. */
export function hasLead(curve: Curve): boolean {
  return curve.times.length > 1 && (curve.leadIn !== 'hold' || curve.leadOut !== 'hold');
}

/** Where `time`, outside the keys of a curve with two or more, takes its value from. */
export function leadPlace(curve: Curve, time: number, place: LeadPlace): void {
  const { times, values } = curve;
  const last = times.length - 1;
  const first = times[0]!;
  const end = times[last]!;
  const ahead = time < first;
  const kind = ahead ? curve.leadIn : curve.leadOut;
  const count = ahead ? curve.leadInCount : curve.leadOutCount;
  const length = end - first;
  const edge = ahead ? first : end;
  place.backward = false;
  if (kind === 'hold' || length <= 0) {
    place.time = edge;
    place.offset = 0;
    return;
  }
  if (kind === 'slope') {
    place.time = edge;
    place.offset = edgeSlope(curve, ahead) * (time - edge);
    return;
  }
  const most = count > 0 ? count * length : Infinity;
  const away = Math.min(ahead ? first - time : time - end, most);
  const reached = ahead ? first - away : end + away;
  // The seam belongs to the keyed part that it ends, so that a whole cycle plays its last key.
  const turn = ahead ? Math.floor((reached - first) / length) : Math.ceil((reached - first) / length) - 1;
  const within = reached - first - turn * length;
  place.backward = kind === 'swing' && turn % 2 !== 0;
  place.time = place.backward ? end - within : first + within;
  place.offset = kind === 'loopCarry' ? turn * (values[last]! - values[0]!) : 0;
}

/** The slope with which the curve leaves its keys. */
export function edgeSlope(curve: Curve, ahead: boolean): number {
  const { times, values, slopesIn, slopesOut, segments } = curve;
  const last = times.length - 1;
  if (last < 1) return 0;
  const row = ahead ? 0 : last - 1;
  if (segments[row] === SEGMENT.stepped) return 0;
  if (segments[row] === SEGMENT.linear)
    return (values[row + 1]! - values[row]!) / (times[row + 1]! - times[row]!);
  return ahead ? slopesOut[0]! : slopesIn[last]!;
}
