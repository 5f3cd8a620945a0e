/**
 * From channel values to world transforms.
 *
 * A limb is solved when its root's turn comes in `rig.order`: its target and pole stand by then.
 */
import { mat4, vec3 } from 'gl-matrix';
import type { Triple } from '../math/euler.ts';
import { placeNode } from './place-node.ts';
import type { Placed } from './place-node.ts';
import type { CompiledRelation, OtherTimes, Seat, WorldPose } from './relations/relation.ts';
import { newSeat, seatFrom, seatInto } from './relations/seat.ts';
import { solveReach } from './relations/solve-reach.ts';
import type { HeldJoint } from './relations/solve-reach.ts';
import type { Rig } from './rig.ts';

export type { OtherTimes, WorldPose };

export function newWorldPose(rig: Rig): WorldPose {
  return {
    matrices: new Float64Array(rig.nodes.length * 16),
    turns: new Float64Array(rig.nodes.length * 4),
    // As long as it will be: an array that grows by leaps becomes a table, which is slow to ask.
    seats: rig.relations.map(() => undefined),
  };
}

/** Rows of a rig that stand without the others, in its order, and the channels that they ask for. */
export interface RigPart {
  readonly order: Int32Array;
  readonly channels: readonly number[];
}

/**
 * Writes the world transforms of all nodes.
 * @param values one number for each of `rig.channels`
 * @param times poses at other times, for relations that ask for them; without it those do nothing
 * @param order the rows that are wanted, with all that they go by
 */
export function computeWorld(
  rig: Rig,
  values: ArrayLike<number>,
  out: WorldPose,
  times: OtherTimes | null = null,
  order: ArrayLike<number> = rig.order,
): void {
  const { parents, relations } = rig;
  // What limbs have decided for joints whose turn is still to come.
  const held = rig.chains.length > 0 ? new Array<HeldJoint | undefined>(rig.nodes.length) : NONE_HELD;
  for (let at = 0; at < order.length; at += 1) {
    const i = order[at]!;
    const related = relations[i];
    if (related === undefined) place(rig, values, out, i, out, parents[i]!, held);
    else {
      const seat = (out.seats[i] ??= newSeat());
      seatIn(seat, rig, values, out, i, times);
      place(rig, values, out, i, { matrices: seat.matrix, turns: seat.turn }, 0, held);
      for (const one of related) {
        const weight = weightOf(one, values);
        if (one.kind.hold && weight > 0)
          one.kind.hold({ rig, values, pose: out, compiled: settled(one), weight, times });
      }
    }
  }
}

const NONE_HELD: (HeldJoint | undefined)[] = [];

/** Places a node in what carries it, and if it is the root of a limb, solves that. */
function place(
  rig: Rig,
  values: ArrayLike<number>,
  out: WorldPose,
  i: number,
  carriers: Placed,
  row: number,
  held: (HeldJoint | undefined)[],
): void {
  const chain = rig.chainAt[i];
  if (chain && solveReach(rig, values, out, chain, carriers, row, held)) return;
  const joint = held[i];
  if (joint) placeNode(rig, values, out, i, carriers, row, joint.turn, joint.stretch);
  else placeNode(rig, values, out, i, carriers, row);
}

const weightOf = ({ weight }: CompiledRelation, values: ArrayLike<number>) =>
  weight < 0 ? 1 : Math.min(1, Math.max(0, values[weight]!));
/** Its settings have been read with the kind's own schema. */
const settled = (compiled: CompiledRelation) => compiled as CompiledRelation<Record<string, unknown>>;

/** Writes what carries a node in a pose in which all that it goes by stands already. */
export function seatIn(
  out: Seat,
  rig: Rig,
  values: ArrayLike<number>,
  pose: WorldPose,
  i: number,
  times: OtherTimes | null = null,
): void {
  seatInto(out, pose, rig.parents[i]!);
  const related = rig.relations[i];
  if (!related) return;
  for (const one of related) {
    const weight = weightOf(one, values);
    if (one.kind.seat && weight > 0)
      one.kind.seat(out, { rig, values, pose, compiled: settled(one), weight, times });
  }
}

/** What carries a node: the seat that its relations gave it, or its parent. */
export const seatOf = (rig: Rig, pose: WorldPose, i: number): Seat =>
  (rig.relations[i] && pose.seats[i]) ?? seatFrom(pose, rig.parents[i]!);

/** A place in the world seen from a node, its scale taken out; where that is nothing, the place is the node's own. */
export function placeInSpace({ matrices }: Pick<Placed, 'matrices'>, node: number, place: Triple): Triple {
  const m = node * 16;
  const inverse = mat4.invert([], matrices.subarray(m, m + 16));
  if (!inverse) return [0, 0, 0];
  return vec3.transformMat4([0, 0, 0], place, inverse) as Triple;
}

/** A place in the world seen from a seat. */
export const placeOnSeat = ({ matrix }: Seat, place: Triple): Triple =>
  placeInSpace({ matrices: matrix }, 0, place);
