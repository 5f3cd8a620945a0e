/** How rough a motion is along time: the squared jerk of what weighs, in the world, and where it is worst. */
import type { FrameRange } from '../base/frame-range.ts';
import { framesOf } from '../base/frame-range.ts';
import { framesPerSecond, rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import type { PointMass } from '../motion/body.ts';
import { bodyOf } from './body-of.ts';
import { tracksOf } from './found-contacts.ts';

interface RoughMoment {
  readonly frame: number;
  /** What jerks most there. */
  readonly node: string;
  /** Of the roughness of that frame, 0…1. */
  readonly share: number;
}

export interface Roughness {
  readonly frames: Float64Array;
  /** By frame: mass times jerk², summed; (cm/s³)² in the units of the shot. Between its own third differences it is 0 at the ends. */
  readonly profile: Float64Array;
  readonly total: number;
  /** The worst moments, worst first, not nearer to each other than a sixth of a second. */
  readonly worst: readonly RoughMoment[];
}

/** What of a character counts: the points of its segments. */
export const weighingPoints = (shot: Shot, character: string | null): readonly PointMass[] =>
  bodyOf(shot, character).segments.flatMap(({ points }) => points);

const MOMENTS = 3;

export function roughnessOf(shot: Shot, points: readonly PointMass[], range: FrameRange): Roughness {
  const frames = framesOf(range);
  const tracks = tracksOf(
    shot,
    points.map(({ row, at }) => ({ node: row, at })),
    frames,
  );
  const rate = framesPerSecond(shot.rate);
  const profile = new Float64Array(frames.length);
  const parts = points.map(() => new Float64Array(frames.length));
  points.forEach(({ share }, p) => {
    const at = tracks[p]!;
    // A third difference lies between two frames: each gets half of it.
    for (let f = 1; f + 2 < frames.length; f += 1) {
      let square = 0;
      for (let axis = 0; axis < 3; axis += 1)
        square +=
          (rate ** 3 * (at[f + 2]![axis]! - 3 * at[f + 1]![axis]! + 3 * at[f]![axis]! - at[f - 1]![axis]!)) **
          2;
      for (const k of [f, f + 1]) {
        profile[k]! += (share * square) / 2;
        parts[p]![k]! += (share * square) / 2;
      }
    }
  });
  return { frames, profile, total: profile.reduce((sum, part) => sum + part, 0), worst: worstOf() };

  function worstOf(): RoughMoment[] {
    const apart = Math.max(1, Math.round(rate / 6));
    const order = [...profile.keys()].sort((a, b) => profile[b]! - profile[a]!);
    const found: number[] = [];
    for (const k of order) {
      if (found.length === MOMENTS || !(profile[k]! > 0)) break;
      if (found.every((other) => Math.abs(other - k) >= apart)) found.push(k);
    }
    return found.map((k): RoughMoment => {
      const byNode = new Map<number, number>();
      points.forEach(({ row }, p) => byNode.set(row, (byNode.get(row) ?? 0) + parts[p]![k]!));
      const [row, most] = [...byNode].reduce((best, one) => (one[1] > best[1] ? one : best));
      return { frame: frames[k]!, node: rigOf(shot).nodes[row]!.id, share: most / profile[k]! };
    });
  }
}
