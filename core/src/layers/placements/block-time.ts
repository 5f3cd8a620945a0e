/** Which frame of an action a placement shows at a frame of the shot. */
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
  /** How often the part shows, 1 or more. */
  readonly repeats: number;
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
  return Math.min(Math.max(round, 0), repeats - 1);
}

/** The action's frame; ahead of the block its first, past it its last. */
export function sourceAt(time: BlockTime, frame: number): number {
  const { first, factor, from, to } = time;
  const laid = asLaid(time, frame);
  const passed = (laid - first) / factor - roundAsLaid(time, laid) * (to - from);
  return Math.min(Math.max(from + passed, from), to);
}

/** Where frames of the action stand in the shot, every time round, rising. */
export function landingsOf(time: BlockTime, frames: readonly number[]): number[] {
  const { first, factor, from, to, repeats, course } = time;
  const inside = [...new Set([from, ...frames.filter((frame) => frame > from && frame < to), to])].sort(
    (a, b) => a - b,
  );
  const laid = Array.from({ length: repeats }, (_, round) =>
    inside.slice(round === 0 ? 0 : 1).map((frame) => first + factor * (frame - from + round * (to - from))),
  ).flat();
  if (!course) return laid;
  // Where a piece begins or ends there is a place too, since time runs another way from there.
  const ends = imagesOf(course, { start: first, end: first + lengthOf(time) }).flatMap(({ start, end }) => [
    start,
    end,
  ]);
  return [...new Set([...laid.flatMap((frame) => placesOf(course, frame)), ...ends])].sort((a, b) => a - b);
}
