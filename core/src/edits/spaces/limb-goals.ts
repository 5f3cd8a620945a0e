/** Goals for limbs: where they and their poles must lie so that the joints stay where they are. */
import { conjugate, multiply, rotate } from '../../math/quaternion.ts';
import type { Quaternion, Triple } from '../../math/euler.ts';
import type { CompiledChain } from '../../rig/relations/reach.ts';
import type { Seat, WorldPose } from '../../rig/relations/relation.ts';
import { rotationColumns, seatFrom } from '../../rig/relations/seat.ts';

/** A limb bent by less than this part of its length goes on in the plane in which it bent last. */
const STRAIGHT = 0.01;

const place = (pose: WorldPose, row: number): Triple => [
  pose.matrices[row * 16 + 12]!,
  pose.matrices[row * 16 + 13]!,
  pose.matrices[row * 16 + 14]!,
];

/** A frame without scale. */
function frameAt(turn: ArrayLike<number>, at: Triple): Seat {
  const axes = rotationColumns(turn);
  return {
    matrix: Float64Array.from([
      ...axes.slice(0, 3),
      0,
      ...axes.slice(3, 6),
      0,
      ...axes.slice(6, 9),
      0,
      ...at,
      1,
    ]),
    turn: Float64Array.from(turn),
  };
}

/** Where the goal lies for the end to stay where it is. */
export function goalFor({ end, endTurn }: CompiledChain, pose: WorldPose): Seat {
  const { turn } = seatFrom(pose, end);
  return frameAt(multiply(turn, conjugate(endTurn)), place(pose, end));
}

/** Tells where the pole lies for the middle joint to stay where it is; asked frame by frame, a straight limb keeps its plane. */
export function poleFinder({
  root,
  middle,
  end,
  hingeRoot,
  boneRoot,
}: CompiledChain): (pose: WorldPose) => Seat {
  let last: Triple | null = null;
  return (pose) => {
    const [a, b, c] = [place(pose, root), place(pose, middle), place(pose, end)];
    const reach = minus(c, a);
    const length = Math.hypot(...minus(b, a)) + Math.hypot(...minus(c, b));
    const along = scaled(reach, 1 / (Math.hypot(...reach) || 1));
    const upper = minus(b, a);
    const aside = minus(upper, scaled(along, dot(upper, along)));
    const size = Math.hypot(...aside);
    let way: Triple;
    if (size > STRAIGHT * length) way = scaled(aside, 1 / size);
    else if (last) {
      const flat = minus(last, scaled(along, dot(last, along)));
      way = scaled(flat, 1 / (Math.hypot(...flat) || 1));
    } else {
      const { turn } = seatFrom(pose, root);
      const hinge = rotate(turn, ...hingeRoot);
      const bone = rotate(turn, ...boneRoot);
      way = cross(hinge, bone);
    }
    last = way;
    return frameAt(
      [0, 0, 0, 1] satisfies Quaternion,
      [0, 1, 2].map((axis) => b[axis]! + way[axis]! * length * 0.6) as Triple,
    );
  };
}

const minus = (a: Triple, b: Triple): Triple => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const scaled = (v: Triple, by: number): Triple => [v[0] * by, v[1] * by, v[2] * by];
const dot = (a: Triple, b: Triple) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const cross = (a: Triple, b: Triple): Triple => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
