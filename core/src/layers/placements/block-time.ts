/** Which frame of an action a placement shows at a frame of the shot. */
import type { FrameRange } from '../../base/frame-range.ts';
import { imagesOf, oldFrame, placesOf } from '../../base/time-pieces.ts';
import type { TimePieces } from '../../base/time-pieces.ts';

export interface BlockTime {
  /** The frame of the shot at which it begins. */
  readonly first: number;
  /** Frames of the shot for each frame of the action. */
  readonly factor: number;
  /** The part of the action that shows, its frames. */
  readonly from: number;
  readonly to: number;
  /** How often the part shows; 2.5 ends in the middle of the third time. */
  readonly repeats: number;
  /** Whether each time it runs from the part's end to its beginning. */
  readonly backward: boolean;
  /** What became of time since it was laid: held, cut, turned, repeated; null where it runs as it was laid. */
  readonly course?: TimePieces | null;
}

/** The frame as it was when the block was laid. */
const asLaid = ({ course }: BlockTime, frame: number): number => (course ? oldFrame(course, frame) : frame);

/** A place in the block so near to where the part begins anew is there. */
const NEAR = 1e-9;

/** How many frames of the shot all repeats take. */
export const lengthOf = ({ factor, from, to, repeats }: BlockTime): number => (to - from) * factor * repeats;

/** Which time round it is at a frame, from 0: the last frame of all belongs to the last one. */
export const roundAt = (time: BlockTime, frame: number): number => roundAsLaid(time, asLaid(time, frame));

function roundAsLaid({ first, factor, from, to, repeats }: BlockTime, frame: number): number {
  const length = to - from;
  if (length <= 0) return 0;
  const round = Math.floor((frame - first) / factor / length + NEAR);
  return Math.min(Math.max(round, 0), roundsOf(repeats) - 1);
}

/** How many times round there are, the last of them perhaps in part. */
export const roundsOf = (repeats: number): number => Math.max(Math.ceil(repeats - NEAR), 1);

/** The action's frame; ahead of the block its first, past it its last. */
export function sourceAt(time: BlockTime, frame: number): number {
  const { first, factor, from, to, backward } = time;
  const laid = Math.min(asLaid(time, frame), first + lengthOf(time));
  const passed = (laid - first) / factor - roundAsLaid(time, laid) * (to - from);
  return Math.min(Math.max(backward ? to - passed : from + passed, from), to);
}

/** The action's frames at which each time round begins and ends. */
export const endsOf = ({ from, to, backward }: BlockTime): readonly [number, number] =>
  backward ? [to, from] : [from, to];

/** Where a span of the action stands in the shot, every time round, as far as it shows. */
export function standsOf(time: BlockTime, span: FrameRange): FrameRange[] {
  const { first, factor, from, to, repeats, backward, course } = time;
  const [start, end] = [Math.max(span.start, from), Math.min(span.end, to)];
  if (end < start) return [];
  const [begins, ends] = backward ? [to - end, to - start] : [start - from, end - from];
  const last = first + lengthOf(time);
  const laid = Array.from({ length: roundsOf(repeats) }, (_, round) => {
    const since = first + round * (to - from) * factor;
    return { start: since + begins * factor, end: Math.min(since + ends * factor, last) };
  }).filter((one) => one.start <= last && one.end >= one.start);
  return course ? laid.flatMap((one) => imagesOf(course, one)) : laid;
}

/** Where frames of the action stand in the shot, every time round, rising. */
export function landingsOf(time: BlockTime, frames: readonly number[]): number[] {
  const { first, factor, from, to, repeats, backward, course } = time;
  const inside = [...new Set([from, ...frames.filter((frame) => frame > from && frame < to), to])].sort(
    (a, b) => a - b,
  );
  const passed = backward ? inside.map((frame) => to - frame).reverse() : inside.map((frame) => frame - from);
  const end = first + lengthOf(time);
  const all = Array.from({ length: roundsOf(repeats) }, (_, round) =>
    passed.slice(round === 0 ? 0 : 1).map((since) => first + factor * (since + round * (to - from))),
  ).flat();
  const laid = [...all.filter((frame) => frame < end - NEAR), end];
  if (!course) return laid;
  // Where a piece begins or ends there is a place too, since time runs another way from there.
  const ends = imagesOf(course, { start: first, end: first + lengthOf(time) }).flatMap(({ start, end }) => [
    start,
    end,
  ]);
  return [...new Set([...laid.flatMap((frame) => placesOf(course, frame)), ...ends])].sort((a, b) => a - b);
}
