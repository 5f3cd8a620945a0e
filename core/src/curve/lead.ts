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
import type { Curve, Lead } from './curve.ts';

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
  const away = ahead ? first - time : time - end;
  // Counted turns end on the border itself, whatever was rounded.
  const over = count > 0 && away >= count * length * (1 - 1e-12);
  // A seam belongs to the turn that reaches it from the keys.
  const whole = over ? count : Math.max(Math.ceil(away / length - 1e-12), 1);
  const into = over ? length : Math.min(away - (whole - 1) * length, length);
  place.backward = kind === 'swing' && whole % 2 !== 0;
  const far = ahead === place.backward ? end : first;
  place.time =
    into === length
      ? far
      : ahead === place.backward
        ? Math.min(first + into, end)
        : Math.max(end - into, first);
  place.offset = kind === 'loopCarry' ? (ahead ? -whole : whole) * (values[last]! - values[0]!) : 0;
}

/**
 * Where a key must be put so that the curve has one at `time` and keeps its shape: in the cycle that a repeat follows, else at the
 * time itself. Null where it cannot be: beyond repeats that are counted, or on a side that holds while the other repeats.
 */
export function placeOfKey(curve: Curve, time: number): number | null {
  const { times, leadIn, leadOut, leadInCount, leadOutCount } = curve;
  const last = times.length - 1;
  if (last < 1 || (time >= times[0]! && time <= times[last]!)) return time;
  const ahead = time < times[0]!;
  const kind = ahead ? leadIn : leadOut;
  if (!repeats(kind)) return repeats(ahead ? leadOut : leadIn) ? null : time;
  const count = ahead ? leadInCount : leadOutCount;
  const length = times[last]! - times[0]!;
  if (count > 0 && (ahead ? times[0]! - time : time - times[last]!) > count * length + 1e-6) return null;
  leadPlace(curve, time, placed);
  // A time on a frame of the cycle is that frame, whatever was rounded.
  const nearest = Math.round(placed.time * 1e6) / 1e6;
  return Math.abs(nearest - placed.time) < 1e-9 ? nearest : placed.time;
}

const placed: LeadPlace = { time: 0, offset: 0, backward: false };

/** Whether a lead plays the keys again. */
export const repeats = (lead: Lead): boolean => lead === 'loop' || lead === 'loopCarry' || lead === 'swing';

/** Whether `time` lies where the curve plays its keys again. */
export function isRepeated(curve: Curve, time: number): boolean {
  const last = curve.times.length - 1;
  if (last < 1) return false;
  return time < curve.times[0]! ? repeats(curve.leadIn) : time > curve.times[last]! && repeats(curve.leadOut);
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
