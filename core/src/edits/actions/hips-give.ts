/** Hips that give way: by the least shift that lets every standing foot be reached, eased in and out. */
import { framesOf } from '../../base/frame-range.ts';
import type { Stand } from '../../motion/contacts.ts';
import type { Triple } from '../../math/euler.ts';
import { seatsOf } from '../../evaluation/seats.ts';
import { rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import type { Seat } from '../../rig/relations/relation.ts';
import { isHeldByLocks } from '../spaces/keep-motion.ts';
import { apart, placeOf } from './leg-seats.ts';
import type { Leg } from './standing-feet.ts';

export interface HeldLeg {
  readonly leg: Leg;
  /** When its foot is to be reached, frames. */
  readonly stands: readonly Stand[];
  /** Where its last joint shall lie, from where it lies. */
  readonly wantedAt: (frame: number, at: Readonly<Triple>) => Triple;
}

export interface HipsGive {
  readonly row: number;
  /** By how much they give way, by the frame; between frames, between. */
  readonly shiftAt: (frame: number) => Triple;
  readonly seatAt: (frame: number) => Seat;
  /** cm */
  readonly most: number;
}

/** A leg is stretched to this part of its length at most. */
const STRETCHED = 0.9995;
/** Rounds in which what is left after easing is added. */
const ROUNDS = 4;
/** cm: what is less is nothing. */
const NONE = 1e-3;

/** @param ease frames; null where all legs reach, or no joint above them may be moved */
export function hipsGive(shot: Shot, legs: readonly HeldLeg[], ease: number): HipsGive | null {
  const row = hipsAbove(shot, legs);
  const rig = rigOf(shot);
  if (row < 0 || isHeldByLocks(shot, rig.nodes[row]!.id, shot.range)) return null;
  const joints = legs.flatMap(({ leg }) => [leg.root, leg.middle, leg.end]);
  const seats = seatsOf(shot, [...joints, row]);
  const reaches = Array.from(framesOf(shot.range), (frame) => reachesAt(seats, legs, frame));
  let shifts: Triple[] = reaches.map(() => [0, 0, 0]);
  for (let round = 0; round < ROUNDS; round += 1) {
    const missing = reaches.map((some, at) => leastShift(some, shifts[at]!));
    if (missing.every((shift) => Math.hypot(...shift) < NONE)) break;
    const more = eased(missing, Math.max(1, Math.round(ease)));
    shifts = shifts.map((shift, at) => plus(shift, more[at]!));
  }
  const most = Math.max(...shifts.map((shift) => Math.hypot(...shift)));
  if (most < NONE) return null;
  const shiftAt = (frame: number): Triple => {
    const at = Math.min(Math.max(frame - shot.range.start, 0), shifts.length - 1);
    const [p, q] = [shifts[Math.floor(at)]!, shifts[Math.ceil(at)]!];
    return [0, 1, 2].map((axis) => p[axis]! + (at % 1) * (q[axis]! - p[axis]!)) as Triple;
  };
  const seatAt = (frame: number): Seat => {
    const seat = seats(frame, row);
    const matrix = Float64Array.from(seat.matrix);
    const shift = shiftAt(frame);
    for (let axis = 0; axis < 3; axis += 1) matrix[12 + axis]! += shift[axis]!;
    return { matrix, turn: seat.turn };
  };
  return { row, shiftAt, seatAt, most };
}

/** The nearest node above all of the legs that can be moved, or −1. */
function hipsAbove(shot: Shot, legs: readonly HeldLeg[]): number {
  const rig = rigOf(shot);
  const above = ({ leg }: HeldLeg) => {
    const rows: number[] = [];
    for (let up = rig.parents[leg.root]!; up >= 0; up = rig.parents[up]!) rows.push(up);
    return rows;
  };
  const [first, ...others] = legs.map(above);
  const moves = (row: number) => ['tx', 'ty', 'tz'].every((name) => rig.nodes[row]!.channels.includes(name));
  return first?.find((row) => moves(row) && others.every((rows) => rows.includes(row))) ?? -1;
}

/** From a hip joint to where its foot shall stand, and how far the leg goes: cm. */
interface Reach {
  readonly way: Triple;
  readonly length: number;
}

function reachesAt(
  seats: (frame: number, row: number) => Seat,
  legs: readonly HeldLeg[],
  frame: number,
): Reach[] {
  return legs.flatMap(({ leg, stands, wantedAt }): Reach[] => {
    if (!stands.some(({ first, last }) => frame >= first && frame <= last)) return [];
    const [h, k, a] = [leg.root, leg.middle, leg.end].map((joint) => placeOf(seats(frame, joint))) as [
      Triple,
      Triple,
      Triple,
    ];
    const [x, y, z] = wantedAt(frame, a);
    return [
      {
        way: [x - h[0], y - h[1], z - h[2]],
        length: Math.max(STRETCHED * (apart(h, k) + apart(k, a)), apart(h, a)),
      },
    ];
  });
}

/** The least shift beyond one that is there already after which every way is within reach: projections onto the balls in turn. */
function leastShift(reaches: readonly Reach[], begin: Readonly<Triple>): Triple {
  let shift: Triple = [...begin];
  for (let turn = 0; turn < (reaches.length > 1 ? 8 : 1); turn += 1)
    for (const { way, length } of reaches) {
      const rest: Triple = [way[0] - shift[0], way[1] - shift[1], way[2] - shift[2]];
      const far = Math.hypot(...rest);
      const part = far > length ? 1 - length / far : 0;
      shift = plus(shift, [rest[0] * part, rest[1] * part, rest[2] * part]);
    }
  return [shift[0] - begin[0], shift[1] - begin[1], shift[2] - begin[2]];
}

/** Each frame as far as any near it asks, and that smoothed: no frame gets less than it asks where they ask alike. */
function eased(shifts: readonly Triple[], ease: number): Triple[] {
  const near = (at: number) => shifts.slice(Math.max(0, at - ease), at + ease + 1);
  const widest = shifts.map((_, at) =>
    near(at).reduce((best, shift) => (Math.hypot(...shift) > Math.hypot(...best) ? shift : best)),
  );
  return shifts.map((_, at) => {
    let [sum, all]: [Triple, number] = [[0, 0, 0], 0];
    for (let k = -ease; k <= ease; k += 1) {
      const weight = 1 + Math.cos((Math.PI * k) / (ease + 1));
      const [x, y, z] = widest[Math.min(Math.max(at + k, 0), shifts.length - 1)]!;
      sum = plus(sum, [weight * x, weight * y, weight * z]);
      all += weight;
    }
    return [sum[0] / all, sum[1] / all, sum[2] / all];
  });
}

const plus = (p: Readonly<Triple>, q: Readonly<Triple>): Triple => [p[0] + q[0], p[1] + q[1], p[2] + q[2]];
