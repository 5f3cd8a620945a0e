/** Keys of what carries a body, moved by as much as the body is: each by the shift on its frame, its slopes by the shift's pace. */
import { finding, refuse } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { framesOf } from '../../base/frame-range.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import type { Work } from '../../base/work.ts';
import { curveThrough, shownBy } from '../../curve/curve-through.ts';
import { EMPTY_CURVE, FLAG, TANGENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { curveOf, rigOf, withCurves } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { seatsOf } from '../../evaluation/seats.ts';
import type { Triple } from '../../math/euler.ts';
import type { Seat } from '../../rig/relations/relation.ts';
import { isHeldByLocks, keepMotion } from '../spaces/keep-motion.ts';
import { pathReader, wayReader } from './flying.ts';
import type { Flying } from './flying.ts';

export interface ShiftRequest {
  readonly flying: Flying;
  /** Take-off and landing, frames of the shot that shall be. */
  readonly air: FrameRange;
  /** By how much it is moved in the world, by the frame. @param now where it is before that */
  readonly shiftOver: (now: (frame: number) => Triple) => (frame: number) => Triple;
  readonly keys: 'moved' | 'needed' | 'every';
  /** Units of the shot's numbers. */
  readonly toleranceCm: number;
}

export interface Shifted {
  readonly shot: Shot;
  readonly touched: readonly ChannelId[];
  readonly keys: number;
  readonly findings: readonly Finding[];
}

const AXES = ['tx', 'ty', 'tz'] as const;
/** Frames on which a pace is taken: exact for all that bends no more than a parabola. */
const STEP = 1e-3;

/** What it moves by on an axis, and its pace on both sides of a frame. */
export interface Shift {
  readonly at: (frame: number) => number;
  readonly pace: (frame: number, side: -1 | 1) => number;
}

/** The shift of a carrier on its own axes. */
export function shiftsOn(
  shot: Shot,
  row: number,
  shift: (frame: number) => Triple,
): readonly [Shift, Shift, Shift] {
  const inAxes = wayReader(shot, row);
  const known = new Map<number, Triple>();
  const at = (frame: number): Triple => {
    let found = known.get(frame);
    if (!found) known.set(frame, (found = inAxes(shift(frame), frame)));
    return found;
  };
  const on = (axis: 0 | 1 | 2): Shift => ({
    at: (frame) => at(frame)[axis],
    pace(frame, side) {
      const [a, b, c] = [0, 1, 2].map((k) => at(frame + side * k * STEP)[axis]) as [number, number, number];
      return (side * (4 * b - 3 * a - c)) / (2 * STEP);
    },
  });
  return [on(0), on(1), on(2)];
}

export function* shiftedKeys(shot: Shot, request: ShiftRequest): Work<Shifted, Shot> {
  const { flying, air, shiftOver, keys: policy } = request;
  const rig = rigOf(shot);
  const shift = shiftOver(pathReader(shot, flying));
  const changed = new Map<ChannelId, Curve>();
  const added: string[] = [];
  let keys = 0;
  for (const row of flying.carriers) {
    const { id } = rig.nodes[row]!;
    if (isHeldByLocks(shot, id, shot.range)) refuse('lockedMotion', { node: id }, id);
    const shifts = shiftsOn(shot, row, shift);
    // Where it has keys at all, none is made for a swing of the body to the side.
    const isKeyed = AXES.some((name) => curveOf(shot, null, `${id}.${name}`).times.length > 0);
    AXES.forEach((name, axis) => {
      const channel = `${id}.${name}`;
      const curve = curveOf(shot, null, channel);
      const by = shifts[axis]!;
      const goes = [air.start, air.end].some((frame) => Math.abs(by.at(frame)) > NO_SHIFT);
      const moved =
        curve.times.length > 0 ? movedCurve(curve, by, air) : goes || !isKeyed ? keyedByEnds(by, air) : curve;
      if (moved === curve || moved.times.length === 0) return;
      if (curve.times.length === 0) added.push(channel);
      keys += moved.times.length;
      changed.set(channel, moved);
    });
  }
  const moved = withCurves(shot, null, changed);
  const findings = added.length > 0 ? [finding('keyedForFlight', {}, added)] : [];
  const touched = [...changed.keys()];
  if (policy === 'moved') return { shot: moved, touched, keys, findings };
  // On its own keys it is nearly there; between them it is brought onto the parabola.
  const seats = seatsOf(shot, flying.carriers);
  const wanted = (node: string, frame: number): Seat => {
    const { matrix, turn } = seats(frame, rig.indexOf(node));
    const by = shift(frame);
    const at = Float64Array.from(matrix);
    for (let axis = 0; axis < 3; axis += 1) at[12 + axis]! += by[axis]!;
    return { matrix: at, turn };
  };
  const rewrites = flying.carriers.map((row) => ({
    node: rig.nodes[row]!.id,
    range: air,
    keys: policy === 'needed' ? ('needed' as const) : [...framesOf(air)],
  }));
  const wishes = { distance: request.toleranceCm, angle: 0.05 };
  const kept = yield* keepMotion(shot, moved, rewrites, wishes, wanted);
  return {
    shot: kept.shot,
    touched: [...new Set([...touched, ...kept.touched])],
    keys: kept.keys,
    findings: [...findings, ...kept.findings],
  };
}

/** Less than this is no shift, in the channel's own numbers. */
const NO_SHIFT = 1e-9;

/** A curve with each of its keys moved. What was straight or stepped stays so; handles keep their lengths. */
function movedCurve(curve: Curve, { at, pace }: Shift, air: FrameRange): Curve {
  const shifts = Array.from(curve.times, (time) => at(time));
  if (shifts.every((by) => Math.abs(by) < NO_SHIFT) && Math.abs(at((air.start + air.end) / 2)) < NO_SHIFT)
    return curve;
  return rebuild(curve, null, (columns) => {
    shifts.forEach((by, row) => {
      const time = columns.times[row]!;
      const slopes = { in: columns.slopesIn[row]!, out: columns.slopesOut[row]! };
      columns.values[row]! += by;
      const [into, out] = [slopes.in + pace(time, -1), slopes.out + pace(time, 1)];
      const changes = Math.abs(into - slopes.in) > NO_SHIFT || Math.abs(out - slopes.out) > NO_SHIFT;
      if (!changes) return;
      columns.tangentsIn[row] = columns.tangentsOut[row] = TANGENT.free;
      columns.slopesIn[row] = into;
      columns.slopesOut[row] = out;
      if (Math.abs(into - out) > NO_SHIFT) columns.flags[row]! |= FLAG.broken;
    });
  });
}

/** A channel that had no keys: one at each end of the flight, which is all that a parabola asks for. */
function keyedByEnds(by: Shift, { start, end }: FrameRange): Curve {
  const middle = (start + end) / 2;
  if ([start, middle, end].every((frame) => Math.abs(by.at(frame)) < NO_SHIFT)) return EMPTY_CURVE;
  const inner = curveThrough(
    shownBy((frame) => by.at(frame), []),
    [start, end],
  );
  return movedSlopes(inner, by);
}

/** Flat outside of the flight, and as the flight goes within. */
const movedSlopes = (curve: Curve, { pace }: Shift): Curve =>
  rebuild(curve, null, (columns) => {
    const last = columns.times.length - 1;
    columns.times.forEach((time, row) => {
      columns.tangentsIn[row] = columns.tangentsOut[row] = TANGENT.free;
      columns.flags[row]! |= FLAG.broken;
      columns.slopesIn[row] = row === 0 ? 0 : pace(time, -1);
      columns.slopesOut[row] = row === last ? 0 : pace(time, 1);
    });
  });
