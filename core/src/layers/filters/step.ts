/** Step: each drawing holds, on twos, threes, a pattern, or until another control has its next key. */
import { z } from 'zod';
import { bisectRight } from '../../base/bisect.ts';
import { rising } from '../../base/frames.ts';
import { beginsIn, heldFrame } from '../../base/pattern.ts';
import { finding } from '../../base/finding.ts';
import type { Context, NodeCurves } from '../layer.ts';
import { defineFilter } from './filter.ts';
import type { Place } from './filter.ts';
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
  like: z.string().nullable().default(null).meta({
    title: 'On the keys of',
    control: true,
    description: 'A drawing for each key of that control, in place of the pattern.',
  }),
});
type Settings = z.output<typeof settings>;

/** A key so near is on the frame. */
const NEAR = 1e-6;

const keyFrames = new WeakMap<NodeCurves, readonly number[]>();

/** The frames on which any channel of a control has a key, rising. */
function keyFramesOf(like: string, { rig, base }: Context): readonly number[] {
  const row = base[rig.indexOf(like)];
  if (!row) return [];
  let known = keyFrames.get(row);
  if (!known) {
    known = [...new Set(Object.values(row).flatMap(({ times }) => [...times]))].sort((a, b) => a - b);
    keyFrames.set(row, known);
  }
  return known;
}

function sourceOf(given: Settings, { over }: Pick<Place, 'over'>, context: Context): Source {
  if (given.like === null) {
    const first = given.first ?? over.start;
    return {
      at: (frame) => heldFrame(given.pattern, first, frame),
      jumps: (range) => beginsIn(given.pattern, first, range),
    };
  }
  const frames = keyFramesOf(given.like, context);
  return {
    at: (frame) => frames[bisectRight(frames, frame + NEAR) - 1] ?? frame,
    // Ahead of the first key of the other control time runs on.
    jumps: ({ start, end }, below) =>
      rising(
        frames.filter((frame) => frame >= start && frame <= end),
        start < frames[0]! ? below.jumps({ start, end: Math.min(end, frames[0]!) }) : [],
      ),
  };
}

export const step = defineFilter({
  kind: 'step',
  title: 'Step',
  summary: 'Holds each drawing for some frames: on twos, on threes, in a pattern.',
  words: 'on twos threes fours hold limited stepped pose',
  settings,
  problem: ({ like }, context) =>
    like === null || keyFramesOf(like, context).length > 0
      ? null
      : finding(context.rig.indexOf(like) < 0 ? 'unknownNode' : 'noKeysToFollow', {}, like),
  inputs: ({ pattern, first, like }, { over }, { rig, base }) =>
    like === null ? [pattern.join(' '), first ?? over.start] : [base[rig.indexOf(like)]],
  filtered: (given, below, place, context) => new OtherTime(below, sourceOf(given, place, context)),
  source: sourceOf,
  retime: (given, time) => (given.first === null ? given : { ...given, first: time.at(given.first, 1) }),
});
