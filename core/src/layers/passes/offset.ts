/**
 * An offset pass: adds weight × its value to each channel. Where its rotations compose as orientations it turns below ·
 * slerp(1, offset, weight) instead, a node's three angles together. Both can be turned round, which is how posing on and under it works.
 */
import { z } from 'zod';
import type { FrameRange } from '../../base/frame-range.ts';
import { rising } from '../../base/frames.ts';
import { eulerFromQuat, quatFromEuler } from '../../math/euler.ts';
import type { EulerOrder, Quaternion, Triple } from '../../math/euler.ts';
import { angleBetween, conjugate, multiply, power } from '../../math/quaternion.ts';
import { NO_TURN } from '../../rig/node.ts';
import type { Rig } from '../../rig/rig.ts';
import { chooses } from '../choice.ts';
import { defineLayer } from '../layer.ts';
import type { Answers, Blocked, Layer, Want, Wants } from '../layer.ts';
import { ComputedSignal, constantSignal, shared, signalOf } from '../signal.ts';
import type { Signal, Signals } from '../signal.ts';
import { added, WeighedSignal, weightOf } from '../weight.ts';
import { ownCurve, ownCurves } from './own-curves.ts';

const NOTHING_KEYED = constantSignal({}, 0);
/** A weight so near to 0 shows nothing of the pass. */
const NEAR = 1e-9;

export const offsetPass = defineLayer({
  kind: 'offset',
  title: 'Offset pass',
  summary: 'Its own keys add to the motion below.',
  words: 'layer additive',
  keyed: true,
  time: { is: 'asKeyed' },
  settings: z.object({
    rotations: z
      .enum(['channels', 'orientations'])
      .default('channels')
      .describe('Whether rotations add per channel or compose as orientations'),
  }),
  over(layer, below, context) {
    const { rig } = context;
    const weight = weightOf(layer);
    const above = [...below];
    for (const [c, curve] of ownCurves(layer, rig)) {
      // What chooses has no sum.
      if (chooses(context, c) || composed(layer, rig, rig.channels[c]!.node)?.includes(c)) continue;
      const [under, own] = [below[c]!, signalOf(curve)];
      above[c] = shared(own, ['offset', under, weight], () => new WeighedSignal(under, own, weight, added));
    }
    layer.curves.forEach((entries, node) => {
      const slots = entries && composed(layer, rig, node);
      if (!slots || !slots.some((c) => ownCurve(layer, rig, c))) return;
      turnedOver(layer, slots, below, rig).forEach((signal, axis) => (above[slots[axis]!] = signal));
    });
    return above;
  },
  together: (layer, rig, node, held) => ((held || layer.curves[node]) && composed(layer, rig, node)) || [],
  hold: (layer, wants, below, { rig }) =>
    eachNode(layer, wants, rig, {
      alone(c, { frame, value }) {
        const weight = weightOf(layer).at(frame);
        return Math.abs(weight) < NEAR ? 'hidden' : { frame, value: (value - below[c]!.at(frame)) / weight };
      },
      turned(slots, angles, frame, order) {
        const weight = weightOf(layer).at(frame);
        if (Math.abs(weight) < NEAR) return 'hidden';
        const under = slots.map((c) => below[c]!.at(frame)) as Triple;
        const offset = multiply(conjugate(turnOf(under, order)), turnOf(angles, order));
        // Half a turn is the most that a part of a turn can be told from.
        if (angleBetween(NO_TURN, offset) > 180 * Math.abs(weight) * (1 + 1e-12)) return 'beyond';
        return eulerFromQuat(power(offset, 1 / weight), order, ownAt(layer, rig, slots, frame));
      },
    }),
  under: (layer, wants, _, { rig }) =>
    eachNode(layer, wants, rig, {
      alone(c, { frame, value }) {
        const curve = ownCurve(layer, rig, c);
        const weight = weightOf(layer).at(frame);
        return { frame, value: curve && weight !== 0 ? value - weight * signalOf(curve).at(frame) : value };
      },
      turned(slots, angles, frame, order) {
        const weight = weightOf(layer).at(frame);
        if (weight === 0 || !layer.curves[rig.channels[slots[0]]!.node]) return angles;
        const own = turnOf(ownAt(layer, rig, slots, frame), order);
        return eulerFromQuat(multiply(turnOf(angles, order), conjugate(power(own, weight))), order, angles);
      },
    }),
});

/** The three angles of one node, worked out together; the last frame that was asked for is kept for its two other angles. */
class ComposedTurn {
  private last: { readonly frame: number; readonly angles: Triple } | null = null;
  private readonly below: readonly Signal[];
  private readonly own: readonly Signal[];
  private readonly weight: Signal;
  private readonly order: EulerOrder;

  constructor(below: readonly Signal[], own: readonly Signal[], weight: Signal, order: EulerOrder) {
    [this.below, this.own, this.weight, this.order] = [below, own, weight, order];
  }
  at(frame: number): Triple {
    if (this.last?.frame === frame) return this.last.angles;
    const below = this.below.map((signal) => signal.at(frame)) as Triple;
    const weight = this.weight.at(frame);
    let angles = below;
    if (weight !== 0) {
      const own = this.own.map((signal) => signal.at(frame)) as Triple;
      const turn = multiply(turnOf(below, this.order), power(turnOf(own, this.order), weight));
      angles = eulerFromQuat(turn, this.order, below);
    }
    this.last = { frame, angles };
    return angles;
  }
  jumps(range: FrameRange): readonly number[] {
    return rising(...[...this.below, ...this.own, this.weight].map((signal) => signal.jumps(range)));
  }
}

class ComposedAngle extends ComputedSignal {
  private readonly turn: ComposedTurn;
  private readonly axis: number;

  constructor(turn: ComposedTurn, axis: number) {
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

function turnedOver(layer: Layer, slots: Triple, below: Signals, rig: Rig): readonly Signal[] {
  const under = slots.map((c) => below[c]!);
  const own = slots.map((c) => {
    const curve = ownCurve(layer, rig, c);
    return curve ? signalOf(curve) : NOTHING_KEYED;
  });
  const weight = weightOf(layer);
  const { order } = rig.nodes[rig.channels[slots[0]]!.node]!;
  return shared(under[0]!, ['turned', under[1], under[2], ...own, weight, order], () => {
    const turn = new ComposedTurn(under, own, weight, order);
    return [0, 1, 2].map((axis) => new ComposedAngle(turn, axis));
  });
}

/** The channel indices of rx, ry, rz where the pass composes orientations on a node that has all three. */
function composed(layer: Layer, rig: Rig, node: number): Triple | null {
  if (layer.settings['rotations'] !== 'orientations') return null;
  const slots = [3, 4, 5].map((slot) => rig.slots[node * 9 + slot]!) as Triple;
  return slots.every((slot) => slot >= 0) ? slots : null;
}

const ownAt = (layer: Layer, rig: Rig, slots: Triple, frame: number) =>
  slots.map((c) => {
    const curve = ownCurve(layer, rig, c);
    return curve ? signalOf(curve).at(frame) : 0;
  }) as Triple;

function turnOf(angles: Triple, order: EulerOrder): Quaternion {
  const q: Quaternion = [0, 0, 0, 1];
  quatFromEuler(q, 0, ...angles, order);
  return q;
}

interface Turning {
  readonly alone: (channel: number, want: Want) => Want | Blocked;
  readonly turned: (
    slots: Triple,
    angles: Triple,
    frame: number,
    order: EulerOrder,
  ) => Triple | 'hidden' | 'beyond';
}

/** Goes through what is wanted, three angles at a time where they are composed: those must be wanted together, at one frame. */
function eachNode(layer: Layer, wants: Wants, rig: Rig, { alone, turned }: Turning): Answers {
  const answers: Answers = new Map();
  for (const [c, want] of wants) {
    if (answers.has(c)) continue;
    const { node } = rig.channels[c]!;
    const slots = composed(layer, rig, node);
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
