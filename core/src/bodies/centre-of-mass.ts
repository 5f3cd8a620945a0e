/** The centre of mass of a character, through every layer and relation: its place, speed and acceleration. */
import type { FrameRange } from '../base/frame-range.ts';
import { framesOf } from '../base/frame-range.ts';
import { framesPerSecond, rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { worldAt, worldsOver } from '../evaluation/evaluation.ts';
import type { Triple } from '../math/euler.ts';
import type { Segment } from '../motion/body.ts';
import { partFor } from '../rig/influence.ts';
import type { WorldPose } from '../rig/pose.ts';
import { bodyOf } from './body-of.ts';

/** The middle of what weighs, in a pose; the pose's own units. */
export function centreIn({ matrices }: Pick<WorldPose, 'matrices'>, segments: readonly Segment[]): Triple {
  let [x, y, z, all] = [0, 0, 0, 0];
  for (const { points } of segments)
    for (const { row, at, share } of points) {
      const m = row * 16;
      const [a, b, c] = at;
      x += share * (matrices[m]! * a + matrices[m + 4]! * b + matrices[m + 8]! * c + matrices[m + 12]!);
      y += share * (matrices[m + 1]! * a + matrices[m + 5]! * b + matrices[m + 9]! * c + matrices[m + 13]!);
      z += share * (matrices[m + 2]! * a + matrices[m + 6]! * b + matrices[m + 10]! * c + matrices[m + 14]!);
      all += share;
    }
  return all > 0 ? [x / all, y / all, z / all] : [0, 0, 0];
}

/** @returns in the units of the shot's numbers; null for a character without a node */
export function centreOfMass(shot: Shot, character: string | null, frame: number): Triple | null {
  const { segments } = bodyOf(shot, character);
  return segments.length > 0 ? centreIn(worldAt(shot, frame), segments) : null;
}

export interface CentrePath {
  readonly frames: Float64Array;
  readonly places: readonly Triple[];
  /** Units a second. */
  readonly speeds: readonly Triple[];
  /** Units a second². */
  readonly accelerations: readonly Triple[];
}

/** The centre on the frames of a range, with what its differences say: central ones, at the ends those beside them. */
export function centrePath(
  shot: Shot,
  character: string | null,
  range: FrameRange,
  step = 1,
): CentrePath | null {
  const { segments } = bodyOf(shot, character);
  if (segments.length === 0) return null;
  const rows = [...new Set(segments.flatMap(({ points }) => points.map(({ row }) => row)))];
  const frames = framesOf(range, step);
  const places: Triple[] = [];
  for (const { pose } of worldsOver(shot, frames, partFor(rigOf(shot), rows)))
    places.push(centreIn(pose, segments));
  const seconds = step / framesPerSecond(shot.rate);
  const last = places.length - 1;
  const inside = (k: number) => Math.min(Math.max(k, 1), Math.max(1, last - 1));
  const at = (k: number) => places[Math.min(Math.max(k, 0), last)]!;
  const each = (make: (k: number, axis: number) => number) =>
    places.map((_, k) => [0, 1, 2].map((axis) => (last < 2 ? 0 : make(inside(k), axis))) as Triple);
  return {
    frames,
    places,
    speeds: each((k, axis) => (at(k + 1)[axis]! - at(k - 1)[axis]!) / (2 * seconds)),
    accelerations: each((k, axis) => (at(k + 1)[axis]! - 2 * at(k)[axis]! + at(k - 1)[axis]!) / seconds ** 2),
  };
}
