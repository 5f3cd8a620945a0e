/** A key of a value at a frame: where the curve has keys, in the cycle that it repeats, or on repeats turned into keys first. */
import { bisectRight } from '../base/bisect.ts';
import type { FrameRange } from '../base/frame-range.ts';
import { bakeLeads } from './bake-lead.ts';
import { rowAtTime, SEGMENT, TANGENT } from './curve.ts';
import type { Curve } from './curve.ts';
import { evaluate } from './evaluate.ts';
import { isRepeated, leadPlace, placeOfKey, repeats } from './lead.ts';
import type { LeadPlace } from './lead.ts';
import { allRows, rebuild } from './rebuild.ts';

/** What a key on a repeat does: it changes the cycle, or the repeats become keys first. */
export const REPEAT_WAYS = ['cycle', 'bake'] as const;
export type RepeatWay = (typeof REPEAT_WAYS)[number];

/** A curve that can take a key, and the time at which it does. */
export interface KeyPlace {
  readonly curve: Curve;
  readonly time: number;
  /** there: the frame itself; else what had to be done. */
  readonly way: 'there' | RepeatWay;
}

/**
 * Where a key for a frame goes. A frame beyond counted repeats, or on a side that holds while the other repeats, has no place in
 * the cycle: there the repeats are baked whatever was asked.
 * @param shown the frames over which baked repeats are needed
 */
export function keyPlace(curve: Curve, frame: number, way: RepeatWay, shown: FrameRange): KeyPlace {
  const row = rowAtTime(curve, frame);
  if (row >= 0) return { curve, time: curve.times[row]!, way: 'there' };
  const place = placeOfKey(curve, frame);
  const repeated = isRepeated(curve, frame);
  if (place !== null && !repeated) return { curve, time: frame, way: 'there' };
  if (place !== null && way === 'cycle') return { curve, time: place, way };
  const early = Math.min(frame, shown.start);
  const late = Math.max(frame, shown.end);
  return { curve: bakeLeads(curve, early, late), time: frame, way: 'bake' };
}

/** The curve that shows `value` at a frame, by a key; `way` says what that key changed. */
export function withValueAt(
  curve: Curve,
  frame: number,
  value: number,
  way: RepeatWay,
  shown: FrameRange,
): { readonly curve: Curve; readonly way: KeyPlace['way'] } {
  const place = keyPlace(curve, frame, way, shown);
  if (place.way !== 'cycle') return { curve: withKey(place.curve, place.time, value), way: place.way };
  const { times, values } = curve;
  const last = times.length - 1;
  const [atFirst, atLast] = [place.time === times[0], place.time === times[last]];
  const lead = frame < times[0]! ? curve.leadIn : curve.leadOut;
  leadPlace(curve, frame, there);
  if (lead === 'loopCarry' && (atFirst || atLast)) {
    // The rise of a turn hangs on the key itself: what shows there is a straight line over its value.
    const trial = withKey(curve, place.time, value);
    const [was, is] = [evaluate(curve, frame), evaluate(trial, frame)];
    const own = values[atFirst ? 0 : last]!;
    const solved = is === was ? value : own + ((value - was) * (value - own)) / (is - was);
    return { curve: withKey(curve, place.time, solved), way: 'cycle' };
  }
  let after = withKey(curve, place.time, value - there.offset);
  // The ends of a closed cycle are one pose.
  if (lead === 'loop' && (atFirst || atLast) && values[0] === values[last])
    after = withKey(withKey(after, times[0]!, value), times[last]!, value);
  return { curve: after, way: 'cycle' };
}

const there: LeadPlace = { time: 0, offset: 0, backward: false };

/** Whether the curve plays its keys again on either side. */
export const repeatsAtAll = ({ leadIn, leadOut }: Curve): boolean => repeats(leadIn) || repeats(leadOut);

/**
 * The curve with a key of this value at a time among its keys, or where it holds. A key that stands there keeps its tangents; a new
 * one takes the ways of the segment that it falls into: steady on curves, straight on straight segments, stepped on stepped ones.
 */
export function withKey(curve: Curve, time: number, value: number): Curve {
  const row = rowAtTime(curve, time);
  if (row >= 0) {
    if (curve.values[row] === value) return curve;
    return rebuild(curve, null, (columns) => (columns.values[row] = value));
  }
  const earlier = bisectRight(curve.times, time) - 1;
  const segment = curve.segments[Math.max(earlier, 0)] ?? SEGMENT.cubic;
  const rows = [...allRows(curve), -1];
  return rebuild(curve, rows, (columns) => {
    const at = rows.length - 1;
    columns.times[at] = time;
    columns.values[at] = value;
    columns.segments[at] = segment;
    columns.tangentsIn[at] = columns.tangentsOut[at] =
      segment === SEGMENT.linear ? TANGENT.linear : TANGENT.steady;
  });
}
