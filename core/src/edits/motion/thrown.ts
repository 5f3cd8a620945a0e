/** A throw: where a prop is let go and with what speed, where it shall be caught, and the flight between. */
import { mat4, vec3 } from 'gl-matrix';
import { refuse } from '../../base/finding.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { bodyOf } from '../../bodies/body-of.ts';
import { curveOf, framesPerSecond, rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { worldInto } from '../../evaluation/evaluation.ts';
import type { Triple } from '../../math/euler.ts';
import { pointOfPair } from '../../mirror/pair-point.ts';
import { GRAVITY, parabolaThrough } from '../../motion/flight.ts';
import type { Parabola } from '../../motion/flight.ts';
import { partFor } from '../../rig/influence.ts';
import { newWorldPose } from '../../rig/pose.ts';
import type { Rig } from '../../rig/rig.ts';
import { seatInto, newSeat } from '../../rig/relations/seat.ts';
import type { Relation, Seat } from '../../rig/relations/relation.ts';
import { targetAt } from '../spaces/switch-curve.ts';

export interface ThrowWish {
  readonly control: string;
  readonly from: string;
  readonly to: string;
  readonly release: number;
  readonly catch: number;
  readonly speed: 'aimed' | 'hand';
  readonly gravity: number;
}

export interface Thrown {
  /** From the first frame in the air to the first in the other hand. */
  readonly air: FrameRange;
  /** Row of the prop. */
  readonly row: number;
  /** cm that a unit of its numbers counts. */
  readonly unit: number;
  /** Where it shall be caught. */
  readonly goal: Triple;
  readonly flight: Parabola;
  /** Units a second, as it is let go: of the point of the hand at which it lies. */
  readonly hand: Triple;
  /** Where the prop lies and how it is turned, as the shot is. */
  readonly lay: (frame: number) => Seat;
}

/** The relation by which others carry a control. */
export const followsOf = (shot: Shot, control: string): Relation | undefined =>
  shot.relations.find(({ node, kind }) => node === control && kind === 'parent');

/** What carries a control on a frame by a relation; null is the world, undefined none. */
export function carrierAt(shot: Shot, control: string, frame: number): string | null | undefined {
  const relation = followsOf(shot, control);
  if (!relation) return undefined;
  const place = relation.switch === null ? 0 : targetAt(curveOf(shot, null, relation.switch), frame);
  return relation.targets[place]?.node;
}

/** A speed is taken over this many frames, ahead of the release: what the hand does afterwards is no part of it. */
const JUST = 1e-2;

/** @param isHeld whether the prop is in the other hand when it shall be caught: then it is caught where it lies there, else as it lay in the first */
export function thrownBy(shot: Shot, wish: ThrowWish, isHeld: boolean): Thrown {
  const rig = rigOf(shot);
  const [row, first, second] = [wish.control, wish.from, wish.to].map((id) => {
    const found = rig.indexOf(id);
    return found < 0 ? refuse('unknownNode', { node: id }, id) : found;
  }) as [number, number, number];
  if (!['tx', 'ty', 'tz'].every((name) => rig.nodes[row]!.channels.includes(name)))
    refuse('cannotMove', { node: wish.control }, wish.control);
  const { release: start, catch: end } = wish;
  if (!(end > start)) refuse('caughtBefore', {}, start, end);
  for (const frame of [start, end])
    if (frame < shot.range.start || frame > shot.range.end || !Number.isInteger(frame - shot.range.start))
      refuse('switchOutside', { frame }, frame, shot.range.start, shot.range.end);
  const at = placementReader(shot, [row, first, second]);
  const lay = (frame: number) => at(row, frame);
  const inHand = pointIn(rig, at(first, start), placeOf(lay(start)), first);
  const inWorld = (frame: number) => pointOut(at(first, frame), inHand);
  const rate = framesPerSecond(shot.rate);
  const [now, near, nearer] = [inWorld(start), inWorld(start - JUST), inWorld(start - 2 * JUST)];
  const hand = now.map(
    (value, axis) => ((3 * value - 4 * near[axis]! + nearer[axis]!) / (2 * JUST)) * rate,
  ) as Triple;
  const goal = isHeld
    ? placeOf(lay(end))
    : pointOut(
        at(second, end),
        rig.nodes[first]!.pair === wish.to && first !== second
          ? pointOfPair(shot, first, second, inHand)
          : inHand,
      );
  const { unit } = bodyOf(shot, rig.nodes[first]!.character);
  const gravity = (wish.gravity * GRAVITY) / unit;
  const flight: Parabola =
    wish.speed === 'aimed'
      ? parabolaThrough(now, goal, (end - start) / rate, gravity)
      : { from: now, speed: hand, gravity };
  return { air: { start, end }, row, unit, goal, flight, hand, lay };
}

export const placeOf = ({ matrix }: Seat): Triple => [matrix[12]!, matrix[13]!, matrix[14]!];

/** Where nodes lie, by frame. Frames that were asked are kept. */
function placementReader(shot: Shot, rows: readonly number[]): (row: number, frame: number) => Seat {
  const rig = rigOf(shot);
  const part = partFor(rig, rows);
  const [values, pose] = [new Float64Array(rig.channels.length), newWorldPose(rig)];
  const known = new Map<number, ReadonlyMap<number, Seat>>();
  return (row, frame) => {
    let seats = known.get(frame);
    if (!seats) {
      worldInto(shot, frame, values, pose, false, part);
      seats = new Map(
        rows.map((one) => {
          const seat = newSeat();
          seatInto(seat, pose, one);
          return [one, seat];
        }),
      );
      known.set(frame, seats);
    }
    return seats.get(row)!;
  };
}

const pointOut = ({ matrix }: Seat, point: Triple): Triple =>
  vec3.transformMat4([0, 0, 0], point, matrix) as Triple;

function pointIn(rig: Rig, { matrix }: Seat, place: Triple, row: number): Triple {
  const back = mat4.invert([], matrix);
  return back
    ? (vec3.transformMat4([0, 0, 0], place, back) as Triple)
    : refuse('flatSpace', {}, rig.nodes[row]!.id);
}
