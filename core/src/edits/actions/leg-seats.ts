/** How a leg lies so that its foot stands somewhere else: bent as two bones do, the foot turned as it was. */
import { bisectLeft } from '../../base/bisect.ts';
import type { Quaternion, Triple } from '../../math/euler.ts';
import { conjugate, rotate, rotationBetween } from '../../math/quaternion.ts';
import type { Seat } from '../../rig/relations/relation.ts';
import { turnSeat } from '../../rig/relations/seat.ts';
import { solveTwoBone } from '../../rig/two-bone.ts';
import type { Leg } from './standing-feet.ts';

const NO_PLACE: Triple = [0, 0, 0];

/**
 * Where the three joints of a leg lie in the world. A foot beyond its reach is as near as it comes.
 * @param at where its joints lie now @param foot where the last joint shall lie @param toward in whose plane with the leg the knee bends
 */
export function legSeats(
  at: (row: number) => Seat,
  { root, middle, end }: Leg,
  foot: Seat,
  toward: Readonly<Triple>,
): Record<keyof Leg, Seat> {
  const [hip, knee] = [root, middle].map((row) => copied(at(row))) as [Seat, Seat];
  const ankle = at(end);
  const [h, k, a] = [hip, knee, ankle].map(placeOf) as [Triple, Triple, Triple];
  const [thigh, shank] = [apart(h, k), apart(k, a)];
  // Of one that was never bent the knee's own axes say where it bends.
  const bent = solveTwoBone(h, placeOf(foot), toward, thigh, shank, knee.matrix.subarray(8, 11));
  const [was, is] = [wayFrom(h, k), wayFrom(h, bent.middle)];
  turnSeat(hip, rotationBetween(was, is), NO_PLACE);
  turnSeat(knee, rotationBetween(wayFrom(k, a), wayFrom(bent.middle, bent.end)), NO_PLACE);
  knee.matrix.set(bent.middle, 12);
  const stood = { matrix: Float64Array.from(foot.matrix), turn: foot.turn };
  stood.matrix.set(bent.end, 12);
  return { root: hip, middle: knee, end: stood };
}

/** A leg whose knee lies nearer to the line from hip to ankle, in lengths of the leg, is as good as straight. */
const STRAIGHT = 0.01;

/**
 * Toward where the knee of a leg bends, by the frame: where it is; and of a leg that is as good as straight, where it is bent on the nearest frame, in the axes of its hip joint.
 * What is left of its bend may be noise, or point back.
 */
export function kneeToward(
  seats: (frame: number, row: number) => Seat,
  { root, middle, end }: Leg,
  frames: ArrayLike<number>,
): (frame: number) => Triple {
  const bendAt = (frame: number) => {
    const [h, k, a] = [root, middle, end].map((row) => placeOf(seats(frame, row))) as [
      Triple,
      Triple,
      Triple,
    ];
    const [along, upper] = [wayFrom(h, a), k.map((value, axis) => value - h[axis]!)];
    const far = upper.reduce((sum, value, axis) => sum + value * along[axis]!, 0);
    const aside = upper.map((value, axis) => value - far * along[axis]!) as Triple;
    return { knee: k, aside, isBent: Math.hypot(...aside) > STRAIGHT * (apart(h, k) + apart(k, a)) };
  };
  const turnAt = (frame: number) => [...seats(frame, root).turn] as Quaternion;
  const bentOf = () => {
    const rising = Array.from(frames).filter((one) => bendAt(one).isBent);
    const asides = rising.map((one) => rotate(conjugate(turnAt(one)), ...bendAt(one).aside));
    return { frames: rising, asides };
  };
  let bent: { readonly frames: readonly number[]; readonly asides: readonly Triple[] } | null = null;
  return (frame) => {
    const { knee, isBent } = bendAt(frame);
    if (isBent) return knee;
    bent ??= bentOf();
    const next = bisectLeft(bent.frames, frame);
    const isEarlier = next > 0 && !(bent.frames[next]! - frame < frame - bent.frames[next - 1]!);
    const nearest = bent.asides[isEarlier ? next - 1 : next];
    if (!nearest) return knee;
    const [x, y, z] = rotate(turnAt(frame), ...nearest);
    // Far enough aside that what is left of its bend does not count.
    const far = FAR / (Math.hypot(x, y, z) || 1);
    return [knee[0] + far * x, knee[1] + far * y, knee[2] + far * z];
  };
}

/** cm */
const FAR = 1e4;

const copied = ({ matrix, turn }: Seat): Seat => ({ matrix: matrix.slice(), turn: turn.slice() });

export const placeOf = ({ matrix }: Seat): Triple => [matrix[12]!, matrix[13]!, matrix[14]!];
export const apart = (p: Readonly<Triple>, q: Readonly<Triple>): number =>
  Math.hypot(q[0] - p[0], q[1] - p[1], q[2] - p[2]);

function wayFrom(p: Readonly<Triple>, q: Readonly<Triple>): Triple {
  const length = apart(p, q) || 1;
  return [(q[0] - p[0]) / length, (q[1] - p[1]) / length, (q[2] - p[2]) / length];
}
