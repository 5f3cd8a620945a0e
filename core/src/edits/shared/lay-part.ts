/** Parts of curves, cut out and laid in again: what reversing and flipping a range share. */
import type { FrameRange } from '../../base/frame-range.ts';
import { inRange } from '../../base/frame-range.ts';
import { FLAG, rowAtTime, TANGENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { hasLead } from '../../curve/lead.ts';
import { partOf as shownPart } from '../../curve/part.ts';
import { allRows, rebuild } from '../../curve/rebuild.ts';
import { replacedWithin } from '../../curve/replaced-within.ts';
import { addKeysKeepingShape, freeze } from '../../curve/split.ts';
import { layKeys } from './lay-keys.ts';

export interface LaidPart {
  readonly curve: Curve;
  /** Keys that were there and are gone. */
  readonly overwritten: number;
}

/**
 * What a range shows; frames from 0.
 * @param ends always: a key on each end, so that it stands on its own, repeats as keys; cut: only the keys, with ends only where the curve goes on beyond
 */
export function partOf(curve: Curve, { start, end }: FrameRange, ends: 'always' | 'cut' = 'always'): Curve {
  if (ends === 'always') return shownPart(curve, { start, end });
  const ended = cutAt(curve, { start, end });
  const rows = allRows(ended).filter((row) => inRange({ start, end }, ended.times[row]!));
  return rebuild({ ...ended, leadIn: 'hold', leadOut: 'hold' }, rows, (columns) => {
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

/** A part in place of the keys of a range; what lies outside stays. @param shown the frames that are seen */
export function replacePart(
  curve: Curve,
  part: Curve,
  { start, end }: FrameRange,
  shown: FrameRange,
): LaidPart {
  let overwritten = 0;
  const ready = withFixedEnds(part, curve, { start, end }, shown, end - start);
  const result = replacedWithin(curve, { start, end }, shown, (keyed) => {
    const laid = layKeys(keyed, ready, {
      covered: { start, end },
      mode: 'replace',
      stretch: 1,
      shiftAt: () => 0,
    });
    overwritten = laid.overwritten;
    return laid.curve;
  });
  return { curve: result, overwritten };
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
  const { curve: laid, overwritten } = layKeys(ended, rebuild(part, rest), {
    covered: { start: at, end: at + length },
    mode: 'replace',
    stretch: 1,
    sparesStart: true,
    shiftAt: () => shift,
  });
  const row = rowAtTime(laid, at);
  const first = rowAtTime(part, 0);
  if (row < 0 || first < 0 || (laid.flags[row]! & FLAG.locked) !== 0) return { curve: laid, overwritten };
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
  return { curve: joined, overwritten };
}
