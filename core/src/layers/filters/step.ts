/** Step: each drawing holds, on twos, threes, a pattern, or until another control has its next key. */
import { z } from 'zod';
import { bisectRight } from '../../base/bisect.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { onFrame, rising } from '../../base/frames.ts';
import { beginsIn, heldFrame } from '../../base/pattern.ts';
import { finding } from '../../base/finding.ts';
import { timesWithRepeats } from '../../curve/repeated-times.ts';
import { factorOf, placeIn } from '../../base/time-pieces.ts';
import type { PieceOfTime } from '../../base/time-pieces.ts';
import type { Context, Drawings, NodeCurves } from '../layer.ts';
import { defineFilter } from './filter.ts';
import type { FilterSite } from './filter.ts';
import { OtherTime } from './other-time.ts';
import type { Source } from './other-time.ts';

const settings = z.object({
  pattern: z.array(z.number().int().min(1).max(1000)).min(1).max(100).default([2]).meta({
    title: 'Frames for each drawing',
    sequence: true,
    description: '2 is on twos; 2 3 holds two, then three, and so on.',
  }),
  first: z.number().min(-1e6).max(1e6).nullable().default(null).meta({
    title: 'From frame',
    unit: 'frame',
    step: 1,
    description: 'A frame on which a drawing begins; left empty, where the filter begins.',
  }),
  shows: z
    .enum(['first', 'last'])
    .default('first')
    .meta({
      title: 'A drawing shows',
      labels: { first: 'its first frame', last: 'its last frame' },
      description: 'Of the frames that it lasts; turned round, the one becomes the other.',
    }),
  like: z.string().nullable().default(null).meta({
    title: 'On the keys of',
    control: true,
    empty: 'the pattern',
    description: 'A drawing for each key of that control, in place of the pattern.',
  }),
});
type Settings = z.output<typeof settings>;

/** A key so near is on the frame. */
const NEAR = 1e-6;

/** By the curves of the base, for the layers and the frames with which they were asked. */
const keyFrames = new WeakMap<
  NodeCurves,
  { readonly with: readonly unknown[]; readonly frames: readonly number[] }
>();
const BARE: NodeCurves = {};

/** The frames on which any channel of a control has a key, on the base or a pass, repeats too; rising. */
function keyFramesOf(like: string, { rig, base, layers, range }: Context): readonly number[] {
  const row = rig.indexOf(like);
  const over = layers.flatMap(({ curves }) => (curves[row] ? [curves[row]] : []));
  const own = base[row] ?? (over.length > 0 ? over[0]! : BARE);
  const asked = [row, range.start, range.end, ...over];
  const known = keyFrames.get(own);
  if (known && known.with.length === asked.length && known.with.every((one, i) => one === asked[i]))
    return known.frames;
  const curves = [...(base[row] ? [base[row]] : []), ...over].flatMap((one) => Object.values(one));
  const frames = rising(...curves.map((curve) => timesWithRepeats(curve, range)));
  keyFrames.set(own, { with: asked, frames });
  return frames;
}

function drawingsOf(given: Settings, { over }: Pick<FilterSite, 'over'>, context: Context): Drawings {
  if (given.like === null) {
    const first = given.first ?? over.start;
    return {
      at: (frame) => drawnFrame(given, first, frame),
      begins: (range) => beginsIn(given.pattern, first, range),
    };
  }
  const frames = keyFramesOf(given.like, context);
  return {
    at: (frame) => frames[bisectRight(frames, frame + NEAR) - 1] ?? frame,
    begins: ({ start, end }) => frames.filter((frame) => frame >= start && frame <= end),
  };
}

function sourceOf(given: Settings, place: Pick<FilterSite, 'over'>, context: Context): Source {
  const { at, begins } = drawingsOf(given, place, context);
  // Ahead of the first key of the other control time runs on.
  const runsOn = given.like === null ? -Infinity : (keyFramesOf(given.like, context)[0] ?? -Infinity);
  return {
    at,
    jumps: ({ start, end }, below) =>
      rising(
        begins({ start, end }),
        start < runsOn ? below.jumps({ start, end: Math.min(end, runsOn) }) : [],
      ),
  };
}

/** The frame that shows of the drawing at a frame. */
function drawnFrame({ pattern, shows }: Settings, first: number, frame: number): number {
  const begin = heldFrame(pattern, first, frame);
  if (shows === 'first') return begin;
  return beginsIn(pattern, first, { start: begin + 0.5, end: begin + 1000 })[0]! - 1;
}

/** The drawings where a piece of time shows them; null where they would not last whole frames. */
function inPiece(given: Settings, piece: PieceOfTime, over: FrameRange): Settings | null {
  // Whose keys it follows has them carried along.
  if (given.like !== null) return given;
  const first = given.first ?? over.start;
  const factor = factorOf(piece);
  if (factor === 0) {
    const drawn = heldFrame(given.pattern, first, piece.old.from);
    // One drawing that lasts through the hold, begun where its first frame stands, or ended where its last one does.
    return { ...given, pattern: [1000], first: onFrame(piece.from + Math.min(drawn - piece.old.from, 0)) };
  }
  const pattern = given.pattern.map((frames) => onFrame(frames * Math.abs(factor)));
  if (!pattern.every((frames) => Number.isInteger(frames) && frames >= 1 && frames <= 1000)) return null;
  if (factor > 0) return { ...given, pattern, first: placeIn(piece, first) };
  const [one, ...rest] = pattern;
  return {
    ...given,
    pattern: [one!, ...rest.reverse()],
    first: placeIn(piece, first) - one! + 1,
    shows: given.shows === 'first' ? 'last' : 'first',
  };
}

export const step = defineFilter({
  kind: 'step',
  title: 'Step',
  summary: 'Holds each drawing for some frames: on twos, on threes, in a pattern.',
  words: 'on twos threes fours hold limited stepped pose',
  settings,
  flip: (given, partnerOf) => (given.like === null ? given : { ...given, like: partnerOf(given.like) }),
  time: { is: 'inPiece', split: 'every', looksAround: false, inPiece },
  problem: ({ like }, context) =>
    like === null || keyFramesOf(like, context).length > 0
      ? null
      : finding(context.rig.indexOf(like) < 0 ? 'unknownNode' : 'noKeysToFollow', {}, like),
  inputs: ({ pattern, first, like, shows }, { over }, context) =>
    like === null ? [pattern.join(' '), shows, first ?? over.start] : [keyFramesOf(like, context)],
  filtered: (given, below, place, context) => new OtherTime(below, sourceOf(given, place, context)),
  source: sourceOf,
  drawings: drawingsOf,
});
