/**
 * Fitting a row of points with as few cubic segments as hold it within a tolerance: the keys are found by search (`fewest-keys.ts`), then the
 * slopes that lie nearest to the points (`settle-slopes.ts`). Handles of any length are fitted in chains (`fit-weighted.ts`).
 *
 * Points may be samples of cubic segments, whose joints a search with almost no tolerance finds exactly; that fit is taken where it needs no
 * more keys.
 */
import { farthest } from '../base/farthest.ts';
import { fewestKeys } from './fewest-keys.ts';
import { fitSlopes, segmentError, strayBetween } from './fit-segment.ts';
import { fitWeighted, fitWeightedCorners } from './fit-weighted.ts';
import type { Fit, FitOptions, Points } from './fit-segment.ts';
import { ownSlopes, settleSlopes } from './settle-slopes.ts';

/** The part of the tolerance with which joints of sampled cubic segments are looked for. */
const EXACT = 1e-3;

/** Fits the points; see above. Needs two points or more. */
export function fitPoints({ times, values, even, straight, between }: Points, options: FitOptions): Fit {
  // One shape of object, whatever the points come from: the search reads them millions of times.
  const points: Points = { times, values, even: even === true, straight: straight === true, between };
  const places = placesOf(points.times.length - 1, options.candidate);
  const fit = options.weighted
    ? weightedFit(points, places, options)
    : fitWithin(points, places, options, options.tolerance, isKnownBetween(points));
  if (!seemsSampled(points, places, options.tolerance * EXACT)) return fit;
  const exact = exactFit(points, places, options);
  return exact !== null && exact.keys.length <= fit.keys.length ? { ...exact, exact: true } : fit;
}

const isKnownBetween = ({ straight, between }: Points) => straight === true || between !== undefined;

function weightedFit(points: Points, places: Int32Array, options: FitOptions): Fit {
  const straight = points.straight === true;
  const joined = { ...options, joined: true };
  const thirds = fitWithin(points, places, joined, options.tolerance, isKnownBetween(points));
  // Between points it is held in the middles, as points of their own: row by row twice as many.
  const per = straight ? 2 : 1;
  const [all, doubled] = [straight ? withMiddles(points) : points, places.map((row) => per * row)];
  const rows = (of: readonly number[]) => of.map((row) => per * row);
  const back = (fit: Fit): Fit => ({ ...fit, keys: fit.keys.map((row) => row / per) });
  const wishes = {
    ...options,
    kept: rows(options.kept),
    peaks: rows(options.peaks),
    strays: options.strays && ((fit: Fit) => rows(options.strays!(back(fit)))),
  };
  const chain = fitWeighted(all, doubled, wishes, { ...thirds, keys: rows(thirds.keys) });
  const fewer = chain.keys.length < thirds.keys.length || !thirds.holds ? back(chain) : thirds;
  if (options.joined) return fewer;
  const corners = fitWeightedCorners(all, doubled, wishes);
  return corners.keys.length < fewer.keys.length ? back(corners) : fewer;
}

/** The points with one in the middle of each two, on the line between them. */
function withMiddles({ times, values }: Points): Points {
  const middled = (of: Float64Array) =>
    Float64Array.from({ length: 2 * of.length - 1 }, (_, i) => (of[i >> 1]! + of[(i + 1) >> 1]!) / 2);
  return { times: middled(times), values: middled(values) };
}

/** Any two points lie on a cubic segment: one that short must hold between them as well. */
function saysEnough(points: Points, { keys, segments }: Fit, tolerance: number): boolean {
  return segments.every(
    (segment, k) =>
      keys[k + 1]! - keys[k]! > 3 ||
      strayBetween(points, keys[k]!, keys[k + 1]!, segment, tolerance) === null,
  );
}

/** The joints, and peaks that have none within a frame; null where the joints are no more than chance. */
function exactFit(points: Points, places: Int32Array, options: FitOptions): Fit | null {
  const bare = { ...options, peaks: [] };
  const tolerance = options.tolerance * EXACT;
  const joints = fitWithin(points, places, bare, tolerance, false);
  if (!saysEnough(points, joints, options.tolerance)) return null;
  const { times } = points;
  const alone = options.peaks.filter(
    (row) => !joints.keys.some((key) => Math.abs(times[key]! - times[row]!) <= 1 + 1e-9),
  );
  if (alone.length === 0) return joints;
  const kept = [...new Set([...options.kept, ...alone])].sort((a, b) => a - b);
  return fitWithin(points, places, { ...bare, kept }, tolerance, false);
}

/** Segments that are looked at to see whether points may be samples; noise fits two points between keys, and no more. */
const LOOKS = 12;
const LONGER_THAN_NOISE = 3.5;

function seemsSampled(points: Points, places: Int32Array, tolerance: number): boolean {
  let at = 0;
  let moving = 0;
  let reached = 0;
  for (let look = 0; look < 4 * LOOKS && moving < LOOKS && at < places.length - 1; look += 1) {
    const start = places[at]!;
    const holds = (distance: number) => fits(points, start, places[at + distance]!, tolerance);
    const next = at + farthest(places.length - 1 - at, holds, 4);
    // Stretches that stand still say nothing.
    if (points.values[start] !== points.values[places[next]!] && next < places.length - 1) {
      moving += 1;
      reached += next - at;
    }
    at = next;
  }
  return moving === 0 || reached >= LONGER_THAN_NOISE * moving;
}

const slopes = new Float64Array(2);

function fits(points: Points, from: number, to: number, tolerance: number): boolean {
  fitSlopes(points, from, to, slopes);
  return segmentError(points, from, to, slopes[0]!, slopes[1]!, tolerance) <= tolerance;
}

/** The rows on which a key may stand, rising. */
function placesOf(last: number, candidate: (row: number) => boolean): Int32Array {
  const places = new Int32Array(last + 1);
  let count = 0;
  for (let row = 0; row <= last; row += 1)
    if (row === 0 || row === last || candidate(row)) places[count++] = row;
  return places.subarray(0, count);
}

function fitWithin(
  points: Points,
  places: Int32Array,
  options: FitOptions,
  tolerance: number,
  between: boolean,
): Fit {
  const kept = [...new Set([...options.kept, ...options.peaks])].sort((a, b) => a - b);
  const asked = { tolerance, between, steepest: STEEPEST * (spanOf(points) + tolerance) };
  const found = fewestKeys(points, places, { ...asked, kept, joined: options.joined, quick: options.quick });
  const { keys } = found;
  if (options.joined) settleSlopes(points, keys, found.slopes, new Set(options.peaks), asked);
  const segments = keys.slice(1).map((to, k) => {
    const from = keys[k]!;
    const [slopeOut, slopeIn] = options.joined
      ? [found.slopes[k]!, found.slopes[k + 1]!]
      : ownSlopes(points, from, to, asked);
    const third = (points.times[to]! - points.times[from]!) / 3;
    return { slopeOut, slopeIn, lengthOut: third, lengthIn: third, weighted: false };
  });
  return { keys, segments, exact: false, holds: found.holds };
}

/** A segment changes by no more than so many times what all points span, if it went on as it begins. */
const STEEPEST = 1e3;

function spanOf({ values }: Points): number {
  let [least, most] = [Infinity, -Infinity];
  for (const value of values) {
    if (value < least) least = value;
    if (value > most) most = value;
  }
  return most - least;
}
