/**
 * Where a motion comes back to itself: pairs of frames between which it can be cut to a loop.
 *
 * Two frames are compared as clouds of the body's points over a moment around each, the one laid over the other by the turn about the vertical and the shift along the ground that fit
 * best, so that a walk that goes on, or goes round, is found too (L. Kovar, M. Gleicher, F. Pighin: Motion Graphs, SIGGRAPH 2002, section 3.1; from memory).
 */
import type { FrameRange } from '../base/frame-range.ts';
import { framesPerSecond } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { worldsOver } from '../evaluation/evaluation.ts';
import type { Quaternion, Triple } from '../math/euler.ts';
import { angleBetween, multiply, rotate } from '../math/quaternion.ts';
import { bodyOf } from './body-of.ts';

export interface LoopPoint {
  readonly start: number;
  /** Shows the pose of `start` again. */
  readonly end: number;
  /** The greatest distance of a point of the body between both, once laid over each other; mm. */
  readonly mm: number;
  /** The greatest turn of a part between both, degrees. */
  readonly degrees: number;
}

export interface LoopSearch {
  /** Frames that a loop has at least and at most. */
  readonly shortest: number;
  readonly longest: number;
  /** How many are listed. */
  readonly most: number;
}

/** More frames than these are looked at in steps first: every pair of them is compared. */
const MOST_LOOKED_AT = 720;
/** To each side of a frame, seconds: enough to tell a step from the way back. */
const MOMENT = 1 / 12;
/** A loop goes away from its pose at least so far, mm, root of the mean square of its points: who only stands makes none. */
const LEAST_WAY = 15;

/** The cloud of one moment, its middle on the ground taken out: x, y, z of each point after the other, times the root of its share. */
type Cloud = Float64Array;

interface Seen {
  readonly frame: number;
  readonly cloud: Cloud;
  /** Its own square. */
  readonly square: number;
}

/** The root of the mean square of what stays between two clouds, cm in the units of the shot. */
function apart(a: Seen, b: Seen): number {
  let [up, along, across] = [0, 0, 0];
  for (let i = 0; i < a.cloud.length; i += 3) {
    const [x, y, z] = [a.cloud[i]!, a.cloud[i + 1]!, a.cloud[i + 2]!];
    const [u, v, w] = [b.cloud[i]!, b.cloud[i + 1]!, b.cloud[i + 2]!];
    up += y * v;
    along += x * u + z * w;
    across += x * w - z * u;
  }
  return Math.sqrt(Math.max(a.square + b.square - 2 * (up + Math.hypot(along, across)), 0));
}

/**
 * The best pairs of a character, those first that close best; none of them like another.
 * @param character null is what belongs to none
 */
export function loopPoints(
  shot: Shot,
  character: string | null,
  range: FrameRange,
  { shortest, longest, most }: LoopSearch,
): LoopPoint[] {
  const { segments, unit } = bodyOf(shot, character);
  const [first, last] = [Math.ceil(range.start), Math.floor(range.end)];
  if (segments.length === 0 || last - first < shortest) return [];
  const step = Math.max(1, Math.ceil((last - first + 1) / MOST_LOOKED_AT));
  const clouds = cloudsOf(shot, character, first, last);
  const looked = clouds.filter((_, i) => i % step === 0);
  const mm = 10 * unit;
  const fits = new Map<number, number>();
  const count = looked.length;
  const low = Math.max(1, Math.floor(shortest / step));
  const high = Math.min(Math.floor(longest / step), count - 1);
  const found: { readonly a: number; readonly b: number; readonly way: number }[] = [];
  const nothing = new Float64Array(count).fill(Infinity);
  let before: Float64Array = nothing;
  let now: Float64Array = rowFrom(0);
  for (let a = 0; a + low < count; a += 1) {
    const after = a + 1 < count ? rowFrom(a + 1) : nothing;
    let away = 0;
    for (let b = a + 1; b <= a + high && b < count; b += 1) {
      away = Math.max(away, now[b]!);
      if (b < a + low) continue;
      const here = now[b]!;
      const least = Math.min(
        ...[now[b - 1]!, now[b + 1] ?? Infinity, before[b]!, after[b]!],
        ...[before[b - 1]!, after[b + 1] ?? Infinity],
      );
      if (here <= least && away * mm > LEAST_WAY) found.push({ a: a * step, b: b * step, way: here });
    }
    before = now;
    now = after;
  }
  const refined = found
    .sort((one, other) => one.way - other.way)
    .slice(0, 12 * most)
    .map(({ a, b }) => nearestTo(a, b))
    .sort((one, other) => one.way - other.way);
  const apartBy = Math.max(2, shortest / 4);
  const kept: typeof refined = [];
  for (const one of refined) {
    const isLike = kept.some(({ a, b }) => Math.abs(a - one.a) < apartBy && Math.abs(b - one.b) < apartBy);
    if (!isLike && kept.length < most) kept.push(one);
  }
  const seams = seamsOf(
    shot,
    character,
    kept.map(({ a, b }) => [first + a, first + b] as const),
  );
  return kept
    .map(({ a, b }, i) => ({ start: first + a, end: first + b, ...seams[i]! }))
    .sort((one, other) => one.mm - other.mm);

  function rowFrom(a: number): Float64Array {
    const row = new Float64Array(count).fill(Infinity);
    for (let b = a + 1; b <= Math.min(a + high + 1, count - 1); b += 1)
      row[b] = apart(looked[a]!, looked[b]!);
    return row;
  }

  /** The best pair of whole frames within a step of one that was looked at. */
  function nearestTo(a: number, b: number): { a: number; b: number; way: number } {
    let best = { a, b, way: Infinity };
    for (let i = Math.max(0, a - step + 1); i <= Math.min(clouds.length - 1, a + step - 1); i += 1)
      for (let k = Math.max(i + 1, b - step + 1); k <= Math.min(clouds.length - 1, b + step - 1); k += 1) {
        const key = i * clouds.length + k;
        const way = fits.get(key) ?? apart(clouds[i]!, clouds[k]!);
        fits.set(key, way);
        if (way < best.way) best = { a: i, b: k, way };
      }
    return best;
  }
}

/** One cloud for each whole frame: the points half a moment before, there, and after. */
function cloudsOf(shot: Shot, character: string | null, first: number, last: number): Seen[] {
  const points = bodyOf(shot, character).segments.flatMap((segment) => segment.points);
  const reach = Math.max(1, Math.round(framesPerSecond(shot.rate) * MOMENT));
  const frames = Float64Array.from({ length: last - first + 1 }, (_, i) => first + i);
  const places: Float64Array[] = [];
  for (const { pose } of worldsOver(shot, frames)) {
    const place = new Float64Array(points.length * 3);
    points.forEach(({ row, at }, p) => place.set(placeOf(pose.matrices, row, at), p * 3));
    places.push(place);
  }
  const shares = points.map(({ share }) => share);
  const total = 3 * shares.reduce((sum, share) => sum + share, 0);
  return places.map((_, f) => {
    const cloud = new Float64Array(points.length * 9);
    [-reach, 0, reach].forEach((by, part) => {
      const place = places[Math.min(Math.max(f + by, 0), places.length - 1)]!;
      cloud.set(place, part * place.length);
    });
    let [x, z] = [0, 0];
    for (let i = 0; i < cloud.length; i += 3) {
      const share = shares[(i / 3) % points.length]!;
      x += (share * cloud[i]!) / total;
      z += (share * cloud[i + 2]!) / total;
    }
    let square = 0;
    for (let i = 0; i < cloud.length; i += 3) {
      const weight = Math.sqrt(shares[(i / 3) % points.length]! / total);
      cloud[i] = (cloud[i]! - x) * weight;
      cloud[i + 1]! *= weight;
      cloud[i + 2] = (cloud[i + 2]! - z) * weight;
      square += cloud[i]! ** 2 + cloud[i + 1]! ** 2 + cloud[i + 2]! ** 2;
    }
    return { frame: first + f, cloud, square };
  });
}

/** How far the ends of loops lie apart, once the end is laid over the start. */
function seamsOf(
  shot: Shot,
  character: string | null,
  pairs: readonly (readonly [start: number, end: number])[],
): { readonly mm: number; readonly degrees: number }[] {
  const { segments, unit } = bodyOf(shot, character);
  const points = segments.flatMap((segment) => segment.points);
  const total = points.reduce((sum, { share }) => sum + share, 0);
  const frames = [...new Set(pairs.flat())].sort((a, b) => a - b);
  const posed = new Map<number, { places: Triple[]; middle: Triple; turns: Quaternion[] }>();
  let k = 0;
  for (const { pose } of worldsOver(shot, Float64Array.from(frames))) {
    const places = points.map(({ row, at }) => placeOf(pose.matrices, row, at));
    const middle: Triple = [0, 0, 0];
    places.forEach((place, p) =>
      place.forEach((x, axis) => (middle[axis]! += (x * points[p]!.share) / total)),
    );
    const turns = segments.map(
      ({ row }) => [...pose.turns.subarray(row * 4, row * 4 + 4)] as unknown as Quaternion,
    );
    posed.set(frames[k++]!, { places, middle, turns });
  }
  return pairs.map(([start, end]) => {
    const [a, b] = [posed.get(start)!, posed.get(end)!];
    const [from, to] = [a, b].map(({ places, middle }) =>
      places.map(([x, y, z]): Triple => [x - middle[0], y, z - middle[2]]),
    ) as [Triple[], Triple[]];
    let [along, across] = [0, 0];
    from.forEach(([x, , z], p) => {
      const [u, , w] = to[p]!;
      along += points[p]!.share * (x * u + z * w);
      across += points[p]!.share * (x * w - z * u);
    });
    const angle = Math.atan2(across, along);
    const laid: Quaternion = [0, Math.sin(angle / 2), 0, Math.cos(angle / 2)];
    const gaps = from.map(([x, y, z], p) => {
      const [u, v, w] = rotate(laid, ...to[p]!);
      return Math.hypot(x - u, y - v, z - w);
    });
    const turns = a.turns.map((turn, i) => angleBetween(turn, multiply(laid, b.turns[i]!)));
    return { mm: 10 * unit * Math.max(...gaps), degrees: Math.max(...turns) };
  });
}

function placeOf(matrices: Float64Array, row: number, [x, y, z]: Triple): Triple {
  const at = (axis: number) => {
    const m = row * 16 + axis;
    return matrices[m]! * x + matrices[m + 4]! * y + matrices[m + 8]! * z + matrices[m + 12]!;
  };
  return [at(0), at(1), at(2)];
}
