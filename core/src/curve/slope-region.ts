/**
 * With which two end slopes a one-third segment holds a row of points: a convex region of the plane (slope out, slope in). The segment is
 * linear in its slopes, so each point allows a strip of that plane, and the region is what all strips have in common.
 *
 * Strips are laid over each other from the middle of the segment outwards, halving the gaps: after the first few the region is small, and
 * of the others most are only looked at.
 */
import type { Points } from './fit-segment.ts';

/** The corners of a region, in order around it, in units per frame: slopes at the first key, slopes at the second. */
export interface SlopeRegion {
  readonly out: Float64Array;
  readonly into: Float64Array;
}

/** What is asked of a segment. */
export interface Asked {
  /** Greatest distance from the points strictly between its ends. */
  readonly tolerance: number;
  /** Whether straight lines run between the points: then it is held in the middle of each as well. */
  readonly straight: boolean;
  /** Slopes are looked for within this many units per segment. */
  readonly steepest: number;
}

/** Corners while a region is cut, in the plane (slope out · length, −slope in · length): each cut reads one half and writes the other. */
let half = 256;
let xs = new Float64Array(2 * half);
let zs = new Float64Array(2 * half);
/** The region that was looked for last: where its corners begin, how many there are, and the length of the segment in frames. */
let base = 0;
let count = 0;
let length = 1;

/**
 * What the inner places of a segment of n even parts ask, four numbers each: which place, what slope out · length and −slope in · length count
 * for there, and the rise. In the order in which they are looked at: the middle, then the middles of what is left.
 */
const evenPlaces: (Float64Array | undefined)[] = [];

function placesOf(n: number): Float64Array {
  const known = evenPlaces[n];
  if (known) return known;
  const places = new Float64Array(4 * (n - 1));
  let filled = 0;
  let spans: (readonly [number, number])[] = [[0, n]];
  while (spans.length > 0) {
    const next: (readonly [number, number])[] = [];
    for (const [low, high] of spans) {
      if (high - low < 2) continue;
      const middle = (low + high) >>> 1;
      const u = middle / n;
      places.set([middle, u * (1 - u) * (1 - u), u * u * (1 - u), u * u * (3 - 2 * u)], filled);
      filled += 4;
      next.push([low, middle], [middle, high]);
    }
    spans = next;
  }
  return (evenPlaces[n] = places);
}

/** The part of the tolerance by which a corner may stick out: where strips lie close, each would else round the region by one more corner. */
const HAIR = 2e-3;

function makeRoom(corners: number): void {
  if (corners <= half) return;
  half = 2 * corners;
  xs = new Float64Array(2 * half);
  zs = new Float64Array(2 * half);
}

/** Keeps what lies within a·x + b·z ≤ limit of the corners from `from` on, and writes it from `to` on; returns how many there are. */
function cut(
  x: Float64Array,
  z: Float64Array,
  from: number,
  corners: number,
  to: number,
  a: number,
  b: number,
  limit: number,
): number {
  let kept = to;
  let x0 = x[from + corners - 1]!;
  let z0 = z[from + corners - 1]!;
  let d0 = a * x0 + b * z0 - limit;
  for (let i = from; i < from + corners; i += 1) {
    const x1 = x[i]!;
    const z1 = z[i]!;
    const d1 = a * x1 + b * z1 - limit;
    if ((d0 < 0 && d1 > 0) || (d0 > 0 && d1 < 0)) {
      const part = d0 / (d0 - d1);
      x[kept] = x0 + part * (x1 - x0);
      z[kept] = z0 + part * (z1 - z0);
      kept += 1;
    }
    if (d1 <= 0) {
      x[kept] = x1;
      z[kept] = z1;
      kept += 1;
    }
    x0 = x1;
    z0 = z1;
    d0 = d1;
  }
  return kept - to;
}

/**
 * Looks for the region of the segment between two points; `regionSlopes` and `region` tell about the one that was looked for last.
 * @param least @param most slopes that the first key may have, in units per frame; may be infinite
 * @returns whether there is any
 */
export function lookForRegion(
  { times, values, even }: Points,
  from: number,
  to: number,
  least: number,
  most: number,
  { tolerance, straight, steepest }: Asked,
): boolean {
  const t0 = times[from]!;
  const gap = times[to]! - t0;
  const v0 = values[from]!;
  const rise = values[to]! - v0;
  const places = placesOf(straight ? 2 * (to - from) : to - from);
  makeRoom(places.length + 8);
  const [x, z, room] = [xs, zs, half];
  x[0] = x[3] = Math.max(least * gap, -steepest);
  x[1] = x[2] = Math.min(most * gap, steepest);
  z[0] = z[1] = -steepest;
  z[2] = z[3] = steepest;
  let first = 0;
  let corners = 4;
  const hair = HAIR * tolerance;
  for (let k = 0; k < places.length; k += 4) {
    const place = places[k]!;
    const row = straight ? from + (place >> 1) : from + place;
    const between = straight && (place & 1) === 1;
    const value = between ? (values[row]! + values[row + 1]!) / 2 : values[row]!;
    let a = places[k + 1]!;
    let b = places[k + 2]!;
    let share = places[k + 3]!;
    if (even !== true) {
      const time = between ? (times[row]! + times[row + 1]!) / 2 : times[row]!;
      const u = (time - t0) / gap;
      const w = 1 - u;
      a = u * w * w;
      b = u * u * w;
      share = u * u * (3 - 2 * u);
    }
    const left = value - v0 - rise * share;
    let lowest = Infinity;
    let highest = -Infinity;
    for (let i = first; i < first + corners; i += 1) {
      const here = a * x[i]! + b * z[i]!;
      if (here < lowest) lowest = here;
      if (here > highest) highest = here;
    }
    const [floor, ceiling] = [left - tolerance, left + tolerance];
    if (lowest > ceiling || highest < floor) return false;
    if (highest > ceiling + hair) {
      corners = cut(x, z, first, corners, room - first, a, b, ceiling);
      first = room - first;
    }
    if (lowest < floor - hair) {
      corners = cut(x, z, first, corners, room - first, -a, -b, -floor);
      first = room - first;
    }
    if (corners === 0) return false;
  }
  base = first;
  count = corners;
  length = gap;
  return true;
}

/** The slopes that the second key may have: writes least and most, in units per frame. */
export function regionSlopes(into: Float64Array): void {
  let least = Infinity;
  let most = -Infinity;
  for (let i = base; i < base + count; i += 1) {
    if (zs[i]! < least) least = zs[i]!;
    if (zs[i]! > most) most = zs[i]!;
  }
  into[0] = -most / length;
  into[1] = -least / length;
}

/** The region that was looked for last. */
export function region(): SlopeRegion {
  const out = new Float64Array(count);
  const into = new Float64Array(count);
  for (let i = 0; i < count; i += 1) {
    out[i] = xs[base + i]! / length;
    into[i] = -zs[base + i]! / length;
  }
  return { out, into };
}

/**
 * The slopes that go with one slope of the other key: writes least and most. A slope that is outside by rounding gets what its nearest corner has.
 * @param across the coordinates of the corners of which one is given @param along those that are asked for
 */
export function slice(across: Float64Array, along: Float64Array, given: number, into: Float64Array): void {
  let least = Infinity;
  let most = -Infinity;
  let nearest = 0;
  for (let i = 0, before = across.length - 1; i < across.length; before = i, i += 1) {
    const d0 = across[before]! - given;
    const d1 = across[i]! - given;
    if (Math.abs(d1) < Math.abs(across[nearest]! - given)) nearest = i;
    if (d0 > 0 === d1 > 0) continue;
    const here = along[before]! + (d0 / (d0 - d1)) * (along[i]! - along[before]!);
    if (here < least) least = here;
    if (here > most) most = here;
  }
  into[0] = least <= most ? least : along[nearest]!;
  into[1] = least <= most ? most : along[nearest]!;
}
