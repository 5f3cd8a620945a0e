/** Which time of one shot lies beside which of another: by a frame of each, by marks of each, or as it is found in the poses. */
import { refuse } from '../base/finding.ts';
import { framesOf } from '../base/frame-range.ts';
import { framesPerSecond, rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { worldInto } from '../evaluation/evaluation.ts';
import { newWorldPose } from '../rig/pose.ts';
import type { Paired } from './paired.ts';
import { warpSequences } from './time-warp.ts';
import type { Sequence } from './time-warp.ts';

/** Frames of the first and of the second that lie beside each other; the first rise, the second never fall. Straight between them. */
export interface Alignment {
  readonly a: Float64Array;
  readonly b: Float64Array;
  /** Frames of the second for each of the first, before and after all of them. */
  readonly pace: number;
}

/** The frame of the second beside one of the first. */
export function besideFrame({ a, b, pace }: Alignment, frame: number): number {
  const last = a.length - 1;
  if (frame <= a[0]!) return b[0]! + (frame - a[0]!) * pace;
  if (frame >= a[last]!) return b[last]! + (frame - a[last]!) * pace;
  let [low, high] = [0, last];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (a[middle]! <= frame) low = middle;
    else high = middle;
  }
  const part = (frame - a[low]!) / (a[high]! - a[low]!);
  return b[low]! + part * (b[high]! - b[low]!);
}

const paceOf = (a: Shot, b: Shot): number => framesPerSecond(b.rate) / framesPerSecond(a.rate);

/** By one frame of each; seconds run alike. */
export const alignedAt = (a: Shot, b: Shot, frameA: number, frameB: number): Alignment => ({
  a: Float64Array.of(frameA),
  b: Float64Array.of(frameB),
  pace: paceOf(a, b),
});

/** By marks of each in their order, as many as both have; refused where there is none. */
export function alignedByMarks(
  a: Shot,
  b: Shot,
  marksA: readonly number[],
  marksB: readonly number[],
): Alignment {
  const count = Math.min(marksA.length, marksB.length);
  if (count === 0) refuse('noMarksToAlign', {}, marksA.length, marksB.length);
  return {
    a: Float64Array.from(marksA.slice(0, count)),
    b: Float64Array.from(marksB.slice(0, count)),
    pace: paceOf(a, b),
  };
}

/** A figure never runs more than so many times as fast as the other. */
const STEEPEST = 3;

/**
 * As it is found: the poses of both, whole frame by whole frame of the first, through dynamic time warping, first beside first and last beside last. Refused where
 * nothing is paired, or one is more than `slope` times as long as the other, in seconds.
 */
export function alignedByPoses(a: Shot, b: Shot, paired: Paired, slope: number = STEEPEST): Alignment {
  if (paired.pairs.length === 0) refuse('nothingPaired', {});
  const pace = paceOf(a, b);
  const [framesA, framesB] = [framesOf(a.range), framesOf(b.range, pace)];
  const [posesA, posesB] = [features(a, framesA, paired, 'a'), features(b, framesB, paired, 'b')];
  const way = warpSequences(posesA, posesB, slope);
  if (way === null) refuse('warpTooSteep', {}, framesA.length - 1, framesB.length - 1, slope);
  return { a: framesA, b: way.map((at) => b.range.start + at * pace), pace };
}

/**
 * A pose as numbers: where its joints lie from their middle, and where that middle lies, which tells a walk from one on the spot; of the second in the size of the first.
 */
function features(shot: Shot, frames: Float64Array, { pairs }: Paired, side: 'a' | 'b'): Sequence {
  const rig = rigOf(shot);
  const rows = pairs.map((pair) => pair[side]);
  const scales = pairs.map(({ scale }) => (side === 'b' ? scale : 1));
  const width = 3 * (rows.length + 1);
  const values = new Float64Array(frames.length * width);
  const pose = newWorldPose(rig);
  const channels = new Float64Array(rig.channels.length);
  frames.forEach((frame, f) => {
    worldInto(shot, frame, channels, pose);
    const at = f * width;
    for (let axis = 0; axis < 3; axis += 1) {
      let middle = 0;
      rows.forEach((row, k) => {
        const place = pose.matrices[row * 16 + 12 + axis]! * scales[k]!;
        values[at + 3 * k + axis] = place;
        middle += place / rows.length;
      });
      for (let k = 0; k < rows.length; k += 1) values[at + 3 * k + axis]! -= middle;
      values[at + 3 * rows.length + axis] = middle * Math.sqrt(rows.length);
    }
  });
  return { count: frames.length, width, values };
}
