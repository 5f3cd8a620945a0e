/**
 * A curve through what shows: what a merge or a bake writes. Keys lie on it with its slopes on both sides, found from places so near that they count
 * as the slope itself. It is cut at its jumps, and no slope is taken across one: what holds and then jumps becomes a stepped segment; what moves up
 * to a jump holds for the one frame ahead of it, what moves on from one holds for the frame after it, so that every whole frame is exact.
 */
import { rising } from '../base/frames.ts';
import type { FrameRange } from '../base/frame-range.ts';
import { hermite } from '../math/hermite.ts';
import { FLAG, SEGMENT, TANGENT } from './curve.ts';
import type { Curve } from './curve.ts';
import { buildCurve } from './rebuild.ts';
import { thinCurve } from './thin.ts';

type Readable = (frame: number) => number;

/** One number over time, and where it jumps. A signal is one. */
export interface Shown {
  at(frame: number): number;
  /** Times in a range at which it may jump. */
  jumps(range: FrameRange): readonly number[];
}

/** What a function shows. @param jumps where it may jump, rising */
export const shownBy = (at: Readable, jumps: readonly number[] = []): Shown => ({
  at,
  jumps: ({ start, end }) => jumps.filter((time) => time >= start && time <= end),
});

/** One-sided slopes are taken over this many frames (three points, so their error falls with its square). */
const NEAR = 2.5e-4;
/** What a time shows from one side is found from two places so near to it. */
const BESIDE = 1e-5;
/** Values nearer to each other than this part of their size are equal, and slopes too. */
const SAME = 1e-9;
/** Places within a segment at which it is compared, as parts of it. */
const LOOKS = [0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9];
/** Within a frame every second of them. */
const FEW_LOOKS = LOOKS.filter((_, i) => i % 2 === 0);
/** Where keys stand a frame apart, as captured ones do, it is first tried whether lines between them will do: within this part of what is asked, at these places. */
const STRAIGHT = 0.4;
const LINE_LOOKS = [0.25, 0.75];
const LONGEST_LINE = 1 + 1e-9;
/** Between whole frames a segment is halved no further than this many frames. */
const SHORTEST = 0.124;

interface Segment {
  readonly kind: number;
  readonly slopeOut: number;
  readonly slopeIn: number;
}

const same = (a: number, b: number) => Math.abs(a - b) <= SAME * (1 + Math.abs(a) + Math.abs(b));

/** The value just before (side −1) or just after (+1) a time; on a slope it is off by less than a millionth of it. */
const beside = (shown: Shown, time: number, side: -1 | 1): number =>
  2 * shown.at(time + side * BESIDE) - shown.at(time + 2 * side * BESIDE);

/** Whether it jumps from a time to the next moment, or from the moment before. */
const jumpsAt = (shown: Shown, time: number, side: -1 | 1): boolean => {
  const [there, here] = [beside(shown, time, side), shown.at(time)];
  return Math.abs(there - here) > 1e-6 * (1 + Math.abs(there) + Math.abs(here));
};

/** From one key to the next. */
interface Stretch {
  readonly from: number;
  readonly to: number;
  readonly holds: boolean;
  readonly straight?: true;
}

/** The times with the jumps between them, and what must hold before and after those. */
function stretchesOf(shown: Shown, times: readonly number[]): Stretch[] {
  const [first, last] = [times[0]!, times[times.length - 1]!];
  const jumps = shown.jumps({ start: first, end: last });
  const before = new Set(jumps.filter((time) => time > first && jumpsAt(shown, time, -1)));
  const after = new Set(jumps.filter((time) => time < last && jumpsAt(shown, time, 1)));
  const places = before.size + after.size > 0 ? rising(times, before, after) : times;
  return places.slice(1).flatMap((to, i): Stretch[] => {
    let from = places[i]!;
    const held: Stretch[] = [];
    if (after.has(from)) {
      const until = Math.min(Math.floor(from) + 1, to);
      held.push({ from, to: until, holds: true });
      if (until === to) return held;
      from = until;
    }
    if (!before.has(to)) return [...held, { from, to, holds: false }];
    const still = LOOKS.every((u) => same(shown.at(from + u * (to - from)), shown.at(from)));
    const since = still ? from : Math.max(Math.ceil(to) - 1, from);
    return [
      ...held,
      ...(since > from ? [{ from, to: since, holds: false }] : []),
      { from: since, to, holds: true },
    ];
  });
}

/** The segment that runs from one time to another as the function does there. */
function segmentOf(at: Readable, from: number, to: number): Segment {
  const held = at(from);
  const h = Math.min(NEAR, (to - from) / 8);
  // What moves at all has mostly moved by then, and that place is asked for anyway.
  const moved = !same(at(from + h), held);
  const holds = !moved && [...LOOKS, 1 - NEAR].every((u) => same(at(from + u * (to - from)), held));
  if (holds) return same(at(to), held) ? STILL : HELD;
  const slope = (begin: number, step: number) =>
    (4 * at(begin + step) - 3 * at(begin) - at(begin + 2 * step)) / (2 * step);
  return { kind: SEGMENT.cubic, slopeOut: slope(from, h), slopeIn: slope(to, -h) };
}

const STILL: Segment = { kind: SEGMENT.cubic, slopeOut: 0, slopeIn: 0 };
const HELD: Segment = { kind: SEGMENT.stepped, slopeOut: 0, slopeIn: 0 };

function lineOf(at: Readable, from: number, to: number): Segment {
  const slope = (at(to) - at(from)) / (to - from);
  return { kind: SEGMENT.linear, slopeOut: slope, slopeIn: slope };
}

const isLine = (at: Readable, from: number, to: number, tolerance: number): boolean =>
  to - from <= LONGEST_LINE &&
  LINE_LOOKS.every(
    (u) => Math.abs(at(from + u * (to - from)) - at(from) - u * (at(to) - at(from))) <= tolerance,
  );

/** The curve of stretches that follow each other. */
function curveOf(shown: Shown, first: number, stretches: readonly Stretch[]): Curve {
  const at = (time: number) => shown.at(time);
  const times = [first, ...stretches.map(({ to }) => to)];
  const segments = stretches.map(({ from, to, holds, straight }) =>
    holds ? HELD : straight ? lineOf(at, from, to) : segmentOf(at, from, to),
  );
  return buildCurve(times.length, (columns) => {
    times.forEach((time, i) => {
      const [before, after] = [segments[i - 1], segments[i]];
      columns.times[i] = time;
      columns.values[i] = at(time);
      columns.slopesIn[i] = before?.slopeIn ?? after?.slopeOut ?? 0;
      columns.slopesOut[i] = after?.slopeOut ?? before?.slopeIn ?? 0;
      columns.tangentsIn[i] = TANGENT.free;
      columns.tangentsOut[i] = TANGENT.free;
      columns.segments[i] = after?.kind ?? SEGMENT.cubic;
      const bend = Math.abs(columns.slopesIn[i] - columns.slopesOut[i]);
      if (bend > 1e-5 * (1 + Math.abs(columns.slopesIn[i]))) columns.flags[i] = FLAG.broken;
    });
  });
}

/** The curve with its keys on these times, and where jumps ask for them. @param times rising, at least one */
export function curveThrough(shown: Shown, times: readonly number[]): Curve {
  return curveOf(shown, times[0]!, stretchesOf(shown, times));
}

/** The curve with its keys on these times and straight lines between: nothing is asked between them. @param times rising, at least one */
export function straightThrough(shown: Shown, times: readonly number[]): Curve {
  return buildCurve(times.length, (columns) => {
    times.forEach((time, i) => {
      columns.times[i] = time;
      columns.values[i] = shown.at(time);
    });
    columns.segments.fill(SEGMENT.linear);
  });
}

/**
 * The curve with keys on these times, on more where it would stray, and on fewer where they are not needed.
 * @param tolerance greatest distance from what shows, between keys too; > 0
 */
export function curveWithin(shown: Shown, times: readonly number[], tolerance: number): Curve {
  // Half for where keys are missing, half for those that can go.
  const half = tolerance / 2;
  const through = along(shown, times, half, { bends: [], straight: STRAIGHT * half });
  return thinCurve(through, {
    tolerance: half,
    keepPeaks: false,
    keepFrames: [],
    joined: true,
    weighted: false,
    wholeFrames: false,
    quick: true,
    takesPart: () => true,
  });
}

/**
 * The curve with keys on all of these times, and on more where it would stray.
 * @param tolerance as above, @param bends rising times at which the function is likely to bend: keys are added there before anywhere else
 */
export function curveAlong(
  shown: Shown,
  times: readonly number[],
  tolerance: number,
  bends: readonly number[] = [],
): Curve {
  return along(shown, times, tolerance, { bends });
}

/** @param straight what a line may be off between keys a frame apart; missing, there are none */
function along(
  shown: Shown,
  times: readonly number[],
  tolerance: number,
  { bends, straight }: { readonly bends: readonly number[]; readonly straight?: number },
): Curve {
  const at = (time: number) => shown.at(time);
  const stretches = stretchesOf(shown, times).flatMap((stretch): Stretch[] => {
    if (stretch.holds) return [stretch];
    if (straight !== undefined && isLine(at, stretch.from, stretch.to, straight))
      return [{ ...stretch, straight: true }];
    const places = placesWithin(at, stretch.from, stretch.to, tolerance, bends);
    return places.map((to, i) => ({ from: places[i - 1] ?? stretch.from, to, holds: false }));
  });
  return curveOf(shown, times[0]!, stretches);
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
  const { kind, slopeOut, slopeIn } = segmentOf(at, from, to);
  if (kind === SEGMENT.stepped) return 0;
  const length = to - from;
  const [first, last] = [at(from), at(to)];
  return Math.max(
    ...(length > 1 ? LOOKS : FEW_LOOKS).map((u) =>
      Math.abs(at(from + u * length) - hermite(first, slopeOut * length, last, slopeIn * length, u)),
    ),
  );
}
