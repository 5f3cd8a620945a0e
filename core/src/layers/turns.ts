/**
 * Rotations that layers mix as orientations: the three angles of a node together, by the short way. The angles that come out are those nearest to what lies
 * below, so that nothing spins; two spellings of one orientation are one.
 */
import type { FrameRange } from '../base/frame-range.ts';
import { rising } from '../base/frames.ts';
import { eulerFromQuat, quatFromEuler } from '../math/euler.ts';
import type { EulerOrder, Quaternion, Triple } from '../math/euler.ts';
import { angleBetween, conjugate, multiply, power, slerp } from '../math/quaternion.ts';
import { NO_TURN } from '../rig/node.ts';
import type { Rig } from '../rig/rig.ts';
import type { Answers, Blocked, Want, Wants } from './layer.ts';
import { ComputedSignal, shared } from './signal.ts';
import type { Signal } from './signal.ts';

/** The channel indices of rx, ry, rz of a node that has all three. */
export function turnSlots(rig: Rig, node: number): Triple | null {
  const slots = [3, 4, 5].map((slot) => rig.slots[node * 9 + slot]!) as Triple;
  return slots.every((slot) => slot >= 0) ? slots : null;
}

export function turnOf(angles: Triple, order: EulerOrder): Quaternion {
  const q: Quaternion = [0, 0, 0, 1];
  quatFromEuler(q, 0, ...angles, order);
  return q;
}

/**
 * A part of a turn that is given as angles, beyond half a turn too: about one axis it is that part of its angle, whole turns and all; about several the
 * sign of their quaternion tells which way round they went, up to a whole turn.
 */
export function partOfTurn(angles: Triple, order: EulerOrder, weight: number): Quaternion {
  const short = turnOf(angles, order);
  if (short[3] >= 0 && angles.every((angle) => Math.abs(angle) <= 180)) return power(short, weight);
  const turning = angles.filter((angle) => angle !== 0).length;
  if (turning <= 1) return turnOf(angles.map((angle) => angle * weight) as Triple, order);
  const [x, y, z, w] = short;
  const sine = Math.hypot(x, y, z);
  if (sine < 1e-12) return [0, 0, 0, 1];
  const half = Math.atan2(sine, w) * weight;
  const scale = Math.sin(half) / sine;
  return [x * scale, y * scale, z * scale, Math.cos(half)];
}

/** What three angles become. */
type Mix = (below: Triple, own: Triple, weight: number, order: EulerOrder) => Triple;

/** Below · that part of the own turn. */
export const turnedBy: Mix = (below, own, weight, order) =>
  eulerFromQuat(multiply(turnOf(below, order), partOfTurn(own, order, weight)), order, below);

/** On the short way from what lies below to the own turn; all of it is the own angles as they are keyed. */
export const turnedToward: Mix = (below, own, weight, order) => {
  if (weight === 1) return own;
  const [from, to] = [turnOf(below, order), turnOf(own, order)];
  // Beyond all of it the way goes on.
  const turn =
    weight >= 0 && weight <= 1
      ? slerp(from, to, weight)
      : multiply(from, power(multiply(conjugate(from), to), weight));
  const end = eulerFromQuat(to, order, below);
  const near = below.map((angle, axis) => angle + weight * (end[axis]! - angle)) as Triple;
  return eulerFromQuat(turn, order, near);
};

/** The three angles of one node, worked out together; the last frame that was asked for is kept for its two other angles. */
class MixedTurn {
  private last: { readonly frame: number; readonly angles: Triple } | null = null;
  private readonly below: readonly Signal[];
  private readonly own: readonly Signal[];
  private readonly weight: Signal;
  private readonly order: EulerOrder;
  private readonly mix: Mix;

  constructor(below: readonly Signal[], own: readonly Signal[], weight: Signal, order: EulerOrder, mix: Mix) {
    [this.below, this.own, this.weight, this.order, this.mix] = [below, own, weight, order, mix];
  }
  at(frame: number): Triple {
    if (this.last?.frame === frame) return this.last.angles;
    const below = this.below.map((signal) => signal.at(frame)) as Triple;
    const weight = this.weight.at(frame);
    const angles =
      weight === 0
        ? below
        : this.mix(below, this.own.map((signal) => signal.at(frame)) as Triple, weight, this.order);
    this.last = { frame, angles };
    return angles;
  }
  jumps(range: FrameRange): readonly number[] {
    return rising(...[...this.below, ...this.own, this.weight].map((signal) => signal.jumps(range)));
  }
}

class MixedAngle extends ComputedSignal {
  private readonly turn: MixedTurn;
  private readonly axis: number;

  constructor(turn: MixedTurn, axis: number) {
    super();
    [this.turn, this.axis] = [turn, axis];
  }
  protected valueAt(frame: number): number {
    return this.turn.at(frame)[this.axis]!;
  }
  jumps(range: FrameRange): readonly number[] {
    return this.turn.jumps(range);
  }
}

/** The signals of three angles that are mixed as one orientation; the same objects for the same inputs. */
export const mixedTurn = (
  below: readonly Signal[],
  own: readonly Signal[],
  weight: Signal,
  order: EulerOrder,
  mix: Mix,
): readonly Signal[] =>
  shared(below[0]!, ['turned', below[1], below[2], ...own, weight, order, mix], () => {
    const turn = new MixedTurn(below, own, weight, order, mix);
    return [0, 1, 2].map((axis) => new MixedAngle(turn, axis));
  });

interface TurnReplies {
  /** The channels that are worked out together on a node; null where each is by itself. */
  readonly slots: (node: number, frame: number) => Triple | null;
  readonly alone: (channel: number, want: Want) => Want | Blocked;
  readonly turned: (slots: Triple, angles: Triple, frame: number, order: EulerOrder) => Triple | Blocked;
}

/** Goes through what is wanted, three angles at a time where they are mixed: those must be wanted together, at one frame. */
export function eachTurn(wants: Wants, rig: Rig, { slots: slotsOf, alone, turned }: TurnReplies): Answers {
  const answers: Answers = new Map();
  for (const [c, want] of wants) {
    if (answers.has(c)) continue;
    const { node } = rig.channels[c]!;
    const slots = slotsOf(node, want.frame);
    if (!slots?.includes(c)) {
      answers.set(c, alone(c, want));
      continue;
    }
    const three = slots.map((slot) => wants.get(slot));
    const together = three.every((one) => one?.frame === want.frame);
    const angles = together
      ? turned(slots, three.map((one) => one!.value) as Triple, want.frame, rig.nodes[node]!.order)
      : 'blocked';
    slots.forEach((slot, axis) => {
      if (wants.has(slot))
        answers.set(slot, typeof angles === 'string' ? angles : { frame: want.frame, value: angles[axis]! });
    });
  }
  return answers;
}

/** A turn of which a share is another; more than half a turn cannot be told from its part. */
export function wholeOf(part: Quaternion, share: number): Quaternion | 'beyond' {
  if (angleBetween(NO_TURN, part) > 180 * Math.abs(share) * (1 + 1e-12)) return 'beyond';
  return power(part, 1 / share);
}

/** Rounds after which what lies below is found, or is not. */
const MOST_ROUNDS = 40;

/**
 * What must lie below so that a layer which takes over by a share shows these angles. An axis that the layer does not key goes along with what lies below, which is what
 * is looked for: it is found by trying again from each answer.
 * @param own the layer's angles, undefined where it keys none
 */
export function belowOf(
  angles: Triple,
  own: readonly (number | undefined)[],
  share: number,
  order: EulerOrder,
): Triple | Blocked {
  let below = angles;
  for (let round = 0; round < MOST_ROUNDS; round += 1) {
    const turn = turnOf(own.map((angle, axis) => angle ?? below[axis]!) as Triple, order);
    const rest = wholeOf(multiply(conjugate(turn), turnOf(angles, order)), 1 - share);
    if (rest === 'beyond') return rest;
    const next = eulerFromQuat(multiply(turn, rest), order, below);
    const moved = Math.max(...next.map((angle, axis) => Math.abs(angle - below[axis]!)));
    below = next;
    if (moved < 1e-10) return below;
  }
  return 'blocked';
}
