/** Curves through turns and places that are worked out frame by frame. */
import { rising } from '../base/frames.ts';
import { curveAlong, shownBy, straightThrough } from '../curve/curve-through.ts';
import { SEGMENT } from '../curve/curve.ts';
import type { Curve } from '../curve/curve.ts';
import { jumpsOfCurve } from '../curve/jumps.ts';
import { eulerFromQuat } from '../math/euler.ts';
import type { EulerOrder, Quaternion, Triple } from '../math/euler.ts';

/** Between keys a curve that is keyed anew keeps within this of what it shall be: degrees, cm. */
const TOLERANCE = 0.01;

/** The three angles of a turn; @param made the curves that it is made of */
export function anglesAlong(
  turnAt: (frame: number) => Quaternion,
  order: EulerOrder,
  made: readonly (Curve | undefined)[],
): Curve[] {
  const seen = new Map<number, Triple>();
  const anglesAt = (frame: number, near: Triple): Triple => eulerFromQuat(turnAt(frame), order, near);
  const times = keyTimes(made);
  // Angles go on from frame to frame, so that nothing turns the long way; between frames they go by the frame before.
  const [first, last] = [Math.floor(times[0]!), Math.ceil(times[times.length - 1]!)];
  let near: Triple = [0, 0, 0];
  for (let frame = first; frame <= last; frame += 1) seen.set(frame, (near = anglesAt(frame, near)));
  const at = (frame: number): Triple =>
    seen.get(frame) ?? anglesAt(frame, seen.get(Math.floor(frame)) ?? near);
  return threeAlong(at, made);
}

/** Three curves through what they are by frame, cut where any of those that they are made of jumps. */
export function threeAlong(
  at: (frame: number) => Readonly<Triple>,
  made: readonly (Curve | undefined)[],
): Curve[] {
  // One axis after the other asks for the same frames.
  const known = new Map<number, Readonly<Triple>>();
  const once = (frame: number): Readonly<Triple> => {
    let found = known.get(frame);
    if (found === undefined) known.set(frame, (found = at(frame)));
    return found;
  };
  const times = keyTimes(made);
  // Captured motion is straight from frame to frame, and stays so.
  if (made.every((curve) => curve === undefined || isCaptured(curve)))
    return [0, 1, 2].map((axis) =>
      straightThrough(
        shownBy((frame) => once(frame)[axis]!),
        times,
      ),
    );
  const jumps = jumpsOf(made);
  return [0, 1, 2].map((axis) =>
    curveAlong(
      shownBy((frame) => once(frame)[axis]!, jumps),
      times,
      TOLERANCE,
    ),
  );
}

/** Whether a curve has a key on each frame, at least, and is straight between them. */
const isCaptured = ({ times, segments }: Curve): boolean =>
  times.every(
    (time, row) =>
      row + 1 === times.length || (times[row + 1]! - time < 1 + 1e-6 && segments[row] === SEGMENT.linear),
  );

const EVERYWHERE = { start: -Infinity, end: Infinity };
const jumpsOf = (curves: readonly (Curve | undefined)[]): number[] =>
  rising(...curves.map((curve) => (curve ? jumpsOfCurve(held(curve), EVERYWHERE) : [])));
/** Within its keys alone. */
const held = (curve: Curve): Curve => ({ ...curve, leadIn: 'hold', leadOut: 'hold' });

const keyTimes = (curves: readonly (Curve | undefined)[]): number[] =>
  [...new Set(curves.flatMap((curve) => [...(curve?.times ?? [])]))].sort((a, b) => a - b);
