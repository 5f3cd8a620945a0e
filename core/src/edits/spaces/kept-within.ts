/**
 * Keeping a motion as nearly as was asked: it is measured on everything that hangs on what was written, and where that strays more keys are made, until it holds or more
 * keys do not help. What is not held then is said.
 */
import type { FrameRange } from '../../base/frame-range.ts';
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import type { Work } from '../../base/work.ts';
import type { Seat } from '../../rig/relations/relation.ts';
import type { Shot } from '../../document/shot.ts';
import type { Measure } from '../edit.ts';
import { isWithin, motionMeasures, notKept, sameMotion } from '../shared/same-motion.ts';
import type { SameMotion } from '../shared/same-motion.ts';
import { keepMotion } from './keep-motion.ts';
import type { Kept, KeepWishes, Rewrite } from './keep-motion.ts';

/** So often it is tried again, each time with so much less. */
const MOST_ROUNDS = 3;
/** Frames times nodes: more is written once, and what is not kept is said, since the hand waits for it. */
const MOST_AGAIN = 5000;
const LESS = 0.4;

export interface KeptWithin extends Kept {
  readonly measures: readonly Measure[];
}

/** @param watched the nodes whose motion is promised, with all that hangs on them */
export function* keptWithin(
  before: Shot,
  after: Shot,
  rewrites: readonly Rewrite[],
  wishes: KeepWishes,
  watched: readonly string[],
  wanted?: (node: string, frame: number) => Seat | null,
): Work<KeptWithin, Shot> {
  const promised = { mm: wishes.distance * 10, degrees: wishes.angle };
  const ranges = joinedRanges(rewrites);
  const frames = rewrites.reduce((sum, { range }) => sum + range.end - range.start, 0);
  const tightens =
    frames <= MOST_AGAIN && rewrites.some(({ keys }) => keys === 'existing' || keys === 'needed');
  let best: { readonly kept: Kept; readonly found: SameMotion } | null = null;
  let [distance, angle] = [wishes.distance, wishes.angle];
  for (let round = 0; round <= MOST_ROUNDS; round += 1) {
    const kept: Kept = yield* keepMotion(before, after, rewrites, { distance, angle }, wanted);
    const found = sameMotion(before, kept.shot, watched, ranges);
    const better = best === null || strayOf(found, promised) < 0.9 * strayOf(best.found, promised);
    if (better) best = { kept, found };
    // Where more keys do not bring it nearer, they are not what is missing.
    if (!better || !tightens || isWithin(found, promised)) break;
    distance *= LESS;
    angle *= LESS;
  }
  const { kept, found } = best!;
  return {
    ...kept,
    findings: [
      ...kept.findings,
      ...(rewrites.some(({ keys }) => keys === 'hold') ? [] : notKept(found, promised)),
    ],
    measures: motionMeasures(found),
  };
}

/** How many times more than was asked. */
const strayOf = (
  { onFrames, between }: SameMotion,
  { mm, degrees }: { mm: number; degrees: number },
): number =>
  Math.max(
    ...[onFrames, between].flatMap(({ place, turn }) => [(place.amount * 10) / mm, turn.amount / degrees]),
  );

/** The frames of all of them, each once. */
function joinedRanges(rewrites: readonly Rewrite[]): FrameRange[] {
  const result: { start: number; end: number }[] = [];
  for (const { range } of [...rewrites].sort((a, b) => a.range.start - b.range.start)) {
    const last = result[result.length - 1];
    if (last && range.start <= last.end) last.end = Math.max(last.end, range.end);
    else result.push({ ...range });
  }
  return result;
}

/** Less than this is not said of the frame ahead of a switch: mm. */
const SAID = 1;

/** What lies between the frame ahead of a rewritten stretch and its first: a hold, since nothing between two spaces means anything. */
export function heldAhead(before: Shot, after: Shot, node: string, starts: readonly number[]): Finding[] {
  return starts.flatMap((start) => {
    if (start <= before.range.start) return [];
    const { place } = sameMotion(before, after, [node], [{ start: start - 1, end: start }]).between;
    return place.amount * 10 > SAID
      ? [finding('heldAhead', { node, frame: start }, node, start, place.amount * 10)]
      : [];
  });
}
