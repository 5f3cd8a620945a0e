/**
 * What becomes of time as a list of pieces: from the first new frame to the last, each says which old frames it shows. A map that only rises
 * (`time-map.ts`) cannot say *reverse*, *loop*, *append* or *hold*; this can. Pieces follow each other without a gap, and the outer ones reach as far
 * as frames do.
 *
 *   {from: 10, to: 20, old: {from: 5, to: 15}}   shows frames 5 to 15, as fast as they were
 *   {from: 10, to: 20, old: {from: 15, to: 5}}   backward
 *   {from: 10, to: 20, old: {from: 5, to: 5}}    holds frame 5
 */
import { onFrame, rising } from './frames.ts';
import type { FrameRange } from './frame-range.ts';
import { timeReader } from './time-map.ts';
import type { TimeMap } from './time-map.ts';

export interface PieceOfTime {
  readonly from: number;
  readonly to: number;
  readonly old: { readonly from: number; readonly to: number };
}

/** Rising, each beginning where the one before ends. */
export type TimePieces = readonly PieceOfTime[];

/** Beyond any frame that can be: outer pieces reach so far. */
const FAR = 1e7;
const HAIR = 1e-6;

/** New frames for each old one; below 0 it runs backward, 0 is a hold. */
export const factorOf = ({ from, to, old }: PieceOfTime): number =>
  old.to === old.from ? 0 : (to - from) / (old.to - old.from);

/** How long a ramp of so many frames is in a piece; a hold leaves it. */
export const rampIn = (piece: PieceOfTime, frames: number): number =>
  frames * (Math.abs(factorOf(piece)) || 1);

/** The piece in which a new frame lies. Where two meet it is the later one's, but a piece that runs backward keeps both its ends. */
export function pieceAt(pieces: TimePieces, frame: number): PieceOfTime {
  const found = pieces.findIndex(({ to }) => frame < to - 1e-9);
  const at = found < 0 ? pieces.length - 1 : found;
  const before = pieces[at - 1];
  const ends = before !== undefined && factorOf(before) < 0 && Math.abs(frame - before.to) <= 1e-9;
  return ends ? before : pieces[at]!;
}

/** The old frame that a piece shows at a new one. */
export function shownIn({ from, to, old }: PieceOfTime, frame: number): number {
  if (old.from === old.to || to === from) return old.from;
  // As far as it is near to one of the ends, so that outer pieces lose nothing to their size.
  const factor = (old.to - old.from) / (to - from);
  return onFrame(
    Math.abs(frame - from) <= Math.abs(frame - to)
      ? old.from + (frame - from) * factor
      : old.to + (frame - to) * factor,
  );
}

/** The old frame that shows at a new one. */
export const oldFrame = (pieces: TimePieces, frame: number): number => shownIn(pieceAt(pieces, frame), frame);

/** Where a piece shows an old frame, which must lie in it; of a hold, where it begins. */
export function placeIn({ from, to, old }: PieceOfTime, frame: number): number {
  if (old.from === old.to) return from;
  const factor = (to - from) / (old.to - old.from);
  return onFrame(
    Math.abs(frame - old.from) <= Math.abs(frame - old.to)
      ? from + (frame - old.from) * factor
      : to + (frame - old.to) * factor,
  );
}

/** Whether a piece shows an old frame. */
export const shows = ({ old }: PieceOfTime, frame: number): boolean =>
  frame >= Math.min(old.from, old.to) - HAIR && frame <= Math.max(old.from, old.to) + HAIR;

/** Every new frame at which an old one shows, rising: at both ends of a hold. */
export const placesOf = (pieces: TimePieces, frame: number): number[] =>
  rising(
    pieces.flatMap((piece) =>
      !shows(piece, frame)
        ? []
        : piece.old.from === piece.old.to
          ? [piece.from, piece.to]
          : [placeIn(piece, frame)],
    ),
  );

/** Some old frames as a piece shows them. */
export interface Image {
  readonly piece: PieceOfTime;
  readonly start: number;
  readonly end: number;
}

/** Where old frames from `start` to `end` show, piece by piece; pieces that show but an end of them are left out. */
export function imagesOf(pieces: TimePieces, { start, end }: FrameRange): Image[] {
  return pieces.flatMap((piece): Image[] => {
    const { old } = piece;
    if (old.from === old.to)
      return old.from >= start - HAIR && old.from <= end + HAIR
        ? [{ piece, start: piece.from, end: piece.to }]
        : [];
    const low = Math.max(start, Math.min(old.from, old.to));
    const high = Math.min(end, Math.max(old.from, old.to));
    if (high - low < HAIR && end - start >= HAIR) return [];
    if (high < low - HAIR) return [];
    const places = [placeIn(piece, low), placeIn(piece, high)];
    return [{ piece, start: Math.min(...places), end: Math.max(...places) }];
  });
}

/** The same with what follows on without a gap in one: where a span of old frames shows. The piece is the first of each. */
export function spansIn(pieces: TimePieces, range: FrameRange): Image[] {
  const spans: Image[] = [];
  for (const image of imagesOf(pieces, range)) {
    const last = spans.at(-1);
    if (last && image.start <= last.end + HAIR)
      spans[spans.length - 1] = { ...last, end: Math.max(last.end, image.end) };
    else spans.push(image);
  }
  return spans;
}

/** The new frame nearest to where an old one was, whether it still shows or not. */
export function nearestPlace(pieces: TimePieces, frame: number): number {
  const ways = pieces.map((piece) => {
    const [low, high] = [Math.min(piece.old.from, piece.old.to), Math.max(piece.old.from, piece.old.to)];
    const shown = Math.min(Math.max(frame, low), high);
    return { away: Math.abs(shown - frame), at: placeIn(piece, shown) };
  });
  return ways.reduce((best, way) => (way.away < best.away ? way : best)).at;
}

const even = (from: number, to: number, old: number): PieceOfTime => ({
  from,
  to,
  old: { from: old, to: old + to - from },
});

/** Pieces that continue each other made one, and those of no length left out. */
function joined(pieces: readonly PieceOfTime[]): TimePieces {
  const result: PieceOfTime[] = [];
  for (const piece of pieces) {
    if (piece.to - piece.from < HAIR) continue;
    const last = result[result.length - 1];
    const goesOn =
      last !== undefined &&
      Math.abs(last.old.to - piece.old.from) < HAIR &&
      Math.abs(factorOf(last) - factorOf(piece)) < 1e-12;
    if (goesOn)
      result[result.length - 1] = {
        from: last.from,
        to: piece.to,
        old: { from: last.old.from, to: piece.old.to },
      };
    else result.push(piece);
  }
  return result;
}

/** A range played backward where it stands. */
export const timeReversed = ({ start, end }: FrameRange): TimePieces => [
  even(-FAR, start, -FAR),
  { from: start, to: end, old: { from: end, to: start } },
  even(end, FAR, end),
];

/** A range and then the way back, over what stood there. */
export const timeThereAndBack = ({ start, end }: FrameRange): TimePieces => [
  even(-FAR, end, -FAR),
  { from: end, to: 2 * end - start, old: { from: end, to: start } },
  even(2 * end - start, FAR, 2 * end - start),
];

/** A range again and again, from where it stands. */
export const timeRepeated = ({ start, end }: FrameRange, times: number): TimePieces =>
  Array.from({ length: times }, (_, k) =>
    even(start + k * (end - start), start + (k + 1) * (end - start), start),
  );

/**
 * The pieces of a map that rises. What bends is cut at whole new frames, between which it runs straight: frames are exact, what lies between them is
 * nearly so.
 */
export function piecesOfMap(map: TimeMap): TimePieces {
  const reader = timeReader(map);
  const { pieces } = map;
  const [first, last] = [pieces[0]!, pieces[pieces.length - 1]!];
  const result: PieceOfTime[] = [
    { from: first.start - FAR, to: first.start, old: { from: first.from - FAR, to: first.from } },
  ];
  pieces.forEach(({ from, to, start, end }, k) => {
    const before = pieces[k - 1];
    // Time put in holds what was there.
    if (before && start - before.end > HAIR)
      result.push({ from: before.end, to: start, old: { from: before.to, to: before.to } });
    if (to - from < HAIR) return;
    const mean = (end - start) / (to - from);
    const bends = [from, (from + to) / 2, to].some(
      (frame, i) => Math.abs(reader.rate(frame, i === 2 ? -1 : 1) - mean) > 1e-9,
    );
    if (!bends) {
      result.push({ from: start, to: end, old: { from, to } });
      return;
    }
    // Old whole frames land where the map takes them, and new ones show what it shows.
    const wholes = (low: number, high: number) =>
      Array.from(
        { length: Math.max(Math.ceil(high) - Math.floor(low) - 1, 0) },
        (_, i) => Math.floor(low) + 1 + i,
      );
    const cuts = [
      ...wholes(from, to).map((old) => ({ old, at: onFrame(reader.at(old, 1)) })),
      ...wholes(start, end).map((at) => ({ old: oldBy(reader.at, at, from, to), at })),
    ].filter(({ at }) => at > start + HAIR && at < end - HAIR);
    const all = [{ old: from, at: start }, ...cuts.sort((x, y) => x.at - y.at), { old: to, at: end }];
    const kept = all.filter((one, i) => i === 0 || one.at - all[i - 1]!.at > HAIR);
    const [frames, olds] = [kept.map(({ at }) => at), kept.map(({ old }) => old)];
    for (let i = 1; i < frames.length; i += 1)
      result.push({ from: frames[i - 1]!, to: frames[i]!, old: { from: olds[i - 1]!, to: olds[i]! } });
  });
  result.push({ from: last.end, to: last.end + FAR, old: { from: last.to, to: last.to + FAR } });
  return joined(result);
}

/** The old frame that comes to lie on a new one, by halving. */
function oldBy(at: (frame: number, side: 1) => number, frame: number, from: number, to: number): number {
  let [low, high] = [from, to];
  for (let i = 0; i < 60 && high - low > 1e-11; i += 1) {
    const middle = (low + high) / 2;
    if (at(middle, 1) <= frame) low = middle;
    else high = middle;
  }
  return onFrame((low + high) / 2);
}

/** What pieces show of what other pieces showed: first one change of time, then another. */
export function afterPieces(first: TimePieces, second: TimePieces): TimePieces {
  const result: PieceOfTime[] = [];
  for (const piece of second) {
    const { old } = piece;
    if (old.from === old.to) {
      const shown = oldFrame(first, old.from);
      result.push({ ...piece, old: { from: shown, to: shown } });
      continue;
    }
    const [low, high] = [Math.min(old.from, old.to), Math.max(old.from, old.to)];
    const parts = first.flatMap((inner) => {
      const [a, b] = [Math.max(low, inner.from), Math.min(high, inner.to)];
      if (b - a < HAIR) return [];
      const ends = [a, b].map((frame) => ({ at: placeIn(piece, frame), shows: shownIn(inner, frame) }));
      const [x, y] = ends[0]!.at <= ends[1]!.at ? ends : [ends[1], ends[0]];
      return [{ from: x!.at, to: y!.at, old: { from: x!.shows, to: y!.shows } }];
    });
    result.push(...parts.sort((a, b) => a.from - b.from));
  }
  return joined(result);
}

/** The same pieces seen from where both old and new frames are later by so much. */
export const piecesLater = (pieces: TimePieces, by: number): TimePieces =>
  pieces.map(({ from, to, old }) => ({
    from: from + by,
    to: to + by,
    old: { from: old.from + by, to: old.to + by },
  }));
