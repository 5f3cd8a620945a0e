/**
 * A range of a curve changed while what lies outside stays: keys on its ends, and where the change does not meet what goes on beyond,
 * a straight run over the frame next to the end.
 */
import type { FrameRange } from '../base/frame-range.ts';
import { bisectRight } from '../base/bisect.ts';
import { FLAG, rowAtTime, SEGMENT, TANGENT } from './curve.ts';
import type { Columns, Curve } from './curve.ts';
import { evaluate } from './evaluate.ts';
import { rebuild } from './rebuild.ts';
import { addKeysKeepingShape, freeze } from './split.ts';

/**
 * The curve with its keys from `start` to `end` changed.
 * @param shown the frames that are seen: beyond them nothing needs to be kept
 * @param change gets the curve with keys on the ends that are needed; keys outside must stay in their rows' order
 */
export function replacedWithin(
  curve: Curve,
  { start, end }: FrameRange,
  shown: FrameRange,
  change: (curve: Curve) => Curve,
): Curve {
  if (curve.times.length === 0) return change(curve);
  const meets = (after: Curve, frame: number) =>
    Math.abs(evaluate(after, frame) - evaluate(curve, frame)) <=
    1e-9 * (1 + Math.abs(evaluate(curve, frame)));
  const ends = endsIn(curve, { start, end }, shown);
  const trial = change(addKeysKeepingShape(curve, ends));
  const before = start > shown.start + 1e-6 ? Math.max(lastBefore(curve, start), start - 1) : null;
  const after = end < shown.end - 1e-6 ? Math.min(firstAfter(curve, end), end + 1) : null;
  const opens = before !== null && !meets(trial, start) && !stepsAt(curve, start - 1e-6);
  const closes = after !== null && !meets(trial, end);
  const keyed = addKeysKeepingShape(curve, [
    ...ends,
    ...(opens ? [before, start] : []),
    ...(closes ? [end, after] : []),
  ]);
  const changed = change(keyed);
  const [first, last] = [rowAtTime(changed, start), rowAtTime(changed, end)];
  return rebuild(changed, null, (columns) => {
    if (first > 0) {
      freeze(columns, first - 1);
      if (opens) straighten(columns, first - 1);
      else comeInAs(columns, first, keyed, rowAtTime(keyed, start));
    }
    if (last >= 0 && last + 1 < columns.times.length) {
      freeze(columns, last + 1);
      const steps = stepsAt(curve, end);
      if (closes && steps) columns.segments[last] = SEGMENT.stepped;
      else if (closes) straighten(columns, last);
      else leaveAs(columns, last, keyed, rowAtTime(keyed, end));
    }
  });
}

/** The ends on which keys are needed: within the keys, and past them where more is seen beyond, which must stay what it is. */
function endsIn({ times }: Curve, { start, end }: FrameRange, shown: FrameRange): number[] {
  const [first, last] = [times[0]!, times[times.length - 1]!];
  if (end < first - 1e-9 || start > last + 1e-9) return [];
  return [
    // What holds within the range may come to lie beside keys outside of it.
    ...(start > first || start > shown.start + 1e-6 || last > end ? [start] : []),
    ...(end < last || end < shown.end - 1e-6 || first < start ? [end] : []),
  ];
}

function lastBefore({ times }: Curve, frame: number): number {
  const row = bisectRight(times, frame - 1e-6) - 1;
  return row < 0 ? -Infinity : times[row]!;
}

function firstAfter({ times }: Curve, frame: number): number {
  return times[bisectRight(times, frame + 1e-6)] ?? Infinity;
}

/** Whether the curve holds at a time until its next key. */
function stepsAt({ times, segments }: Curve, time: number): boolean {
  const row = bisectRight(times, time + 1e-9) - 1;
  return row >= 0 && row + 1 < times.length && segments[row] === SEGMENT.stepped;
}

function straighten(columns: Columns, row: number): void {
  if (columns.segments[row] === SEGMENT.stepped) return;
  freeze(columns, row);
  freeze(columns, row + 1);
  columns.segments[row] = SEGMENT.linear;
}

/** The side of a key that looks outside is what it was. */
function comeInAs(columns: Columns, row: number, source: Curve, from: number): void {
  if (from < 0) return;
  freeze(columns, row);
  columns.slopesIn[row] = source.slopesIn[from]!;
  columns.lengthsIn[row] = source.lengthsIn[from]!;
  columns.tangentsIn[row] = TANGENT.free;
  columns.flags[row] = (columns.flags[row]! & ~FLAG.weightedIn) | (source.flags[from]! & FLAG.weightedIn);
  if (columns.slopesIn[row] !== columns.slopesOut[row]) columns.flags[row] |= FLAG.broken;
}

function leaveAs(columns: Columns, row: number, source: Curve, from: number): void {
  if (from < 0) return;
  freeze(columns, row);
  columns.segments[row] = source.segments[from]!;
  columns.slopesOut[row] = source.slopesOut[from]!;
  columns.lengthsOut[row] = source.lengthsOut[from]!;
  columns.tangentsOut[row] = TANGENT.free;
  columns.flags[row] = (columns.flags[row]! & ~FLAG.weightedOut) | (source.flags[from]! & FLAG.weightedOut);
  if (columns.slopesIn[row] !== columns.slopesOut[row]) columns.flags[row] |= FLAG.broken;
}
