/** Free flight: the parabola on which a centre of mass falls, and what gravity a motion seems to have. Time in seconds, places in any one unit. */
import type { Triple } from '../math/euler.ts';

/** Standard gravity, cm/s² (CGPM 1901). */
export const GRAVITY = 980.665;

export interface Parabola {
  /** Where it is at time 0, and how fast. */
  readonly from: Triple;
  readonly speed: Triple;
  /** Downward, units a second². */
  readonly gravity: number;
}

/** The free flight between two places. @param seconds from the one to the other, more than 0 @param gravity downward, units a second² */
export function parabolaThrough(
  from: Readonly<Triple>,
  to: Readonly<Triple>,
  seconds: number,
  gravity: number,
): Parabola {
  return {
    from: [...from],
    speed: [
      (to[0] - from[0]) / seconds,
      (to[1] - from[1]) / seconds + (gravity * seconds) / 2,
      (to[2] - from[2]) / seconds,
    ],
    gravity,
  };
}

export function placeOn({ from, speed, gravity }: Parabola, seconds: number): Triple {
  return [
    from[0] + speed[0] * seconds,
    from[1] + speed[1] * seconds - (gravity * seconds * seconds) / 2,
    from[2] + speed[2] * seconds,
  ];
}

/** When it is highest, seconds from its begin; 0 where it falls at once. */
export const topAt = ({ speed, gravity }: Parabola): number =>
  gravity > 0 ? Math.max(0, speed[1] / gravity) : 0;

/**
 * How long a leap over a given height takes: up √(2h/g), down √(2h′/g).
 * @param rise above the take-off @param fall above the landing; both at least 0 @param gravity units a second², more than 0
 */
export const leapSeconds = (rise: number, fall: number, gravity: number): number =>
  Math.sqrt((2 * rise) / gravity) + Math.sqrt((2 * fall) / gravity);

/** How high above its take-off a leap of a given time rises, by where it lands. */
export function riseOf(seconds: number, drop: number, gravity: number): number {
  // drop is how far the landing lies below the take-off: v = g T / 2 − drop / T.
  const up = (gravity * seconds) / 2 - drop / seconds;
  return up > 0 ? (up * up) / (2 * gravity) : 0;
}

export interface FreeFlight {
  /** Downward, units a second²: of the best parabola through all of it. */
  readonly gravity: number;
  /** How far the motion is from a free flight between its own ends, with the gravity that was asked. */
  readonly greatest: number;
  readonly rms: number;
  /** The place in the list that is farthest off. */
  readonly worst: number;
}

/** @param places by frame, at least four @param rate frames a second @param gravity that it should have, units a second² */
export function freeFlightOf(places: readonly Readonly<Triple>[], rate: number, gravity: number): FreeFlight {
  const last = places.length - 1;
  const ideal = parabolaThrough(places[0]!, places[last]!, last / rate, gravity);
  let [greatest, worst, sum] = [0, 0, 0];
  places.forEach((place, k) => {
    const on = placeOn(ideal, k / rate);
    const off = Math.hypot(place[0] - on[0], place[1] - on[1], place[2] - on[2]);
    sum += off * off;
    if (off > greatest) [greatest, worst] = [off, k];
  });
  return { gravity: fallOf(places, rate).gravity, greatest, worst, rms: Math.sqrt(sum / places.length) };
}

export interface Fall {
  /** Downward, units a second². */
  readonly gravity: number;
  /** How much of the heights the parabola says, 0…1. */
  readonly explained: number;
}

/** The gravity that heights seem to have: of the parabola that is nearest to them (least squares). */
export function fallOf(places: readonly Readonly<Triple>[], rate: number): Fall {
  const n = places.length;
  const middle = (n - 1) / 2;
  const mean = places.reduce((sum, [, y]) => sum + y / n, 0);
  // About the middle of an even grid t and t² − mean(t²) are at right angles to each other and to 1.
  const spread = (n * n - 1) / 12;
  let [level, slope, bend, along, across] = [0, 0, 0, 0, 0];
  places.forEach(([, y], k) => {
    const [t, square] = [k - middle, (k - middle) ** 2 - spread];
    level += (y - mean) ** 2;
    slope += t * (y - mean);
    bend += square * (y - mean);
    along += t * t;
    across += square * square;
  });
  if (!(across > 0)) return { gravity: 0, explained: 0 };
  const said = slope ** 2 / along + bend ** 2 / across;
  return { gravity: (-2 * bend * rate * rate) / across, explained: level > 0 ? said / level : 0 };
}
