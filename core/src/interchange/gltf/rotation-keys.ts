/**
 * Euler curves for a rotation that is given as quaternions over time.
 *
 * glTF turns along the shortest slerp (LINEAR) or a normalised spline (CUBICSPLINE); Euler curves cannot follow
 * either exactly. Each stretch between two keys is tried as one segment, straight or cubic with the slopes that the
 * turn has at its ends, and halved where the orientation is off by more than `TOLERANCE_DEGREES`.
 */
import { eulerFromQuat, quatFromEuler } from '../../math/euler.ts';
import type { EulerOrder, Quaternion, Triple } from '../../math/euler.ts';
import { hermite } from '../../math/hermite.ts';
import { angleBetween } from '../../math/quaternion.ts';

const TOLERANCE_DEGREES = 0.005;
const DEEPEST = 8;
const PROBES = [0.15, 0.35, 0.5, 0.65, 0.85];

/** One segment of the three curves: ends and slopes (degrees, degrees per frame). */
export interface TurnSegment {
  readonly start: number;
  readonly end: number;
  readonly from: Triple;
  readonly to: Triple;
  readonly straight: boolean;
  readonly slopeOut: Triple;
  readonly slopeIn: Triple;
}

/**
 * Segments that follow `turnAt` over [start, end].
 * @param near the Euler angles at `start`
 */
export function turnSegments(
  turnAt: (frame: number) => Quaternion,
  start: number,
  end: number,
  near: Triple,
  order: EulerOrder,
  depth = 0,
): TurnSegment[] {
  const from = eulerFromQuat(turnAt(start), order, near);
  // The far end is reached in small steps, so that a long turn is not taken the short way round.
  let to = from;
  for (const u of [0.25, 0.5, 0.75, 1]) to = eulerFromQuat(turnAt(start + (end - start) * u), order, to);
  const chord = to.map((angle, axis) => (angle - from[axis]!) / (end - start)) as Triple;
  const straight: TurnSegment = { start, end, from, to, straight: true, slopeOut: chord, slopeIn: chord };
  if (segmentError(straight, turnAt, order) <= TOLERANCE_DEGREES) return [straight];
  const step = (end - start) * 1e-4;
  const slopeOut = slope(from, eulerFromQuat(turnAt(start + step), order, from), step);
  const slopeIn = slope(eulerFromQuat(turnAt(end - step), order, to), to, step);
  const curved: TurnSegment = { ...straight, straight: false, slopeOut, slopeIn };
  if (depth >= DEEPEST || segmentError(curved, turnAt, order) <= TOLERANCE_DEGREES) return [curved];
  const middle = (start + end) / 2;
  const first = turnSegments(turnAt, start, middle, from, order, depth + 1);
  const last = first[first.length - 1]!;
  return [...first, ...turnSegments(turnAt, middle, end, last.to, order, depth + 1)];
}

const slope = (a: Triple, b: Triple, step: number) =>
  a.map((angle, axis) => (b[axis]! - angle) / step) as Triple;

function segmentError(
  segment: TurnSegment,
  turnAt: (frame: number) => Quaternion,
  order: EulerOrder,
): number {
  const gap = segment.end - segment.start;
  const turn: Quaternion = [0, 0, 0, 1];
  let greatest = 0;
  for (const u of PROBES) {
    const [x, y, z] = [0, 1, 2].map((axis) =>
      hermite(
        segment.from[axis]!,
        segment.slopeOut[axis]! * gap,
        segment.to[axis]!,
        segment.slopeIn[axis]! * gap,
        u,
      ),
    ) as Triple;
    quatFromEuler(turn, 0, x, y, z, order);
    greatest = Math.max(greatest, angleBetween(turn, turnAt(segment.start + u * gap)));
  }
  return greatest;
}
