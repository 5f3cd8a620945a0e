/**
 * A curve through a function of time: what a merge or a bake writes. Keys lie on the function with its slopes on both sides, found from places so
 * near that they count as the slope itself; a stretch that holds and then jumps becomes a stepped segment.
 */
import { hermite } from '../math/hermite.ts';
import { FLAG, SEGMENT, TANGENT } from './curve.ts';
import type { Curve } from './curve.ts';
import { buildCurve } from './rebuild.ts';
import { thinCurve } from './thin.ts';

export type Readable = (frame: number) => number;

/** One-sided slopes are taken over this many frames (three points, so their error falls with its square). */
const NEAR = 1e-3;
/** Values nearer to each other than this part of their size are equal, and slopes too. */
const SAME = 1e-9;
/** Places within a segment at which it is compared, as parts of it. */
const LOOKS = [0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9];
/** Between whole frames a segment is halved no further than this many frames. */
const SHORTEST = 0.124;

interface Segment {
  readonly stepped: boolean;
  readonly slopeOut: number;
  readonly slopeIn: number;
}

const same = (a: number, b: number) => Math.abs(a - b) <= SAME * (1 + Math.abs(a) + Math.abs(b));

/** The segment that runs from one time to another as the function does there. */
function segmentOf(at: Readable, from: number, to: number): Segment {
  const held = at(from);
  const h = Math.min(NEAR, (to - from) / 8);
  // What moves at all has mostly moved by then, and that place is asked for anyway.
  const moved = !same(at(from + h), held);
  const holds = !moved && [...LOOKS, 1 - NEAR].every((u) => same(at(from + u * (to - from)), held));
  if (holds) return { stepped: !same(at(to), held), slopeOut: 0, slopeIn: 0 };
  const slope = (begin: number, step: number) =>
    (4 * at(begin + step) - 3 * at(begin) - at(begin + 2 * step)) / (2 * step);
  // The last place counts as seen from within: a jump on it is another segment's.
  return { stepped: false, slopeOut: slope(from, h), slopeIn: slope(to, -h) };
}

/** The curve with its keys on these times. @param times rising, at least one */
export function curveThrough(at: Readable, times: readonly number[]): Curve {
  const segments = times.slice(1).map((to, i) => segmentOf(at, times[i]!, to));
  return buildCurve(times.length, (columns) => {
    times.forEach((time, i) => {
      const [before, after] = [segments[i - 1], segments[i]];
      columns.times[i] = time;
      columns.values[i] = at(time);
      columns.slopesIn[i] = before?.slopeIn ?? after?.slopeOut ?? 0;
      columns.slopesOut[i] = after?.slopeOut ?? before?.slopeIn ?? 0;
      columns.tangentsIn[i] = TANGENT.free;
      columns.tangentsOut[i] = TANGENT.free;
      columns.segments[i] = after?.stepped ? SEGMENT.stepped : SEGMENT.cubic;
      const bend = Math.abs(columns.slopesIn[i] - columns.slopesOut[i]);
      if (bend > 1e-5 * (1 + Math.abs(columns.slopesIn[i]))) columns.flags[i] = FLAG.broken;
    });
  });
}

/**
 * The curve with keys on these times, on more where it would stray, and on fewer where they are not needed.
 * @param tolerance greatest distance from the function, between keys too; > 0
 */
export function curveWithin(at: Readable, times: readonly number[], tolerance: number): Curve {
  const dense: number[] = [times[0]!];
  // Half for where keys are missing, half for those that can go.
  const half = tolerance / 2;
  for (let i = 1; i < times.length; i += 1) dense.push(...placesWithin(at, times[i - 1]!, times[i]!, half));
  const through = curveThrough(at, dense);
  return thinCurve(through, {
    tolerance: half,
    keepPeaks: false,
    keepFrames: [],
    joined: true,
    weighted: false,
    wholeFrames: false,
    takesPart: () => true,
  });
}

/**
 * The curve with keys on all of these times, and on more where it would stray.
 * @param tolerance as above, @param bends rising times at which the function is likely to bend: keys are added there before anywhere else
 */
export function curveAlong(
  at: Readable,
  times: readonly number[],
  tolerance: number,
  bends: readonly number[] = [],
): Curve {
  const dense: number[] = [times[0]!];
  for (let i = 1; i < times.length; i += 1)
    dense.push(...placesWithin(at, times[i - 1]!, times[i]!, tolerance, bends));
  return curveThrough(at, dense);
}

/** The times after `from` up to `to` on which keys are needed. */
function placesWithin(
  at: Readable,
  from: number,
  to: number,
  tolerance: number,
  bends: readonly number[] = [],
): number[] {
  if (to - from <= SHORTEST || strayOf(at, from, to) <= tolerance) return [to];
  const middle = (from + to) / 2;
  const whole = Math.round(middle);
  const inside = bends.filter((bend) => bend > from + 1e-6 && bend < to - 1e-6);
  const cut = inside[inside.length >> 1] ?? (whole > from + 1e-6 && whole < to - 1e-6 ? whole : middle);
  return [...placesWithin(at, from, cut, tolerance, inside), ...placesWithin(at, cut, to, tolerance, inside)];
}

function strayOf(at: Readable, from: number, to: number): number {
  const { stepped, slopeOut, slopeIn } = segmentOf(at, from, to);
  if (stepped) return 0;
  const length = to - from;
  const [first, last] = [at(from), at(to)];
  return Math.max(
    ...LOOKS.map((u) =>
      Math.abs(at(from + u * length) - hermite(first, slopeOut * length, last, slopeIn * length, u)),
    ),
  );
}
