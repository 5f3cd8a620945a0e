/** Where some nodes lie, frame after frame: of a frame that was asked before nothing is worked out again, and of the others only what moves them. */
import { rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { partFor } from '../rig/influence.ts';
import { newWorldPose } from '../rig/pose.ts';
import type { Seat } from '../rig/relations/relation.ts';
import { seatFrom } from '../rig/relations/seat.ts';
import { worldInto } from './evaluation.ts';

/** Frames of one node that are kept. */
const MOST_KEPT = 150_000;

/** @param rows the nodes that are asked for; what is given out is not to be written to */
export function seatsOf(shot: Shot, rows: readonly number[]): (frame: number, row: number) => Seat {
  const rig = rigOf(shot);
  const part = partFor(rig, rows);
  const values = new Float64Array(rig.channels.length);
  const pose = newWorldPose(rig);
  const known = new Map<number, ReadonlyMap<number, Seat>>();
  return (frame, row) => {
    let seats = known.get(frame);
    if (!seats) {
      worldInto(shot, frame, values, pose, false, part);
      seats = new Map(rows.map((one) => [one, seatFrom(pose, one)]));
      if (known.size * rows.length > MOST_KEPT) known.clear();
      known.set(frame, seats);
    }
    return seats.get(row)!;
  };
}
