/**
 * Where frames come to lie when time is changed: put in, taken out, stretched or bent. Plain data, rising.
 *
 * A map is a row of pieces. Within a piece old frames `from` … `to` come to lie on `start` … `end`, along a cubic with the rates
 * (new frames for each old one) that it has at its two ends; straight where both are its mean. Between two pieces old time is
 * taken out, or new time is put in; a piece may be a single frame. Ahead of the first and past the last time goes on as it did.
 * At a cut a frame has two places, one seen from before (side −1) and one from after (+1).
 */
import { bisectRight } from './bisect.ts';
import type { FrameRange } from './frame-range.ts';

export interface TimePiece {
  readonly from: number;
  readonly to: number;
  readonly start: number;
  readonly end: number;
  readonly rateFrom: number;
  readonly rateTo: number;
}

export interface TimeMap {
  readonly pieces: readonly TimePiece[];
}

type Side = -1 | 1;

/** A map that is asked often. */
export interface TimeReader {
  /** Where a frame comes to lie. */
  readonly at: (frame: number, side: Side) => number;
  /** New frames for each old one there. */
  readonly rate: (frame: number, side: Side) => number;
  /** Whether the frame lies in time that is taken out, its ends not. */
  readonly isGone: (frame: number) => boolean;
  /** Old frames at which time is cut or its rate changes at once, rising. */
  readonly cuts: readonly number[];
  /** Whether any piece is not straight. */
  readonly bends: boolean;
}

const HAIR = 1e-6;

export function timeReader({ pieces }: TimeMap): TimeReader {
  const froms = pieces.map(({ from }) => from);
  const tos = pieces.map(({ to }) => to);
  const last = pieces.length - 1;
  /** The piece that a frame lies in on a side; the outer ones reach on; −1 for time that is taken out. */
  const pieceAt = (frame: number, side: Side): number => {
    if (frame < froms[0]! - HAIR) return 0;
    if (frame > tos[last]! + HAIR) return last;
    if (side > 0) {
      const k = bisectRight(froms, frame + HAIR) - 1;
      return frame <= tos[k]! + HAIR ? k : -1;
    }
    const k = bisectRight(tos, frame - HAIR);
    return frame >= froms[k]! - HAIR ? k : -1;
  };
  const at = (frame: number, side: Side): number => {
    const k = pieceAt(frame, side);
    if (k < 0)
      return side < 0 ? pieces[bisectRight(tos, frame) - 1]!.end : pieces[bisectRight(froms, frame)]!.start;
    const piece = pieces[k]!;
    const length = piece.to - piece.from;
    if (frame <= piece.from) return piece.start + (k === 0 ? frame - piece.from : 0);
    if (frame >= piece.to) return piece.end + (k === last ? frame - piece.to : 0);
    const u = (frame - piece.from) / length;
    const rise = piece.end - piece.start;
    const [d0, d1] = [piece.rateFrom * length, piece.rateTo * length];
    return piece.start + u * (d0 + u * (3 * rise - 2 * d0 - d1 + u * (d0 + d1 - 2 * rise)));
  };
  const rate = (frame: number, side: Side): number => {
    const outside = side < 0 ? frame <= froms[0]! + HAIR : frame >= tos[last]! - HAIR;
    if (outside || frame < froms[0]! || frame > tos[last]!) return 1;
    const k = pieceAt(frame, side);
    if (k < 0) return 1;
    const piece = pieces[k]!;
    const length = piece.to - piece.from;
    if (length === 0) return 1;
    const u = Math.min(Math.max((frame - piece.from) / length, 0), 1);
    const mean = (piece.end - piece.start) / length;
    const [d0, d1] = [piece.rateFrom, piece.rateTo];
    return d0 + u * (2 * (3 * mean - 2 * d0 - d1) + 3 * u * (d0 + d1 - 2 * mean));
  };
  const edges = [...new Set([...froms, ...tos])].sort((a, b) => a - b);
  const cuts = edges.filter(
    (edge) =>
      Math.abs(at(edge, -1) - at(edge, 1)) > HAIR ||
      Math.abs(rate(edge, -1) - rate(edge, 1)) > 1e-9 ||
      isEnd(edge),
  );
  function isEnd(edge: number): boolean {
    // Beside time that is taken out.
    return pieces.some(
      ({ to }, k) =>
        k < last && pieces[k + 1]!.from > to + HAIR && (edge === to || edge === pieces[k + 1]!.from),
    );
  }
  return {
    at,
    rate,
    cuts,
    isGone: (frame) => pieceAt(frame, -1) < 0 && pieceAt(frame, 1) < 0,
    bends: pieces.some(isBent),
  };
}

function isBent({ from, to, start, end, rateFrom, rateTo }: TimePiece): boolean {
  const mean = (end - start) / (to - from);
  return to > from && (Math.abs(rateFrom - mean) > 1e-12 || Math.abs(rateTo - mean) > 1e-12);
}

const still = (frame: number, place: number): TimePiece => ({
  from: frame,
  to: frame,
  start: place,
  end: place,
  rateFrom: 1,
  rateTo: 1,
});

const straight = (from: number, to: number, start: number, end: number): TimePiece => {
  const rate = to > from ? (end - start) / (to - from) : 1;
  return { from, to, start, end, rateFrom: rate, rateTo: rate };
};

/** Time put in after a frame. */
export const timePutIn = (frame: number, by: number): TimeMap => ({
  pieces: [still(frame, frame), still(frame, frame + by)],
});

/** The time from `start` to `end` taken out. */
export const timeTakenOut = ({ start, end }: FrameRange): TimeMap => ({
  pieces: [still(start, start), still(end, start)],
});

/** Frames at other places, straight between; what follows the last goes along. @param frames, places rising, as many */
export const timeThrough = (frames: readonly number[], places: readonly number[]): TimeMap => ({
  pieces: frames.slice(1).map((to, k) => straight(frames[k]!, to, places[k]!, places[k + 1]!)),
});

/** A range at another place, the time before and after it where it was, or after it going along. */
export function timeMoved(range: FrameRange, place: FrameRange, follows: boolean): TimeMap {
  const { start, end } = range;
  const moved = straight(start, end, place.start, place.end);
  const before = place.start > start + HAIR ? [still(start, start)] : [];
  const after = !follows && place.end < end - HAIR ? [still(end, end)] : [];
  return { pieces: [...before, moved, ...after] };
}

/** All of a range slower or faster about a frame. */
export const timeScaled = ({ start, end }: FrameRange, about: number, factor: number): TimeMap => ({
  pieces: [straight(start, end, about + (start - about) * factor, about + (end - about) * factor)],
});

/** The map of old frames onto new ones along a monotone curve. @param points, rates of the curve; rates are new per old frame */
export const timeBent = (
  points: readonly (readonly [number, number])[],
  rates: readonly number[],
): TimeMap => ({
  pieces: points.slice(1).map(([to, end], k) => ({
    from: points[k]![0],
    to,
    start: points[k]![1],
    end,
    rateFrom: rates[k]!,
    rateTo: rates[k + 1]!,
  })),
});
