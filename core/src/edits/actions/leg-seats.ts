/** How a leg lies so that its foot stands somewhere else: bent as two bones do, the foot turned as it was. */
import type { Triple } from '../../math/euler.ts';
import { rotationBetween } from '../../math/quaternion.ts';
import type { Seat } from '../../rig/relations/relation.ts';
import { turnSeat } from '../../rig/relations/seat.ts';
import { solveTwoBone } from '../../rig/two-bone.ts';
import type { Leg } from './standing-feet.ts';

const NO_PLACE: Triple = [0, 0, 0];

/**
 * Where the three joints of a leg lie in the world. The knee stays in the plane in which it bends, toward where it was; a foot beyond its reach is as near as it comes.
 * @param at where its joints lie now @param foot where the last joint shall lie
 */
export function legSeats(
  at: (row: number) => Seat,
  { root, middle, end }: Leg,
  foot: Seat,
): Record<keyof Leg, Seat> {
  const [hip, knee] = [root, middle].map((row) => copied(at(row))) as [Seat, Seat];
  const ankle = at(end);
  const [h, k, a] = [hip, knee, ankle].map(placeOf) as [Triple, Triple, Triple];
  const [thigh, shank] = [apart(h, k), apart(k, a)];
  // Of a straight leg the knee's own axes say where it bends.
  const bent = solveTwoBone(h, placeOf(foot), k, thigh, shank, knee.matrix.subarray(8, 11));
  const [was, is] = [wayFrom(h, k), wayFrom(h, bent.middle)];
  turnSeat(hip, rotationBetween(was, is), NO_PLACE);
  turnSeat(knee, rotationBetween(wayFrom(k, a), wayFrom(bent.middle, bent.end)), NO_PLACE);
  knee.matrix.set(bent.middle, 12);
  const stood = { matrix: Float64Array.from(foot.matrix), turn: foot.turn };
  stood.matrix.set(bent.end, 12);
  return { root: hip, middle: knee, end: stood };
}

const copied = ({ matrix, turn }: Seat): Seat => ({ matrix: matrix.slice(), turn: turn.slice() });

export const placeOf = ({ matrix }: Seat): Triple => [matrix[12]!, matrix[13]!, matrix[14]!];
export const apart = (p: Readonly<Triple>, q: Readonly<Triple>): number =>
  Math.hypot(q[0] - p[0], q[1] - p[1], q[2] - p[2]);

function wayFrom(p: Readonly<Triple>, q: Readonly<Triple>): Triple {
  const length = apart(p, q) || 1;
  return [(q[0] - p[0]) / length, (q[1] - p[1]) / length, (q[2] - p[2]) / length];
}
