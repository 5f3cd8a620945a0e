/**
 * An offset pass: adds weight × its value to each channel. Where its rotations compose as orientations it turns below ·
 * that part of its own turn instead, a node's three angles together. Both can be turned round, which is how posing on and under it works.
 */
import { z } from 'zod';
import { eulerFromQuat } from '../../math/euler.ts';
import type { Triple } from '../../math/euler.ts';
import { conjugate, multiply } from '../../math/quaternion.ts';
import type { Rig } from '../../rig/rig.ts';
import { chooses } from '../choice.ts';
import { defineLayer } from '../layer.ts';
import type { Layer } from '../layer.ts';
import { constantSignal, shared, signalOf } from '../signal.ts';
import { eachTurn, mixedTurn, partOfTurn, turnedBy, turnOf, turnSlots, wholeOf } from '../turns.ts';
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
  effect: () => 'adds',
  flip: 'asIs',
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
      const own = slots.map((c) => {
        const curve = ownCurve(layer, rig, c);
        return curve ? signalOf(curve) : NOTHING_KEYED;
      });
      mixedTurn(
        slots.map((c) => below[c]!),
        own,
        weight,
        rig.nodes[node]!.order,
        turnedBy,
      ).forEach((signal, axis) => (above[slots[axis]!] = signal));
    });
    return above;
  },
  together: (layer, rig, node, held) => ((held || layer.curves[node]) && composed(layer, rig, node)) || [],
  hold: (layer, wants, below, { rig }) =>
    eachTurn(wants, rig, {
      slots: (node) => composed(layer, rig, node),
      alone(c, { frame, value }) {
        const weight = weightOf(layer).at(frame);
        return Math.abs(weight) < NEAR ? 'hidden' : { frame, value: (value - below[c]!.at(frame)) / weight };
      },
      turned(slots, angles, frame, order) {
        const weight = weightOf(layer).at(frame);
        if (Math.abs(weight) < NEAR) return 'hidden';
        const under = slots.map((c) => below[c]!.at(frame)) as Triple;
        const own = wholeOf(multiply(conjugate(turnOf(under, order)), turnOf(angles, order)), weight);
        return own === 'beyond' ? own : eulerFromQuat(own, order, ownAt(layer, rig, slots, frame));
      },
    }),
  under: (layer, wants, _, { rig }) =>
    eachTurn(wants, rig, {
      slots: (node) => composed(layer, rig, node),
      alone(c, { frame, value }) {
        const curve = ownCurve(layer, rig, c);
        const weight = weightOf(layer).at(frame);
        return { frame, value: curve && weight !== 0 ? value - weight * signalOf(curve).at(frame) : value };
      },
      turned(slots, angles, frame, order) {
        const weight = weightOf(layer).at(frame);
        if (weight === 0 || !layer.curves[rig.channels[slots[0]]!.node]) return angles;
        const own = partOfTurn(ownAt(layer, rig, slots, frame), order, weight);
        return eulerFromQuat(multiply(turnOf(angles, order), conjugate(own)), order, angles);
      },
    }),
});

/** The channel indices of rx, ry, rz where the pass composes orientations on a node that has all three. */
const composed = (layer: Layer, rig: Rig, node: number): Triple | null =>
  layer.settings['rotations'] === 'orientations' ? turnSlots(rig, node) : null;

const ownAt = (layer: Layer, rig: Rig, slots: Triple, frame: number) =>
  slots.map((c) => {
    const curve = ownCurve(layer, rig, c);
    return curve ? signalOf(curve).at(frame) : 0;
  }) as Triple;
