/**
 * With which two end slopes a one-third segment holds a row of points: a convex region of the plane (slope out, slope in). The segment is
 * linear in its slopes, so each point allows a strip of that plane, and the region is what all strips have in common.
 *
 * Strips are laid over each other from the middle of the segment outwards, halving the gaps: after the first few the region is small, and
 * of the others most are only looked at. What lies between the points comes last.
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
  /** Whether it is held between the points as well, on straight lines or on what is known there. */
  readonly between: boolean;
  /** Slopes are looked for within this many units per segment. */
  readonly steepest: number;
}

/** Corners while a region is cut, in the plane (slope out · length, −slope in · length): each cut reads one half and writes the other. */
let half = 256;
let xs = new Float64Array(2 * half);
let zs = new Float64Array(2 * half);
/** Where the corners lie across the strip that is looked at. */
let heights = new Float64Array(half);
/** How often a region was cut: what is known of one holds until the next cut. */
let cuts = 0;
/** How far a region that is looked for strays from each point of its segment at most, as far as it is known. */
let strays = new Float64Array(256);
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
  if (corners > strays.length) strays = new Float64Array(2 * corners);
  if (corners <= half) return;
  half = 2 * corners;
  xs = new Float64Array(2 * half);
  zs = new Float64Array(2 * half);
  heights = new Float64Array(half);
}

/**
 * Keeps the corners of which the distance lies within floor and ceiling, and what the edges cross there; the distances are in `heights`.
 * Either bound may be infinite.
 */
function cut(floor: number, ceiling: number): void {
  const x = xs;
  const z = zs;
  const h = heights;
  const from = base;
  const to = half - base;
  let kept = to;
  const last = from + count - 1;
  let x0 = x[last]!;
  let z0 = z[last]!;
  let h0 = h[count - 1]!;
  for (let i = 0; i < count; i += 1) {
    const x1 = x[from + i]!;
    const z1 = z[from + i]!;
    const h1 = h[i]!;
    const rises = h1 > h0;
    // An edge that rises comes through the floor first, one that falls through the ceiling.
    const near = rises ? floor : ceiling;
    const far = rises ? ceiling : floor;
    if (rises ? h0 < near && h1 > near : h0 > near && h1 < near) {
      const part = (near - h0) / (h1 - h0);
      x[kept] = x0 + part * (x1 - x0);
      z[kept] = z0 + part * (z1 - z0);
      kept += 1;
    }
    if (rises ? h0 < far && h1 > far : h0 > far && h1 < far) {
      const part = (far - h0) / (h1 - h0);
      x[kept] = x0 + part * (x1 - x0);
      z[kept] = z0 + part * (z1 - z0);
      kept += 1;
    }
    if (h1 >= floor && h1 <= ceiling) {
      x[kept] = x1;
      z[kept] = z1;
      kept += 1;
    }
    x0 = x1;
    z0 = z1;
    h0 = h1;
  }
  count = kept - to;
  base = to;
  cuts += 1;
}

/**
 * Keeps of the region what a place allows. @param left what slopes must make up for there
 * @returns how far from there a segment of the region may still be; −1 where nothing is left of it
 */
function hold(a: number, b: number, left: number, tolerance: number): number {
  const x = xs;
  const z = zs;
  const h = heights;
  const from = base;
  const corners = count;
  let lowest = Infinity;
  let highest = -Infinity;
  for (let i = 0; i < corners; i += 1) {
    const here = a * x[from + i]! + b * z[from + i]!;
    h[i] = here;
    if (here < lowest) lowest = here;
    if (here > highest) highest = here;
  }
  const floor = left - tolerance;
  const ceiling = left + tolerance;
  if (lowest > ceiling || highest < floor) return -1;
  const hair = HAIR * tolerance;
  const above = highest > ceiling + hair;
  const below = lowest < floor - hair;
  if (above || below) cut(below ? floor : -Infinity, above ? ceiling : Infinity);
  return count > 0 ? Math.min(tolerance, Math.max(highest - left, left - lowest)) : -1;
}

/**
 * Looks for the region of the segment between two points; `regionSlopes` and `region` tell about the one that was looked for last.
 * @param least @param most slopes that the first key may have, in units per frame; may be infinite
 * @returns whether there is any
 */
export function lookForRegion(
  points: Points,
  from: number,
  to: number,
  least: number,
  most: number,
  { tolerance, between, steepest }: Asked,
): boolean {
  const { times, values, even } = points;
  const t0 = times[from]!;
  const v0 = values[from]!;
  const rise = values[to]! - v0;
  length = times[to]! - t0;
  const places = placesOf(to - from);
  // Each place adds two corners at most, and so do those between the points.
  makeRoom((between ? 1 << MOST_HALVES : 1) * places.length + 8);
  xs[0] = xs[3] = Math.max(least * length, -steepest);
  xs[1] = xs[2] = Math.min(most * length, steepest);
  zs[0] = zs[1] = -steepest;
  zs[2] = zs[3] = steepest;
  base = 0;
  count = 4;
  for (let k = 0; k < places.length; k += 4) {
    const row = from + places[k]!;
    let a = places[k + 1]!;
    let b = places[k + 2]!;
    let share = places[k + 3]!;
    if (even !== true) {
      const u = (times[row]! - t0) / length;
      const w = 1 - u;
      a = u * w * w;
      b = u * u * w;
      share = u * u * (3 - 2 * u);
    }
    const stray = hold(a, b, values[row]! - v0 - rise * share, tolerance);
    if (stray < 0) return false;
    strays[row - from] = stray;
  }
  return !between || holdBetween(points, from, to, tolerance);
}

/** The part of the tolerance that a segment may take beyond it between two places. */
const FINE = 1e-2;
/** So often the way from a point to the next is halved at most: a straight line, and one of which the eighths are known. */
const MOST_HALVES = 4;
const KNOWN_HALVES = 3;

/**
 * Keeps of the region what holds between the points too. There a segment strays from the straight line between what it strays at the ends by no more
 * than its bend allows, and what is held from that line by no more than its sway: most gaps need not be looked at, and of others mostly one half.
 */
function holdBetween(
  { times, values, between }: Points,
  from: number,
  to: number,
  tolerance: number,
): boolean {
  const v0 = values[from]!;
  const rise = values[to]! - v0;
  const enough = (1 + FINE) * tolerance;
  // What is known of the region, until it is cut again.
  let known = cuts;
  let most = bendOf(rise);
  // Looked at in the middle of a part of a gap, and then in its two halves.
  const halved = (
    row: number,
    f0: number,
    f1: number,
    s0: number,
    s1: number,
    bend: number,
    halves: number,
  ): boolean => {
    if (Math.max(s0, s1) + bend <= enough || halves === 0) return true;
    const f = (f0 + f1) / 2;
    const y = between
      ? between.values[7 * row + 8 * f - 1]!
      : values[row]! + f * (values[row + 1]! - values[row]!);
    const u = (times[row]! + f * (times[row + 1]! - times[row]!) - times[from]!) / length;
    const w = 1 - u;
    const stray = hold(u * w * w, u * u * w, y - v0 - rise * u * u * (3 - 2 * u), tolerance);
    return (
      stray >= 0 &&
      halved(row, f0, f, s0, stray, bend / 4, halves - 1) &&
      halved(row, f, f1, stray, s1, bend / 4, halves - 1)
    );
  };
  strays[0] = strays[to - from] = 0;
  let u0 = 0;
  for (let row = from; row < to; row += 1) {
    const u1 = (times[row + 1]! - times[from]!) / length;
    const bend = ((u1 - u0) * (u1 - u0)) / 8;
    const sway = between ? between.sway[row]! : 0;
    // What is known of its ends is of a region that was larger: looked at once more before it is cut.
    if (Math.max(strays[row - from]!, strays[row + 1 - from]!) + bend * most + sway > enough) {
      if (known !== cuts) {
        known = cuts;
        most = bendOf(rise);
      }
      const before = row === from ? 0 : strayAt(times, values, from, row, rise);
      const after = row + 1 === to ? 0 : strayAt(times, values, from, row + 1, rise);
      strays[row - from] = before;
      strays[row + 1 - from] = after;
      const there = bend * most + sway;
      if (!halved(row, 0, 1, before, after, there, between ? KNOWN_HALVES : MOST_HALVES)) return false;
    }
    u0 = u1;
  }
  return true;
}

/** The greatest second derivative of a segment of the region, over its whole length: at an end of it, and at a corner of the region. */
function bendOf(rise: number): number {
  let most = 0;
  for (let i = base; i < base + count; i += 1) {
    const first = Math.abs(6 * rise - 4 * xs[i]! + 2 * zs[i]!);
    const second = Math.abs(6 * rise - 2 * xs[i]! + 4 * zs[i]!);
    if (first > most) most = first;
    if (second > most) most = second;
  }
  return most;
}

/** How far a segment of the region is from a point at most. */
function strayAt(times: Float64Array, values: Float64Array, from: number, row: number, rise: number): number {
  const u = (times[row]! - times[from]!) / length;
  const w = 1 - u;
  const [a, b] = [u * w * w, u * u * w];
  const left = values[row]! - values[from]! - rise * u * u * (3 - 2 * u);
  let most = 0;
  for (let i = base; i < base + count; i += 1) {
    const stray = Math.abs(a * xs[i]! + b * zs[i]! - left);
    if (stray > most) most = stray;
  }
  return most;
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
