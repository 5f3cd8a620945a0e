/** Curves through turns and places that are worked out frame by frame. */
import { rising } from '../base/frames.ts';
import { curveAlong, shownBy } from '../curve/curve-through.ts';
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
  const at = (frame: number, axis: number) =>
    (seen.get(frame) ?? anglesAt(frame, seen.get(Math.floor(frame)) ?? near))[axis]!;
  return threeAlong(at, made);
}

/** Three curves through what they are by axis, cut where any of those that they are made of jumps. */
export function threeAlong(
  at: (frame: number, axis: number) => number,
  made: readonly (Curve | undefined)[],
): Curve[] {
  const times = keyTimes(made);
  const jumps = jumpsOf(made);
  return [0, 1, 2].map((axis) =>
    curveAlong(
      shownBy((frame) => at(frame, axis), jumps),
      times,
      TOLERANCE,
    ),
  );
}

const EVERYWHERE = { start: -Infinity, end: Infinity };
const jumpsOf = (curves: readonly (Curve | undefined)[]): number[] =>
  rising(...curves.map((curve) => (curve ? jumpsOfCurve(held(curve), EVERYWHERE) : [])));
/** Within its keys alone. */
const held = (curve: Curve): Curve => ({ ...curve, leadIn: 'hold', leadOut: 'hold' });

const keyTimes = (curves: readonly (Curve | undefined)[]): number[] =>
  [...new Set(curves.flatMap((curve) => [...(curve?.times ?? [])]))].sort((a, b) => a - b);
