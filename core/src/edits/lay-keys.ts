/** Laying keys from elsewhere into a curve: what pasting and applying an action share. */
import { inRange } from '../base/frame-range.ts';
import type { FrameRange } from '../base/frame-range.ts';
import { finding } from '../base/finding.ts';
import type { Finding } from '../base/finding.ts';
import { COLUMN_NAMES, FLAG } from '../curve/curve.ts';
import type { Curve } from '../curve/curve.ts';
import { allRows, rebuild } from '../curve/rebuild.ts';
import type { Shot } from '../shot/shot.ts';

export interface Laying {
  /** Where the keys come to lie. */
  readonly covered: FrameRange;
  /** replace: keys of the covered range go; merge: only those on the same frames; insert: later keys move on. */
  readonly mode: 'replace' | 'merge' | 'insert';
  /** Frames here for each frame there. */
  readonly stretch: number;
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
export function layKeys(
  before: Curve,
  from: Curve,
  { covered, mode, stretch, sparesStart, shiftAt }: Laying,
): Laid {
  const isLocked = (row: number) => (before.flags[row]! & FLAG.locked) !== 0;
  const landing = (row: number) => covered.start + from.times[row]! * stretch;
  const isLater = (row: number) =>
    mode === 'insert' && before.times[row]! >= covered.start - 1e-6 && !isLocked(row);
  const isHit = (row: number) => {
    const time = before.times[row]!;
    if (mode === 'insert' || (sparesStart && Math.abs(time - covered.start) < 1e-6)) return false;
    if (mode === 'replace') return inRange(covered, time);
    return allRows(from).some((other) => Math.abs(landing(other) - time) < 1e-6);
  };
  const hit = allRows(before).filter(isHit);
  const gone = new Set(hit.filter((row) => !isLocked(row)));
  const kept = allRows(before).filter((row) => !gone.has(row));
  const lockedTimes = allRows(before)
    .filter(isLocked)
    .map((row) => before.times[row]!);
  const laid = allRows(from).filter(
    (row) => !lockedTimes.some((time) => Math.abs(time - landing(row)) < 1e-6),
  );
  const later = kept.filter(isLater);
  const length = covered.end - covered.start;
  const curve = rebuild(before, [...kept, ...laid.map(() => -1)], (columns) => {
    kept.forEach((row, i) => {
      if (isLater(row)) columns.times[i]! += length;
    });
    laid.forEach((row, i) => {
      const at = kept.length + i;
      for (const name of COLUMN_NAMES) if (name !== 'ids') columns[name][at] = from[name][row]!;
      columns.flags[at]! &= ~FLAG.locked;
      columns.times[at] = landing(row);
      columns.values[at]! += shiftAt(landing(row));
      columns.slopesIn[at]! /= stretch;
      columns.slopesOut[at]! /= stretch;
      columns.lengthsIn[at]! *= stretch;
      columns.lengthsOut[at]! *= stretch;
    });
  });
  return { curve, overwritten: gone.size, lockedKeys: hit.length - gone.size, rippled: later.length };
}

/** The shot with a range that reaches the end of what was laid. */
export function grownTo(shot: Shot, end: number): { shot: Shot; finding: Finding | null } {
  const last = Math.ceil(end - 1e-6);
  if (last <= shot.range.end) return { shot, finding: null };
  return { shot: { ...shot, range: { ...shot.range, end: last } }, finding: finding('rangeGrown', {}, last) };
}
