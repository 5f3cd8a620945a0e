/**
 * Keeping a motion as nearly as was asked: it is measured on everything that hangs on what was written, and where that strays more keys are made, until it holds or more
 * keys do not help. What is not held then is said.
 */
import type { FrameRange } from '../../base/frame-range.ts';
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import type { Work } from '../../base/work.ts';
import { movedBy } from '../../rig/influence.ts';
import type { Standing } from '../../rig/relations/seat.ts';
import { curveOf, rigOf } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import type { Measure } from '../edit.ts';
import { UNASKED, around, motionMeasures, notKept, sameMotion } from '../shared/same-motion.ts';
import type { SameMotion } from '../shared/same-motion.ts';
import { keepMotion } from './keep-motion.ts';
import type { KeptMotion, KeepWishes, Rewrite } from './keep-motion.ts';

/** So often it is tried again, each time with so much less. */
const MOST_ROUNDS = 3;
/** Frames times nodes that are written again at most in a round: of more, what is not kept is said, since the hand waits for it. */
const MOST_AGAIN = 20_000;
const LESS = 0.4;

export interface KeptWithin extends KeptMotion {
  readonly measures: readonly Measure[];
}

/**
 * @param watched the nodes whose motion is promised, with all that hangs on them
 * @param begin the parts of what is asked with which channels are fitted first, where the promise is about others than those that are written
 */
export function* keptWithin(
  before: Shot,
  after: Shot,
  rewrites: readonly Rewrite[],
  wishes: KeepWishes,
  watched: readonly string[],
  wanted?: (node: string, frame: number) => Standing | null,
  begin: KeepWishes = { distance: 1, angle: 1 },
): Work<KeptWithin, Shot> {
  const promised = { mm: wishes.distance * 10, degrees: wishes.angle };
  const ranges = joinedRanges(rewrites);
  const tightens = rewrites.filter(({ keys }) => keys === 'existing' || keys === 'needed');
  const measured = (shot: Shot, over: readonly FrameRange[]) =>
    sameMotion(before, shot, watched, over, undefined, promised);
  let [distance, angle] = [wishes.distance * begin.distance, wishes.angle * begin.angle];
  let kept = yield* keepMotion(before, after, rewrites, { distance, angle }, wanted);
  let found = measured(kept.shot, ranges);
  const rig = rigOf(after);
  let refinedOnce = false;
  for (let round = 0; round < MOST_ROUNDS && found.strays.length > 0; round += 1) {
    distance *= LESS;
    angle *= LESS;
    // Again only where it strays, and only what moves that: what holds keeps the keys that it has.
    const again = tightens.flatMap((one) => {
      const moved = movedBy(rig, [rig.indexOf(one.node)]);
      return around(found.strays.filter(({ row }) => moved[row] === 1)).flatMap((range) =>
        within(one, range),
      );
    });
    const frames = again.reduce((sum, { range }) => sum + range.end - range.start, 0);
    if (again.length === 0 || frames > MOST_AGAIN) break;
    const next: KeptMotion = yield* keepMotion(before, kept.shot, again, { distance, angle }, wanted);
    const closer = measured(next.shot, joinedRanges(again));
    // Where more keys do not bring it nearer, they are not what is missing.
    if (
      closer.strays.length > 0.9 * found.strays.length &&
      strayOf(closer, promised) > 0.9 * strayOf(found, promised)
    )
      break;
    const touched = new Set([...kept.touched, ...next.touched]);
    kept = {
      shot: next.shot,
      touched: [...touched],
      keys: keysOn(next.shot, touched),
      findings: joinedFindings(kept.findings, next.findings),
    };
    found = closer;
    refinedOnce = true;
  }
  if (refinedOnce) found = measured(kept.shot, ranges);
  return {
    ...kept,
    findings: [
      ...kept.findings,
      ...(rewrites.some(({ keys }) => keys === 'hold') ? [] : notKept(found, promised)),
    ],
    measures: motionMeasures(found),
  };
}

/** What of a rewrite lies in a range; none where nothing does. */
function within(rewrite: Rewrite, { start, end }: FrameRange): Rewrite[] {
  const range = { start: Math.max(start, rewrite.range.start), end: Math.min(end, rewrite.range.end) };
  return range.end > range.start ? [{ ...rewrite, range, refines: true }] : [];
}

const keysOn = (shot: Shot, channels: Iterable<ChannelId>): number =>
  [...channels].reduce((sum, id) => sum + curveOf(shot, null, id).times.length, 0);

/** Of each sentence one. */
const joinedFindings = (...lists: readonly (readonly Finding[])[]): Finding[] => [
  ...new Map(lists.flat().map((one) => [one.sentence, one])).values(),
];

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

/** What lies between the frame ahead of a rewritten stretch and its first: a hold, since nothing between two spaces means anything. */
export function heldAhead(before: Shot, after: Shot, node: string, starts: readonly number[]): Finding[] {
  return starts.flatMap((start) => {
    if (start <= before.range.start) return [];
    const { place, turn } = sameMotion(before, after, [node], [{ start: start - 1, end: start }]).between;
    return place.amount * 10 > UNASKED.mm || turn.amount > UNASKED.degrees
      ? [finding('heldAhead', { node, frame: start }, node, start, place.amount * 10, turn.amount)]
      : [];
  });
}
