/** Retime: other frames of the motion, through pairs of frames, straight between or smooth; muted, all happens when it happened. */
import { z } from 'zod';
import { bisectRight } from '../../base/bisect.ts';
import { finding } from '../../base/finding.ts';
import { LIMITS } from '../../base/limits.ts';
import { rising } from '../../base/frames.ts';
import { factorOf, placeIn } from '../../base/time-pieces.ts';
import { defineFilter } from './filter.ts';
import { crossing, OtherTime } from './other-time.ts';
import type { Source } from './other-time.ts';

const frames = (title: string, description: string) =>
  z
    .array(z.number().min(-LIMITS.frame).max(LIMITS.frame))
    .min(2)
    .max(1000)
    .default([0, 24])
    .meta({ title, unit: 'frames', description });

const settings = z.object({
  at: frames('On the frames', 'Rising; ahead of the first and past the last, time goes on evenly.'),
  shows: frames('It shows', 'As many, rising: which frame of what lies below shows there.'),
  between: z.enum(['straight', 'smooth']).default('straight').meta({
    title: 'Between',
    description: 'Whether its pace changes at once on these frames, or eases over.',
  }),
});
type Settings = z.output<typeof settings>;

/** The pairs in one order, or null where they say nothing. */
const isTime = ({ at, shows }: Settings): boolean =>
  at.length === shows.length &&
  at.every((frame, k) => k === 0 || frame > at[k - 1]!) &&
  shows.every((frame, k) => k === 0 || frame >= shows[k - 1]!);

/** Paces at the pairs that never overshoot (Fritsch & Butland, 1984). */
function pacesOf(at: readonly number[], shows: readonly number[]): number[] {
  const steps = at.slice(1).map((to, k) => (shows[k + 1]! - shows[k]!) / (to - at[k]!));
  return at.map((_, k) => {
    const [before, after] = [steps[k - 1], steps[k]];
    // Beyond the ends time runs evenly.
    const [a, b] = [before ?? 1, after ?? 1];
    return a > 0 && b > 0 ? (2 * a * b) / (a + b) : 0;
  });
}

function sourceOf(given: Settings): Source {
  const { at, shows, between } = given;
  if (!isTime(given)) return { at: (frame) => frame, jumps: (range, below) => below.jumps(range) };
  const paces = between === 'smooth' ? pacesOf(at, shows) : [];
  const last = at.length - 1;
  const shownAt = (frame: number): number => {
    if (frame <= at[0]!) return frame + shows[0]! - at[0]!;
    if (frame >= at[last]!) return frame + shows[last]! - at[last]!;
    const k = bisectRight(at, frame) - 1;
    const length = at[k + 1]! - at[k]!;
    const u = (frame - at[k]!) / length;
    const rise = shows[k + 1]! - shows[k]!;
    if (between === 'straight') return shows[k]! + u * rise;
    const [d0, d1] = [paces[k]! * length, paces[k + 1]! * length];
    return shows[k]! + u * (d0 + u * (3 * rise - 2 * d0 - d1 + u * (d0 + d1 - 2 * rise)));
  };
  return {
    at: shownAt,
    jumps: ({ start, end }, below) => {
      const [from, to] = [shownAt(start), shownAt(end)];
      return rising(
        below.jumps({ start: from, end: to }).map((jump) => {
          if (jump <= from) return start;
          return jump >= to ? end : crossing(shownAt, jump, start, end);
        }),
      );
    },
  };
}

export const retime = defineFilter({
  kind: 'retime',
  title: 'Retime',
  summary: 'Shows other frames of the motion, through pairs of frames, straight or smooth between.',
  words: 'time warp remap speed ramp slow motion later earlier delay',
  settings,
  movesTime: true,
  flip: 'asIs',
  problem: (given) => (isTime(given) ? null : finding('pairsOfTime', {})),
  time: {
    is: 'inPiece',
    split: 'every',
    looksAround: true,
    inPiece(given, piece) {
      if (factorOf(piece) === 0)
        return { ...given, at: [piece.from, piece.to], shows: [piece.from, piece.to] };
      const carried = (all: readonly number[]) => {
        const places = all.map((frame) => placeIn(piece, frame));
        return factorOf(piece) < 0 ? places.reverse() : places;
      };
      return { ...given, at: carried(given.at), shows: carried(given.shows) };
    },
  },
  inputs: ({ at, shows, between }) => [String(at), String(shows), between],
  filtered: (given, below) => new OtherTime(below, sourceOf(given)),
  source: sourceOf,
});
