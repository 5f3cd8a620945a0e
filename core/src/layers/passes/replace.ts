/**
 * A replace pass: by its weight its own curves take over, whatever lies below. As far as only a part of it counts, rotations go the short way from the
 * orientation below to its own, or angle by angle, by choice.
 */
import { z } from 'zod';
import { eulerFromQuat } from '../../math/euler.ts';
import type { Triple } from '../../math/euler.ts';
import { conjugate, multiply } from '../../math/quaternion.ts';
import type { Rig } from '../../rig/rig.ts';
import { chooses, chosen } from '../choice.ts';
import { defineLayer } from '../layer.ts';
import type { Layer, Want } from '../layer.ts';
import { shared, signalOf } from '../signal.ts';
import type { Signals } from '../signal.ts';
import { belowOf, eachTurn, mixedTurn, turnedToward, turnOf, turnSlots, wholeOf } from '../turns.ts';
import { mixed, WeighedSignal, weightOf } from '../weight.ts';
import { ownCurve, ownCurves } from './own-curves.ts';

/** A weight so near to 1 leaves nothing of what lies below; so near to 0 nothing of the pass. */
const NEAR = 1e-9;

export const replacePass = defineLayer({
  kind: 'replace',
  title: 'Replace pass',
  summary: 'Its own keys take over from the motion below.',
  words: 'layer override',
  keyed: true,
  effect: () => 'covers',
  flip: 'asIs',
  time: { is: 'asKeyed' },
  settings: z.object({
    rotations: z
      .enum(['channels', 'orientations'])
      .default('channels')
      .describe('Whether a part of it mixes rotations per channel or as orientations, by the short way'),
  }),
  over(layer, below, context) {
    const { rig } = context;
    const weight = weightOf(layer);
    const above = [...below];
    for (const [c, curve] of ownCurves(layer, rig)) {
      if (turning(layer, rig, rig.channels[c]!.node)?.includes(c)) continue;
      const [under, own] = [below[c]!, signalOf(curve)];
      const combine = chooses(context, c) ? chosen : mixed;
      above[c] = shared(
        own,
        ['replace', under, weight, combine],
        () => new WeighedSignal(under, own, weight, combine),
      );
    }
    layer.curves.forEach((entries, node) => {
      const slots = entries && turning(layer, rig, node);
      if (!slots) return;
      const under = slots.map((c) => below[c]!);
      const own = slots.map((c) => {
        const curve = ownCurve(layer, rig, c);
        return curve ? signalOf(curve) : below[c]!;
      });
      mixedTurn(under, own, weight, rig.nodes[node]!.order, turnedToward).forEach(
        (signal, axis) => (above[slots[axis]!] = signal),
      );
    });
    return above;
  },
  together: (layer, rig, node, held) =>
    ((held || layer.curves[node]) && turnsTogether(layer, rig, node)) || [],
  hold: (layer, wants, below, { rig }) =>
    eachTurn(wants, rig, {
      slots: (node) => turnsTogether(layer, rig, node),
      alone(c, { frame, value }) {
        const share = weightOf(layer).at(frame);
        const under = below[c]!.at(frame);
        return Math.abs(share) < NEAR ? 'hidden' : { frame, value: under + (value - under) / share };
      },
      turned(slots, angles, frame, order) {
        const share = weightOf(layer).at(frame);
        if (Math.abs(share) < NEAR) return 'hidden';
        if (Math.abs(1 - share) < NEAR) return angles;
        const under = turnOf(anglesAt(below, slots, frame), order);
        const own = wholeOf(multiply(conjugate(under), turnOf(angles, order)), share);
        return own === 'beyond' ? own : eulerFromQuat(multiply(under, own), order, angles);
      },
    }),
  under: (layer, wants, _, { rig }) =>
    eachTurn(wants, rig, {
      // Where all of it counts each angle is its own.
      slots: (node, frame) =>
        layer.curves[node] && Math.abs(1 - weightOf(layer).at(frame)) >= NEAR
          ? turning(layer, rig, node)
          : null,
      alone(c, want) {
        const curve = ownCurve(layer, rig, c);
        return curve ? uncovered(want, weightOf(layer).at(want.frame), signalOf(curve).at(want.frame)) : want;
      },
      turned(slots, angles, frame, order) {
        const share = weightOf(layer).at(frame);
        if (share === 0) return angles;
        const keyed = slots.map((c) => ownCurve(layer, rig, c));
        const own = keyed.map((curve) => curve && signalOf(curve).at(frame));
        return belowOf(angles, own, share, order);
      },
    }),
});

/** The rotation channels of a node that are mixed as one orientation: where any of them is keyed on the pass. */
function turning(layer: Layer, rig: Rig, node: number): Triple | null {
  const slots = turnsTogether(layer, rig, node);
  return slots?.some((c) => ownCurve(layer, rig, c)) ? slots : null;
}

const turnsTogether = (layer: Layer, rig: Rig, node: number): Triple | null =>
  layer.settings['rotations'] === 'orientations' ? turnSlots(rig, node) : null;

const anglesAt = (signals: Signals, slots: Triple, frame: number) =>
  slots.map((c) => signals[c]!.at(frame)) as Triple;

const uncovered = ({ frame, value }: Want, weight: number, own: number) =>
  Math.abs(1 - weight) < NEAR ? 'hidden' : { frame, value: (value - weight * own) / (1 - weight) };
