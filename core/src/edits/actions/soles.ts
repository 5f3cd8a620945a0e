/** Soles on the floor: how far over it, or under it, feet of another build would stand, by all of a foot's joints and how high each of them lies where the foot is flat. */
import { framesOf } from '../../base/frame-range.ts';
import { median } from '../../base/median.ts';
import type { Shot } from '../../document/shot.ts';
import { placesAt } from './standing-feet.ts';
import type { Foot } from './standing-feet.ts';

/**
 * How far the lowest of all stands lies over the floor, cm; below it where that is negative. It is the lowest that counts, so that who climbs a step leaves the floor. Null where
 * none stands, or the figure's rest does not say how high a flat foot lies.
 */
export function solesOverFloor(shot: Shot, feet: readonly Foot[]): number | null {
  const known = feet.filter(({ flat, stands }) => flat.length > 0 && stands.length > 0);
  const joints = known.flatMap(({ flat }) => flat);
  const places = placesAt(
    shot,
    joints.map(({ row }) => row),
    framesOf(shot.range),
  );
  const heights = new Map(joints.map(({ row, height }, k) => [row, places[k]!.map(([, y]) => y - height)]));
  const stood = known.flatMap(({ flat, stands }) =>
    stands.map(({ first, last }) =>
      median(
        Float64Array.from({ length: last - first + 1 }, (_, k) =>
          // On tiptoe it is the toes that stand.
          Math.min(...flat.map(({ row }) => heights.get(row)![first + k]!)),
        ),
      ),
    ),
  );
  return stood.length > 0 ? Math.min(...stood) : null;
}
