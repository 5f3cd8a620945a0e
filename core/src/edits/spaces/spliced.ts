/** A part of a curve replaced by another whose values mean something else: between the two it holds, since nothing between them would mean anything. */
import type { FrameRange } from '../../base/frame-range.ts';
import { COLUMN_NAMES, FLAG, rowAtTime, SEGMENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { addKeysKeepingShape, freeze } from '../../curve/split.ts';

/**
 * The curve with `inner` from `start` to `end` (both of them keyed on it). Where the curve goes on outside it has keys on the frame before and on the
 * frame after, and holds over the frames in between.
 * @param shown the frames that are seen: beyond them nothing needs to be kept
 */
export function spliced(curve: Curve, inner: Curve, { start, end }: FrameRange, shown: FrameRange): Curve {
  const before = start - 1 >= shown.start - 1e-6 ? start - 1 : null;
  const after = end + 1 <= shown.end + 1e-6 ? end + 1 : null;
  const cuts = [before, after].filter((frame) => frame !== null);
  const ended = cuts.length > 0 ? addKeysKeepingShape(curve, cuts) : curve;
  const kept = Array.from(ended.times, (_, row) => row).filter((row) => {
    const time = ended.times[row]!;
    return (before !== null && time <= before + 1e-6) || (after !== null && time >= after - 1e-6);
  });
  const left = kept.filter((row) => ended.times[row]! < start).length;
  const rows = [...kept.slice(0, left), ...Array.from(inner.times, () => -1), ...kept.slice(left)];
  return rebuild(ended, rows, (columns) => {
    inner.times.forEach((_, k) => {
      for (const name of COLUMN_NAMES) if (name !== 'ids') columns[name][left + k] = inner[name][k]!;
    });
    const last = left + inner.times.length - 1;
    // What lies outside keeps its shape, whatever its new neighbours are.
    if (left > 0) {
      freeze(columns, left - 1);
      columns.segments[left - 1] = SEGMENT.stepped;
    }
    if (last + 1 < rows.length) {
      freeze(columns, last + 1);
      columns.segments[last] = SEGMENT.stepped;
    }
  });
}

/** A part of a curve replaced by another that means the same and lies as near: what goes on outside does so with the slopes that it had. */
export function refined(curve: Curve, inner: Curve, { start, end }: FrameRange): Curve {
  const ended = addKeysKeepingShape(curve, [start, end]);
  const [first, last] = [rowAtTime(ended, start), rowAtTime(ended, end)];
  // Beyond its keys it has none to replace.
  if (first < 0 || last < 0) return curve;
  const after = Array.from({ length: ended.times.length - last - 1 }, (_, i) => last + 1 + i);
  const rows = [...Array(first).keys(), ...Array.from(inner.times, () => -1), ...after];
  return rebuild(ended, rows, (columns) => {
    inner.times.forEach((_, k) => {
      for (const name of COLUMN_NAMES) if (name !== 'ids') columns[name][first + k] = inner[name][k]!;
    });
    const closing = first + inner.times.length - 1;
    if (first > 0) {
      freeze(columns, first - 1);
      columns.slopesIn[first] = ended.slopesIn[first]!;
    }
    if (after.length > 0) {
      freeze(columns, closing + 1);
      columns.slopesOut[closing] = ended.slopesOut[last]!;
      columns.segments[closing] = ended.segments[last]!;
    }
    for (const row of [first, closing])
      if (columns.slopesIn[row] !== columns.slopesOut[row]) columns.flags[row]! |= FLAG.broken;
  });
}
