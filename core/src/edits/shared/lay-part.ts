/** Parts of curves, cut out and laid in again: what reversing and flipping a range share. */
import type { FrameRange } from '../../base/frame-range.ts';
import { inRange } from '../../base/frame-range.ts';
import { FLAG, rowAtTime, TANGENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { bakeLeads } from '../../curve/bake-lead.ts';
import { hasLead, repeats } from '../../curve/lead.ts';
import { partOf as shownPart } from '../../curve/part.ts';
import { allRows, buildCurve, rebuild } from '../../curve/rebuild.ts';
import { replacedWithin } from '../../curve/replaced-within.ts';
import { addKeysKeepingShape, freeze } from '../../curve/split.ts';
import { restValue } from '../../rig/node.ts';
import { splitChannel } from '../../document/shot.ts';
import type { ChannelId } from '../../document/shot.ts';
import { layKeys } from './lay-keys.ts';

export interface LaidPart {
  readonly curve: Curve;
  /** Keys that were there and are gone. */
  readonly overwritten: number;
  /** Keys that were in the way and are locked. */
  readonly lockedKeys: number;
  /** Whether repeats became keys. */
  readonly baked: boolean;
}

/**
 * What a range shows; frames from 0.
 * @param ends always: a key on each end, so that it stands on its own, repeats as keys; cut: only the keys, with ends only where the curve goes on beyond
 */
export function partOf(curve: Curve, { start, end }: FrameRange, ends: 'always' | 'cut' = 'always'): Curve {
  if (ends === 'always') return shownPart(curve, { start, end });
  const ended = cutAt(curve, { start, end });
  const rows = allRows(ended).filter((row) => inRange({ start, end }, ended.times[row]!));
  // A key that stands on an end keeps the slopes that it has between its neighbours.
  const [ahead, beyond] = [(rows[0] ?? 0) > 0, (rows.at(-1) ?? Infinity) < ended.times.length - 1];
  const settled = rebuild(ended, null, (columns) => {
    if (ahead) freeze(columns, rows[0]!);
    if (beyond) freeze(columns, rows.at(-1)!);
  });
  return rebuild({ ...settled, leadIn: 'hold', leadOut: 'hold' }, rows, (columns) => {
    for (let i = 0; i < rows.length; i += 1) columns.times[i]! -= start;
  });
}

/** The curve with keys where a range cuts it: on an end that has keys beyond it. What is repeated is not keyed past. */
function cutAt(curve: Curve, { start, end }: FrameRange): Curve {
  const { times } = curve;
  if (times.length === 0) return curve;
  const [first, last] = [times[0]!, times[times.length - 1]!];
  const cuts = hasLead(curve)
    ? [start, end].filter((frame) => frame > first && frame < last)
    : [...(first < start ? [start] : []), ...(last > end ? [end] : [])];
  return cuts.length > 0 ? addKeysKeepingShape(curve, cuts) : curve;
}

/** How a part comes to lie: frames here for each frame of it, and whether its keys are rounded to whole frames. */
interface PartLaying {
  readonly stretch: number;
  readonly wholeFrames: boolean;
}

/**
 * A part in place of the keys of a range; what lies outside stays, and what repeats into it becomes keys first.
 * @param part frames from 0, as long as the range once it is stretched
 * @param shown the frames that are seen
 */
export function replacePart(
  given: Curve,
  part: Curve,
  { start, end }: FrameRange,
  shown: FrameRange,
  { stretch, wholeFrames }: PartLaying = { stretch: 1, wholeFrames: false },
): LaidPart {
  let lockedKeys = 0;
  const cuts = hasLead(given) && (start > shown.start + 1e-6 || end < shown.end - 1e-6);
  const open = cuts ? withoutRepeats(bakeLeads(given, shown.start, Math.max(shown.end, end))) : given;
  // Beyond all keys too, what holds up to the part and after it is to hold.
  const beyond =
    open.times.length > 0 && (end < open.times[0]! || start > open.times[open.times.length - 1]!);
  const ends = [...(start > shown.start + 1e-6 ? [start] : []), ...(end < shown.end - 1e-6 ? [end] : [])];
  const curve = beyond ? addKeysKeepingShape(open, ends) : open;
  const ready = withFixedEnds(part, curve, { start, end }, shown, (end - start) / stretch);
  const result = replacedWithin(curve, { start, end }, shown, (keyed) => {
    const laid = layKeys(keyed, ready, {
      covered: { start, end },
      mode: 'replace',
      stretch,
      wholeFrames,
      shiftAt: () => 0,
    });
    lockedKeys = laid.lockedKeys;
    return laid.curve;
  });
  // Keys that were there: not those that only hold what lies outside.
  const left = new Set(result.ids);
  const overwritten = given.ids.reduce((sum, id) => sum + (left.has(id) ? 0 : 1), 0);
  return { curve: result, overwritten, lockedKeys, baked: open !== given };
}

/** What would repeat beyond what is seen: keys that are laid past its ends would make it another cycle. */
const withoutRepeats = (curve: Curve): Curve =>
  repeats(curve.leadIn) || repeats(curve.leadOut)
    ? {
        ...curve,
        ...(repeats(curve.leadIn) && { leadIn: 'hold', leadInCount: 0 }),
        ...(repeats(curve.leadOut) && { leadOut: 'hold', leadOutCount: 0 }),
      }
    : curve;

/** What a channel without keys counts on the base, or on a pass. */
export const restOn = (layer: string | null, channel: ChannelId): number =>
  layer === null ? restValue(splitChannel(channel).name) : 0;

/**
 * What is not keyed is at rest wherever nothing is laid: a channel without keys gets its rest on the ends of what is seen.
 * @param covered what will be laid: an end that it reaches needs none
 */
export function orStill(
  curve: Curve,
  { start, end }: FrameRange,
  rest: number,
  covered: FrameRange | null = null,
): Curve {
  if (curve.times.length > 0) return curve;
  const ends = [start, end].filter((frame) => covered === null || !inRange(covered, frame));
  return buildCurve(ends.length, (columns) => {
    columns.times.set(ends);
    columns.values.fill(rest);
  });
}

/**
 * The part with keys on its ends, and with the slopes that it has there, where keys lie beyond them, or will, that it would else lean on.
 * @param range where it comes to lie; @param length its own length, which may be of other frames
 */
export function withFixedEnds(
  part: Curve,
  { times }: Curve,
  { start, end }: FrameRange,
  shown: FrameRange,
  length: number,
): Curve {
  if (part.times.length === 0 || times.length === 0) return part;
  const ahead = times[0]! < start - 1e-6 || start > shown.start + 1e-6;
  const beyond = times[times.length - 1]! > end + 1e-6 || end < shown.end - 1e-6;
  if (!ahead && !beyond) return part;
  const ended = addKeysKeepingShape(part, [...(ahead ? [0] : []), ...(beyond ? [length] : [])]);
  return rebuild(ended, null, (columns) => {
    if (ahead) freeze(columns, 0);
    if (beyond) freeze(columns, columns.times.length - 1);
  });
}

/**
 * A part laid after a frame: the key there stays, and leaves as the part begins. Locked keys stay where they are.
 * @param shift what is added to the part's values
 * @param shownTo the last frame that is seen: up to there it goes on as it did, even where it only held
 * @param seam smooth: tangents at the seam follow their rules on both sides; exact: both sides keep the slopes that they have
 */
export function appendPart(
  curve: Curve,
  part: Curve,
  at: number,
  shift: number,
  seam: 'smooth' | 'exact',
  shownTo = -Infinity,
): LaidPart {
  const length = part.times[part.times.length - 1] ?? 0;
  const beyond = at + length + 1;
  // What goes on after the part does so from a key of its own.
  const goesOn =
    curve.times.length > 0 && (curve.times[curve.times.length - 1]! > beyond || beyond <= shownTo + 1e-6);
  const ended = curve.times.length > 0 ? addKeysKeepingShape(curve, goesOn ? [at, beyond] : [at]) : curve;
  const rest = allRows(part).filter((row) => part.times[row]! > 1e-6);
  const {
    curve: laid,
    overwritten,
    lockedKeys,
  } = layKeys(ended, rebuild(part, rest), {
    covered: { start: at, end: at + length },
    mode: 'replace',
    stretch: 1,
    sparesStart: true,
    shiftAt: () => shift,
  });
  const row = rowAtTime(laid, at);
  const first = rowAtTime(part, 0);
  if (row < 0 || first < 0 || (laid.flags[row]! & FLAG.locked) !== 0)
    return { curve: laid, overwritten, lockedKeys, baked: false };
  const joined = rebuild(laid, null, (columns) => {
    columns.segments[row] = part.segments[first]!;
    columns.tangentsOut[row] = part.tangentsOut[first]!;
    columns.slopesOut[row] = part.slopesOut[first]!;
    columns.lengthsOut[row] = part.lengthsOut[first]!;
    columns.flags[row] = (columns.flags[row]! & ~FLAG.weightedOut) | (part.flags[first]! & FLAG.weightedOut);
    if (seam === 'exact') {
      columns.slopesIn[row] = ended.slopesIn[rowAtTime(ended, at)]!;
      columns.tangentsIn[row] = columns.tangentsOut[row] = TANGENT.free;
    }
    if (columns.slopesIn[row] !== columns.slopesOut[row]) columns.flags[row] |= FLAG.broken;
  });
  return { curve: joined, overwritten, lockedKeys, baked: false };
}
