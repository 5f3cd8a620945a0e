/**
 * A layer taken through a change of time. Its keys are carried as all curves are; this is about the rest: its range and ramps, its weight, and what its kind
 * says of its settings. A filter that runs otherwise from one piece of time to the next (backward, slower) is one filter for each of them afterwards.
 */
import { isKeyedWeight } from './weight.ts';
import { factorOf, imagesOf, pieceAt, shownIn } from '../base/time-pieces.ts';
import type { Image, PieceOfTime, TimePieces } from '../base/time-pieces.ts';
import type { FrameRange } from '../base/frame-range.ts';
import { rising } from '../base/frames.ts';
import type { Curve } from '../curve/curve.ts';
import { curveAlong } from '../curve/curve-through.ts';
import { evaluate } from '../curve/evaluate.ts';
import { jumpsOfCurve } from '../curve/jumps.ts';
import { kindOf } from './kinds.ts';
import type { Layer, LayerRange } from './layer.ts';
import { envelopeAt } from './weight.ts';

/** Two copies of one filter never count on the same frame. */
const APART = 1e-6;
/** A filter becomes so many at most. */
const MOST_COPIES = 4;
/** A weight that takes a ramp in keeps to it within this. */
const NEAR_ENOUGH = 1e-7;
const same = (a: number, b: number) => Math.abs(a - b) < 1e-6;

interface Taken {
  readonly settings: Layer['settings'];
  readonly range: LayerRange | null;
  /** For its own weight, and for those that variants keep. */
  readonly weight: (weight: Curve) => Curve;
}

export interface TakenLayer {
  readonly taken: readonly Taken[];
  /** Whether its settings cannot be what they would have to be. */
  readonly stays: boolean;
  /** Whether it looks at other times, and those lie elsewhere now. */
  readonly looksAcross: boolean;
}

/** New frames that belong together for a layer. */
interface Stretch {
  readonly start: number;
  readonly end: number;
  readonly piece: PieceOfTime;
  readonly images: readonly Image[];
}

/** @param over the frames of the shot, before @param carry how a curve that has keys is carried */
export function layerThroughTime(
  layer: Layer,
  pieces: TimePieces,
  over: FrameRange,
  carry: (weight: Curve) => Curve,
): TakenLayer {
  const time = kindOf(layer)?.time ?? { is: 'asKeyed' };
  const lives = layer.range ?? over;
  const images = imagesOf(pieces, lives);
  const carried = (weight: Curve) => (isKeyedWeight(weight) ? carry(weight) : weight);
  // All of its time was taken out: it stays next to nothing long.
  if (images.length === 0) {
    const at =
      rising(pieces.flatMap(({ from, old }) => (old.from >= lives.start ? [from] : [])))[0] ?? lives.start;
    const range = layer.range && { start: at, end: at + 1, rampIn: 0, rampOut: 0 };
    return {
      taken: [{ settings: layer.settings, range, weight: carried }],
      stays: false,
      looksAcross: false,
    };
  }
  if (time.is !== 'inPiece') {
    const settings = time.is === 'through' ? time.through(layer.settings, pieces) : layer.settings;
    const whole: Stretch = {
      start: images[0]!.start,
      end: images[images.length - 1]!.end,
      piece: images[0]!.piece,
      images,
    };
    return {
      taken: [{ settings, ...placed(layer, whole, pieces, carried) }],
      stays: false,
      looksAcross: false,
    };
  }
  const apiece = stretchesOf(images, time.split);
  // Time that bends would need a copy for each frame: it stays one, and that is said.
  let stays = apiece.length > MOST_COPIES;
  const stretches = stays ? stretchesOf(images, 'never') : apiece;
  const taken = stretches.map((stretch, i): Taken => {
    const settings = time.inPiece(layer.settings, stretch.piece, lives);
    if (settings === null) stays = true;
    const where = placed(layer, stretch, pieces, carried);
    const range = layer.range || stretches.length > 1 ? (where.range ?? rangeOf(stretch)) : null;
    return {
      settings: settings ?? layer.settings,
      range: range && apart(range, stretches, i),
      weight: where.weight,
    };
  });
  const turned = images.filter(({ piece }) => !same(factorOf(piece), 1) || images.length > 1);
  return { taken, stays, looksAcross: time.looksAround && turned.length > 0 };
}

const rangeOf = ({ start, end }: Stretch): LayerRange => ({ start, end, rampIn: 0, rampOut: 0 });

/** Images that one layer can cover: those that follow each other, and run alike. */
function stretchesOf(images: readonly Image[], split: 'every' | 'pace' | 'never'): Stretch[] {
  const stretches: Stretch[] = [];
  for (const image of images) {
    const last = stretches[stretches.length - 1];
    const [was, is] = [last && factorOf(last.piece), factorOf(image.piece)];
    const alike = split === 'never' || (split === 'pace' && (was === 0 || is === 0 || same(was ?? 0, is)));
    if (last && alike && (split === 'never' || same(last.end, image.start)))
      stretches[stretches.length - 1] = {
        start: last.start,
        end: image.end,
        piece: was === 0 ? image.piece : last.piece,
        images: [...last.images, image],
      };
    else stretches.push({ start: image.start, end: image.end, piece: image.piece, images: [image] });
  }
  return stretches;
}

/** A copy gives way to its neighbour on the frame where they meet, unless it runs backward, which keeps both its ends. */
function apart(range: LayerRange, stretches: readonly Stretch[], i: number): LayerRange {
  const [before, own, after] = [stretches[i - 1], stretches[i]!, stretches[i + 1]];
  const backward = ({ piece }: Stretch) => factorOf(piece) < 0;
  const late = before && same(before.end, range.start) && backward(before) && !backward(own);
  const early = after && same(after.start, range.end) && !backward(own);
  return {
    ...range,
    start: range.start + (late ? APART : 0),
    end: range.end - (early ? APART : 0),
  };
}

/** Where a layer counts, and how much: its ramps as they were where they can be said so, else as keys of its weight. */
function placed(
  { range }: Pick<Layer, 'range'>,
  stretch: Stretch,
  pieces: TimePieces,
  carried: (weight: Curve) => Curve,
): Pick<Taken, 'range' | 'weight'> {
  if (range === null) return { range: null, weight: carried };
  const { start, end, images } = stretch;
  const gaps = images.some((image, i) => i > 0 && !same(images[i - 1]!.end, image.start));
  const [rampIn, rampOut] = [
    rampAt(range, images[0]!, 'start'),
    rampAt(range, images[images.length - 1]!, 'end'),
  ];
  // Between the images nothing may come in or go out: a range has one way in and one out.
  const flows = images.every(
    (image, i) =>
      (i === 0 || rampAt(range, image, 'start') === 0) &&
      (i === images.length - 1 || rampAt(range, image, 'end') === 0),
  );
  if (rampIn !== null && rampOut !== null && flows) {
    const whole = { start, end, rampIn, rampOut };
    return { range: whole, weight: gaps ? (was) => gated(carried(was), images) : carried };
  }
  // The ends of each image are jumps where nothing ramps.
  const edges = rising(images.flatMap((image) => [image.start, image.end]));
  const weight = (was: Curve): Curve => {
    const at = (frame: number) => {
      const piece = pieceAt(pieces, frame);
      if (!images.some((image) => frame >= image.start - 1e-9 && frame <= image.end + 1e-9)) return 0;
      const old = shownIn(piece, frame);
      return envelopeAt(range, old) * evaluate(was, old);
    };
    const jumps = (within: FrameRange) =>
      rising(
        edges.filter((frame) => frame >= within.start && frame <= within.end),
        images.flatMap((image) => jumpsIn(was, image)),
      );
    const bends = [range.start + range.rampIn, range.end - range.rampOut, ...was.times];
    const places = rising(
      edges,
      images.flatMap((image) => bends.flatMap((old) => placesIn(image, old))),
    ).filter((frame) => frame >= start && frame <= end);
    return curveAlong({ at, jumps }, places, NEAR_ENOUGH);
  };
  return { range: { start, end, rampIn: 0, rampOut: 0 }, weight };
}

/** A weight that is nothing between the images: it holds for the one frame beside an end, so that whole frames are exact. */
function gated(weight: Curve, images: readonly Image[]): Curve {
  const inside = (frame: number) =>
    images.some(({ start, end }) => frame >= start - 1e-9 && frame <= end + 1e-9);
  const edges = rising(images.flatMap(({ start, end }) => [start, end]));
  const [first, last] = [edges[0]!, edges[edges.length - 1]!];
  const shown = {
    at: (frame: number) => (inside(frame) || frame < first || frame > last ? evaluate(weight, frame) : 0),
    jumps: (range: FrameRange) =>
      rising(
        edges.filter((frame) => frame >= range.start && frame <= range.end),
        jumpsOfCurve(weight, range),
      ),
  };
  const keyed = Array.from(weight.times).filter((time) => time > first && time < last && inside(time));
  return curveAlong(shown, rising(edges, keyed), NEAR_ENOUGH);
}

const placesIn = ({ piece, start, end }: Image, old: number): number[] => {
  const { old: shown } = piece;
  if (shown.from === shown.to) return [];
  const at = piece.from + ((old - shown.from) * (piece.to - piece.from)) / (shown.to - shown.from);
  return at > start && at < end ? [at] : [];
};

const jumpsIn = (was: Curve, image: Image): number[] =>
  jumpsOfCurve(was, oldRange(image)).flatMap((old) => placesIn(image, old));

function oldRange({ piece, start, end }: Image): FrameRange {
  const ends = [shownIn(piece, start), shownIn(piece, end)];
  return { start: Math.min(...ends), end: Math.max(...ends) };
}

/** The length of the ramp at an end of a stretch; 0 where it is cut off at full weight; null where it is no whole ramp. */
function rampAt(range: LayerRange, image: Image, side: 'start' | 'end'): number | null {
  const factor = factorOf(image.piece);
  const old = shownIn(image.piece, image[side]);
  if (factor === 0) return same(envelopeAt(range, old), 1) ? 0 : null;
  const pace = Math.abs(factor);
  // Turned round, the way out is the way in.
  const comesIn = (side === 'start') === factor > 0;
  const [edge, ramp] = comesIn ? [range.start, range.rampIn] : [range.end, range.rampOut];
  if (!same(old, edge)) return same(envelopeAt(range, old), 1) ? 0 : null;
  return image.end - image.start >= ramp * pace - 1e-6 ? ramp * pace : null;
}
