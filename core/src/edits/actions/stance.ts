/** How feet stand: how far they slide over the ground while they should stand, and how far their soles are from it. */
import { framesOf } from '../../base/frame-range.ts';
import { median } from '../../base/median.ts';
import { framesPerSecond } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { slideOf } from '../../motion/contacts.ts';
import type { Triple } from '../../math/euler.ts';
import { placesAt } from './standing-feet.ts';
import type { Foot } from './standing-feet.ts';

export interface Stance {
  /** Where the feet lie, in their order, by frame, cm. */
  readonly places: readonly Triple[][];
  /** The farthest that one slides, cm. */
  readonly slid: number;
  /** How far the lowest of all stands lies over the floor, cm; under it where that is negative; 0 where nothing says how high a flat foot lies. */
  readonly over: number;
}

export function stanceOf(shot: Shot, feet: readonly Foot[]): Stance {
  const rows = [...new Set(feet.flatMap(({ row, flat }) => [row, ...flat.map((joint) => joint.row)]))];
  const tracks = placesAt(shot, rows, framesOf(shot.range));
  const trackOf = (row: number) => tracks[rows.indexOf(row)]!;
  const rate = framesPerSecond(shot.rate);
  return {
    places: feet.map(({ row }) => trackOf(row)),
    slid: Math.max(0, ...feet.map(({ row, stands }) => slideOf(trackOf(row), stands, rate).greatest)),
    over: overFloor(feet, trackOf),
  };
}

/**
 * By all of a foot's joints and how high each lies where it is flat: on tiptoe it is the toes that stand. It is the lowest stand that counts, so that who climbs a step leaves the
 * floor.
 */
function overFloor(feet: readonly Foot[], trackOf: (row: number) => readonly Triple[]): number {
  const lowest = feet.flatMap(({ flat, stands }) => {
    const joints = flat.map(({ row, height }) => ({ track: trackOf(row), height }));
    if (joints.length === 0) return [];
    return stands.map(({ first, last }) =>
      median(
        Float64Array.from({ length: last - first + 1 }, (_, k) =>
          Math.min(...joints.map(({ track, height }) => track[first + k]![1] - height)),
        ),
      ),
    );
  });
  return lowest.length > 0 ? Math.min(...lowest) : 0;
}
