/**
 * The fewest keys with which one-third segments hold a row of points, one slope at each key: a search over places and slopes, level by level.
 *
 * A level is how many segments it took to come to a place, and what is known of a place on a level are the slopes with which it is reached: an interval
 * for each place that it is reached from, since the slopes of a segment that holds are a convex region (`slope-region.ts`) and an interval of
 * its first slope cuts an interval out of its second. The level on which the last place is reached is the least number of segments; going
 * back from there gives the keys, and slopes with which they hold. It is the search for a path of fewest links through a corridor
 * (Suri 1986; Guibas, Hershberger, Mitchell & Snoeyink 1993) with slopes for directions.
 *
 * Not every place is carried on, only some behind the farthest of its level (`Breadth`).
 */
import { bisectRight } from '../base/bisect.ts';
import { farthest } from '../base/farthest.ts';
import type { Points } from './fit-segment.ts';
import { lookForRegion, region, regionSlopes, slice } from './slope-region.ts';
import type { Asked } from './slope-region.ts';

export interface FewestOptions extends Asked {
  /** Rows that must be keys, rising. */
  readonly kept: readonly number[];
  /** Whether both sides of a key share a slope. */
  readonly joined: boolean;
  /** Whether a few keys more do no harm: less is searched then. */
  readonly quick?: boolean | undefined;
}

/** A place as it is reached by one more segment, and the slopes that it can then have. */
interface Reached {
  readonly least: number;
  readonly most: number;
  /** The place that it is reached from, or −1. */
  readonly from: number;
}
type Level = ReadonlyMap<number, readonly Reached[]>;

/** How widely is searched. */
interface Breadth {
  /** How far behind the farthest of a level the places lie that are carried on. */
  readonly carried: readonly number[];
  /** A segment may hold where a shorter one does not, since its ends lie on the points: so many places are tried past the farthest. */
  readonly past: number;
}
const USUAL: Breadth = { carried: [0, 1, 2, 3, 5, 7, 9, 12], past: 4 };
const WIDE: Breadth = {
  carried: [...Array.from({ length: 19 }, (_, i) => i), 20, 22, 24, 26, 28, 31, 34, 38, 42, 48, 56],
  past: 8,
};
const QUICK: Breadth = { carried: [0, 1, 2, 4, 8], past: 3 };
/** In short runs more, as they cost little there. */
const SHORT = 400;

export interface FewestKeys {
  /** Rows of the points, rising, with the first and the last. */
  readonly keys: readonly number[];
  /** Where slopes are shared one for each key, in units per frame, with which all segments hold; else empty. */
  readonly slopes: Float64Array;
  /** Whether every segment holds; else some are from a place to the next that no slopes hold. */
  readonly holds: boolean;
}

/** @param places rows on which a key may stand, rising, with the first and the last of the points */
export function fewestKeys(points: Points, places: Int32Array, options: FewestOptions): FewestKeys {
  const { tolerance, between, steepest } = options;
  const asked: Asked = { tolerance, between, steepest };
  const last = places.length - 1;
  const stops = options.kept.map((row) => bisectRight(places, row) - 1);
  const levels: Level[] = [new Map([[0, [{ ...ANY, from: -1 }]]])];
  const search: Search = {
    points,
    places,
    asked,
    joined: options.joined,
    stops,
    ...(options.quick === true ? QUICK : places.length <= SHORT ? WIDE : USUAL),
  };
  let reached = 0;
  let usual = 2;
  let holds = true;
  while (reached < last) {
    const next = nextLevel(search, levels[levels.length - 1]!, reached, usual);
    if (next.farthest === reached) {
      // The old line to the next place stays, whatever its slopes.
      holds = false;
      next.level.set(reached + 1, [{ ...ANY, from: reached }]);
      next.farthest += 1;
    }
    levels.push(next.level);
    usual = next.farthest - reached;
    reached = next.farthest;
  }
  return { ...wayBack(points, places, levels, options), holds };
}

/** From the last place back to the first, at each key taking the middle of the slopes that go with what follows. */
function wayBack(
  points: Points,
  places: Int32Array,
  levels: readonly Level[],
  options: FewestOptions,
): Omit<FewestKeys, 'holds'> {
  const keys = [places.length - 1];
  const slopes: number[] = [];
  for (let level = levels.length - 1; level > 0; level -= 1) {
    const to = keys[keys.length - 1]!;
    const ways = levels[level]!.get(to)!;
    const slope = slopes[slopes.length - 1];
    const way = slope === undefined ? ways[0]! : nearestWay(ways, slope);
    keys.push(way.from);
    if (!options.joined) continue;
    const ahead = levels[level - 1]!.get(way.from)!;
    const found = slopesBack(points, places[way.from]!, places[to]!, united(ahead), slope, options);
    if (slope === undefined) slopes.push(found[1]);
    slopes.push(found[0]);
  }
  return { keys: keys.reverse().map((place) => places[place]!), slopes: Float64Array.from(slopes.reverse()) };
}

const nearestWay = (ways: readonly Reached[], slope: number) => {
  const away = ({ least, most }: Reached) => Math.max(least - slope, slope - most, 0);
  return ways.reduce((best, way) => (away(way) < away(best) ? way : best));
};

const cuts = new Float64Array(2);

/** A slope of the first key that goes with `slope` of the second (any, where that is open), and that one. */
function slopesBack(
  points: Points,
  from: number,
  to: number,
  ahead: readonly { least: number; most: number }[],
  slope: number | undefined,
  asked: Asked,
): [number, number] {
  for (const { least, most } of ahead) {
    if (!lookForRegion(points, from, to, least, most, asked)) continue;
    const { out, into } = region();
    if (slope === undefined) {
      const middle = (of: Float64Array) => of.reduce((sum, value) => sum + value, 0) / of.length;
      return [middle(out), middle(into)];
    }
    const holds = into.some((value) => value >= slope) && into.some((value) => value <= slope);
    if (!holds && ahead.length > 1) continue;
    slice(into, out, slope, cuts);
    return [(cuts[0]! + cuts[1]!) / 2, slope];
  }
  const chord = (points.values[to]! - points.values[from]!) / (points.times[to]! - points.times[from]!);
  const nearest = ahead.map(({ least, most }) => Math.min(most, Math.max(least, chord)))[0] ?? chord;
  return [nearest, slope ?? chord];
}

const ANY = { least: -Infinity, most: Infinity };

interface Search extends Breadth {
  readonly points: Points;
  readonly places: Int32Array;
  readonly asked: Asked;
  readonly joined: boolean;
  /** Places that no segment passes, rising. */
  readonly stops: readonly number[];
}

/** A place with slopes from which the next segments set out, and the last place that they may reach. */
interface Start {
  readonly place: number;
  readonly least: number;
  readonly most: number;
  readonly stop: number;
}

/**
 * What one more segment reaches: first how far any gets, then from where the places that are carried on are reached.
 * @param before the farthest place of the level that it sets out from @param usual about how far a segment gets
 */
function nextLevel(search: Search, level: Level, before: number, usual: number) {
  const { joined, stops, places, past, carried } = search;
  const last = places.length - 1;
  const starts = [...level]
    .sort(([a], [b]) => b - a)
    .flatMap(([place, ways]) => {
      const stop = stops[bisectRight(stops, place)] ?? last;
      return (joined ? united(ways) : [ANY]).map(({ least, most }): Start => ({ place, least, most, stop }));
    });
  const found = new Map<number, Reached[]>();
  const tried = (start: Start, to: number) => {
    const way = wayTo(search, start, to);
    if (way === null) return false;
    const ways = found.get(to);
    if (ways === undefined) found.set(to, [way]);
    else if (!ways.some(({ least, most }) => least <= way.least && way.most <= most)) ways.push(way);
    return true;
  };
  let reach = before;
  for (const start of starts) {
    const onward = (from: number, guess: number) =>
      from + farthest(start.stop - from, (distance) => tried(start, from + distance), guess);
    if (reach === before) {
      const to = onward(start.place, Math.max(2, usual));
      if (found.has(to) || tried(start, to)) reach = Math.max(reach, to);
    }
    for (let to = reach + 1, misses = 0; to <= start.stop && misses < past; to += 1) {
      misses = tried(start, to) ? 0 : misses + 1;
      if (misses === 0) to = reach = onward(to - 1, 2);
    }
  }
  const result = new Map<number, readonly Reached[]>();
  for (const behind of carried) {
    const to = reach - behind;
    if (to <= before) break;
    for (const start of starts) {
      const ways = found.get(to);
      if (!joined && ways !== undefined) break;
      if (start.place < to && to <= start.stop && !ways?.some(({ from }) => from === start.place))
        tried(start, to);
    }
    if (found.has(to)) result.set(to, found.get(to)!);
  }
  return { level: result, farthest: reach };
}

/** How one segment gets from a place to another, or null. */
function wayTo({ points, places, asked, joined }: Search, start: Start, to: number): Reached | null {
  const from = start.place;
  if (!lookForRegion(points, places[from]!, places[to]!, start.least, start.most, asked)) return null;
  if (!joined) return { ...ANY, from };
  regionSlopes(cuts);
  return { least: cuts[0]!, most: cuts[1]!, from };
}

/** Intervals that meet as one. */
function united(ways: readonly Reached[]): { least: number; most: number }[] {
  if (ways.length === 1) return [ways[0]!];
  const result: { least: number; most: number }[] = [];
  for (const { least, most } of [...ways].sort((a, b) => a.least - b.least)) {
    const last = result[result.length - 1];
    if (last && least <= last.most) last.most = Math.max(last.most, most);
    else result.push({ least, most });
  }
  return result;
}
