/** Laying keys from elsewhere into a curve: what pasting and applying an action share. */
import { standsAt } from '../../base/bisect.ts';
import { inRange } from '../../base/frame-range.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { COLUMN_NAMES, FLAG } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { allRows, rebuild } from '../../curve/rebuild.ts';
import { addKeysKeepingShape } from '../../curve/split.ts';
import type { Shot } from '../../document/shot.ts';

export interface Laying {
  /** Where the keys come to lie. */
  readonly covered: FrameRange;
  /** replace: keys of the covered range go; merge: only those on the same frames; insert: what was there follows after it. */
  readonly mode: 'replace' | 'merge' | 'insert';
  /** Frames here for each frame there. */
  readonly stretch: number;
  /** Whether keys that would land between frames are rounded to whole ones. */
  readonly wholeFrames?: boolean;
  /** Whether a key on the first covered frame stays, for keys that are laid after it. */
  readonly sparesStart?: boolean;
  /** What is added to the value of a key at a frame. */
  readonly shiftAt: (frame: number) => number;
}

export interface Laid {
  readonly curve: Curve;
  readonly overwritten: number;
  readonly lockedKeys: number;
  readonly rippled: number;
}

/** The curve with the keys of `from` (frames from 0) laid in; locked keys stay where they are. */
export function layKeys(curve: Curve, from: Curve, laying: Laying): Laid {
  const { covered, mode, stretch, wholeFrames, sparesStart, shiftAt } = laying;
  const before = mode === 'insert' ? openedAt(curve, covered.start) : curve;
  const isLocked = (row: number) => (before.flags[row]! & FLAG.locked) !== 0;
  const landings = from.times.map((time) => {
    const landing = covered.start + time * stretch;
    return wholeFrames && stretch !== 1 ? Math.round(landing) : landing;
  });
  const isLater = (row: number) =>
    mode === 'insert' && before.times[row]! >= covered.start - 1e-6 && !isLocked(row);
  const isHit = (row: number) => {
    const time = before.times[row]!;
    if (mode === 'insert' || (sparesStart && Math.abs(time - covered.start) < 1e-6)) return false;
    return mode === 'replace' ? inRange(covered, time) : standsAt(landings, time);
  };
  const hit = allRows(before).filter(isHit);
  const gone = new Set(hit.filter((row) => !isLocked(row)));
  const kept = allRows(before).filter((row) => !gone.has(row));
  const lockedTimes = before.times.filter((_, row) => isLocked(row));
  const laid = allRows(from).filter((row) => !standsAt(lockedTimes, landings[row]!));
  const later = kept.filter(isLater);
  // The laid frames and the one on which what was there goes on are two: no pose is swallowed.
  const length = covered.end - covered.start + 1;
  const result = rebuild(before, [...kept, ...laid.map(() => -1)], (columns) => {
    kept.forEach((row, i) => {
      if (isLater(row)) columns.times[i]! += length;
    });
    laid.forEach((row, i) => {
      const at = kept.length + i;
      for (const name of COLUMN_NAMES) if (name !== 'ids') columns[name][at] = from[name][row]!;
      columns.flags[at]! &= ~FLAG.locked;
      columns.times[at] = landings[row]!;
      columns.values[at]! += shiftAt(landings[row]!);
      columns.slopesIn[at]! /= stretch;
      columns.slopesOut[at]! /= stretch;
      columns.lengthsIn[at]! *= stretch;
      columns.lengthsOut[at]! *= stretch;
    });
  });
  return { curve: result, overwritten: gone.size, lockedKeys: hit.length - gone.size, rippled: later.length };
}

/** The curve with a key on the frame at which it is opened and on the one before, so that both sides stay what they are. */
function openedAt(curve: Curve, frame: number): Curve {
  const { times } = curve;
  const cuts = times.length > 0 ? [frame - 1, frame].filter((cut) => cut > times[0]!) : [];
  return addKeysKeepingShape(curve, cuts);
}

/** The shot with a range that reaches the end of what was laid. */
export function grownTo(shot: Shot, end: number): { shot: Shot; finding: Finding | null } {
  const last = Math.ceil(end - 1e-6);
  if (last <= shot.range.end) return { shot, finding: null };
  return { shot: { ...shot, range: { ...shot.range, end: last } }, finding: finding('rangeGrown', {}, last) };
}
