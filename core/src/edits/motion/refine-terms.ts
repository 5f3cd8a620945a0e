/**
 * What places of points cost: each term is a sum of squares of what is linear in them, so that its change with a place is exact. Places and pulls hold three numbers a frame, by point.
 */
import type { GroundPoint } from '../../motion/support.ts';
import { nearestOnHull } from '../../motion/support.ts';

type Columns = readonly Float64Array[];

export interface PlaceTerm {
  readonly cost: (places: Columns) => number;
  /** Adds what a unit of each place costs, times `by`. */
  readonly pull: (places: Columns, pulls: Columns, by: number) => void;
}

/** Squared jerk, by share of mass. @param shares of the points from the first on */
export function jerkTerm(shares: readonly number[], frames: number, rate: number): PlaceTerm {
  const cubes = rate ** 3;
  const jerkAt = (at: Float64Array, i: number) =>
    cubes * (at[i + 6]! - 3 * at[i + 3]! + 3 * at[i]! - at[i - 3]!);
  return {
    cost(places) {
      let sum = 0;
      shares.forEach((share, p) => {
        const at = places[p]!;
        for (let i = 3; i < 3 * (frames - 2); i += 1) sum += share * jerkAt(at, i) ** 2;
      });
      return sum;
    },
    pull(places, pulls, by) {
      shares.forEach((share, p) => {
        const [at, pull] = [places[p]!, pulls[p]!];
        for (let i = 3; i < 3 * (frames - 2); i += 1) {
          const jerk = 2 * by * share * cubes * jerkAt(at, i);
          pull[i + 6]! += jerk;
          pull[i + 3]! -= 3 * jerk;
          pull[i]! += 3 * jerk;
          pull[i - 3]! -= jerk;
        }
      });
    },
  };
}

/** Frames, by their places in the list, on which a point stands. */
export interface Stand {
  /** Its place among the points. */
  readonly point: number;
  readonly first: number;
  readonly last: number;
}

/** Squared speed along the ground of what stands. */
export function slideTerm(stands: readonly Stand[], rate: number): PlaceTerm {
  const over = (each: (point: number, i: number) => void) => {
    for (const { point, first, last } of stands)
      for (let f = first; f < last; f += 1) for (const axis of [0, 2]) each(point, 3 * f + axis);
  };
  return {
    cost(places) {
      let sum = 0;
      over((p, i) => (sum += (rate * (places[p]![i + 3]! - places[p]![i]!)) ** 2));
      return sum;
    },
    pull(places, pulls, by) {
      over((p, i) => {
        const way = 2 * by * rate * rate * (places[p]![i + 3]! - places[p]![i]!);
        pulls[p]![i + 3]! += way;
        pulls[p]![i]! -= way;
      });
    },
  };
}

/** The centre of mass of a body: of the points that move, and of all that stays as it is. */
interface Middle {
  /** Places among the points, and the share of the whole mass that each bears. */
  readonly points: readonly (readonly [point: number, share: number])[];
  /** What the rest gives, three numbers a frame. */
  readonly rest: Float64Array;
}

const middleAt = ({ points, rest }: Middle, places: Columns, i: number): number =>
  points.reduce((sum, [p, share]) => sum + share * places[p]![i]!, rest[i]!);

function pullMiddle({ points }: Middle, pulls: Columns, i: number, by: number): void {
  for (const [p, share] of points) pulls[p]![i]! += share * by;
}

export interface Leaning {
  readonly middle: Middle;
  /** What carries it, by frame; of a frame without a hull nothing is asked. */
  readonly hulls: readonly (readonly GroundPoint[])[];
  /** How much each frame counts. */
  readonly weights: Float64Array;
}

/** How far centres lean out of what carries them, squared. The ground that carries them is that of before. */
export function balanceTerm(leanings: readonly Leaning[]): PlaceTerm {
  const over = (places: Columns, each: (one: Leaning, f: number, way: GroundPoint) => void) => {
    for (const one of leanings)
      one.hulls.forEach((hull, f) => {
        const [x, z] = [0, 2].map((axis) => middleAt(one.middle, places, 3 * f + axis)) as GroundPoint;
        const near = nearestOnHull([x, z], hull);
        if (near) each(one, f, [x - near[0], z - near[1]]);
      });
  };
  return {
    cost(places) {
      let sum = 0;
      over(places, ({ weights }, f, [x, z]) => (sum += weights[f]! * (x * x + z * z)));
      return sum;
    },
    pull(places, pulls, by) {
      over(places, ({ middle, weights }, f, [x, z]) => {
        pullMiddle(middle, pulls, 3 * f, 2 * by * weights[f]! * x);
        pullMiddle(middle, pulls, 3 * f + 2, 2 * by * weights[f]! * z);
      });
    },
  };
}

export interface Falling {
  readonly middle: Middle;
  /** Take-off and landing, by their places in the frames. */
  readonly first: number;
  readonly last: number;
  /** Downward, units a frame². */
  readonly gravity: number;
}

/** How far centres are from the parabola between where they take off and where they land, squared. */
export function flightTerm(fallings: readonly Falling[]): PlaceTerm {
  const over = (places: Columns, each: (one: Falling, f: number, axis: number, off: number) => void) => {
    for (const one of fallings) {
      const { middle, first, last, gravity } = one;
      for (let f = first + 1; f < last; f += 1)
        for (let axis = 0; axis < 3; axis += 1) {
          const u = (f - first) / (last - first);
          const [from, to, at] = [first, last, f].map((k) => middleAt(middle, places, 3 * k + axis)) as [
            number,
            number,
            number,
          ];
          const lift = axis === 1 ? (gravity / 2) * (f - first) * (last - f) : 0;
          each(one, f, axis, at - (1 - u) * from - u * to - lift);
        }
    }
  };
  return {
    cost(places) {
      let sum = 0;
      over(places, (_, __, ___, off) => (sum += off * off));
      return sum;
    },
    pull(places, pulls, by) {
      over(places, ({ middle, first, last }, f, axis, off) => {
        const u = (f - first) / (last - first);
        pullMiddle(middle, pulls, 3 * f + axis, 2 * by * off);
        pullMiddle(middle, pulls, 3 * first + axis, -2 * by * (1 - u) * off);
        pullMiddle(middle, pulls, 3 * last + axis, -2 * by * u * off);
      });
    },
  };
}
