/** Contacts of a character, as its motion shows them. */
import type { FrameRange } from '../base/frame-range.ts';
import { framesOf } from '../base/frame-range.ts';
import { framesPerSecond, rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { worldsOver } from '../evaluation/evaluation.ts';
import type { Triple } from '../math/euler.ts';
import { limitsOf, standsOf } from '../motion/contacts.ts';
import type { ContactLimits } from '../motion/contacts.ts';
import { pointIn } from '../rig/body-point.ts';
import { partFor } from '../rig/influence.ts';
import type { BodyPoint } from '../rig/body-point.ts';
import { legLength, solesOf } from './soles.ts';
import type { StandingPoint } from './soles.ts';

/** Where points lie on the frames of a range, by the list. */
export function tracksOf(shot: Shot, points: readonly BodyPoint[], frames: Float64Array): Triple[][] {
  const tracks: Triple[][] = points.map(() => []);
  if (points.length === 0) return tracks;
  const part = partFor(rigOf(shot), [...new Set(points.map(({ node }) => node))]);
  for (const { pose } of worldsOver(shot, frames, part))
    points.forEach((point, k) => tracks[k]!.push(pointIn(pose, point)));
  return tracks;
}

export interface FoundContacts {
  readonly points: readonly StandingPoint[];
  readonly frames: Float64Array;
  /** By point, where it lies. */
  readonly tracks: readonly (readonly Triple[])[];
  readonly limits: ContactLimits;
  /** The length of a leg, in the units of the shot's numbers. */
  readonly leg: number;
  /** By point, frames. */
  readonly stands: readonly (readonly FrameRange[])[];
}

/** @param wishes limits that were typed; what is left out the motion says @param points what may stand: the soles of its feet when left out */
export function findContacts(
  shot: Shot,
  character: string | null,
  range: FrameRange = shot.range,
  wishes: Partial<ContactLimits> = {},
  points: readonly StandingPoint[] = solesOf(shot, character),
): FoundContacts {
  const frames = framesOf(range);
  const tracks = tracksOf(shot, points, frames);
  const leg = legLength(shot, character);
  const rate = framesPerSecond(shot.rate);
  const limits = { ...limitsOf(tracks, leg, rate), ...wishes };
  const stands = tracks.map((places) =>
    standsOf(places, leg, rate, limits).map(({ first, last }) => ({
      start: frames[first]!,
      end: frames[last]!,
    })),
  );
  return { points, frames, tracks, limits, leg, stands };
}
