/** When a character flies: the spans in which nothing of it stands, and what its flights say of its size. */
import type { FrameRange } from '../base/frame-range.ts';
import { framesPerSecond } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { fallOf, freeFlightOf, GRAVITY } from '../motion/flight.ts';
import type { Fall } from '../motion/flight.ts';
import { bodyOf } from './body-of.ts';
import { centrePath } from './centre-of-mass.ts';

/** Seconds: what is shorter is a step, no flight. */
const SHORTEST = 0.12;

export interface Flight extends FrameRange {
  /** Downward, units of the shot a second², as the centre of mass falls in the middle of it. */
  readonly gravity: number;
  /** How much of its heights that says, 0…1. */
  readonly explained: number;
  /** How far it is from free flight at the size that the character is said to have, cm. */
  readonly greatest: number;
  readonly rms: number;
  /** The frame that is farthest off. */
  readonly worst: number;
}

/** Spans between stands, take-off and landing themselves excluded: on those frames something stands. @param stands of all points, frames */
export function flightSpans(stands: readonly FrameRange[], rate: number): FrameRange[] {
  const sorted = [...stands].sort((a, b) => a.start - b.start);
  const spans: FrameRange[] = [];
  let end = sorted[0]?.end ?? 0;
  for (const stand of sorted) {
    if (stand.start - end >= SHORTEST * rate) spans.push({ start: end, end: stand.start });
    end = Math.max(end, stand.end);
  }
  return spans;
}

/** The flights of a character, by where it stands. */
export function flightsOf(shot: Shot, character: string | null, stands: readonly FrameRange[]): Flight[] {
  const rate = framesPerSecond(shot.rate);
  const { unit } = bodyOf(shot, character);
  return flightSpans(stands, rate).flatMap(({ start, end }): Flight[] => {
    const path = centrePath(shot, character, { start, end });
    if (!path || path.places.length < 4) return [];
    const free = freeFlightOf(path.places, rate, GRAVITY / unit);
    return [
      {
        start,
        end,
        ...middleFall(path.places, rate),
        greatest: free.greatest * unit,
        rms: free.rms * unit,
        worst: start + free.worst,
      },
    ];
  });
}

/** Feet stay on the ground for a moment after they begin to go: only the middle of a flight is free. */
const MIDDLE = 0.7;

function middleFall(places: Parameters<typeof fallOf>[0], rate: number): Fall {
  const cut = Math.floor((places.length * (1 - MIDDLE)) / 2);
  const free = places.slice(cut, places.length - cut);
  return fallOf(free.length >= 4 ? free : places, rate);
}

/** Only flights of so many seconds, and such as look like a fall, say how large somebody is. */
const [TELLING, LONGEST, LIKE_A_FALL] = [0.25, 1.5, 0.98];

/** So near to each other leaps say the same. */
const AGREES = 0.2;

/** cm that a unit of the shot's numbers is, as the longest flights fall; null where fewer than two of them agree. */
export function unitByFlights(shot: Shot, flights: readonly Flight[]): number | null {
  const rate = framesPerSecond(shot.rate);
  const long = flights.filter(({ start, end, gravity, explained }) => {
    const seconds = (end - start) / rate;
    return seconds >= TELLING && seconds <= LONGEST && gravity > 0 && explained >= LIKE_A_FALL;
  });
  const units = long.map(({ gravity }) => GRAVITY / gravity).sort((a, b) => a - b);
  const middle = units[units.length >> 1];
  if (middle === undefined) return null;
  // One that falls as no other does may be a hop of a puppet, or a foot that was lost from sight.
  const agree = units.filter((unit) => Math.abs(unit / middle - 1) < AGREES);
  return agree.length >= 2 && 2 * agree.length > units.length ? middle : null;
}
