/** A replace pass: by its weight its own curves take over, whatever lies below. */
import { z } from 'zod';
import { chooses, chosen } from '../choice.ts';
import { defineLayer } from '../layer.ts';
import type { Answers, Want } from '../layer.ts';
import { shared, signalOf } from '../signal.ts';
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
  time: { is: 'asKeyed' },
  settings: z.object({}),
  over(layer, below, context) {
    const { rig } = context;
    const weight = weightOf(layer);
    const above = [...below];
    for (const [c, curve] of ownCurves(layer, rig)) {
      const [under, own] = [below[c]!, signalOf(curve)];
      const combine = chooses(context, c) ? chosen : mixed;
      above[c] = shared(
        own,
        ['replace', under, weight, combine],
        () => new WeighedSignal(under, own, weight, combine),
      );
    }
    return above;
  },
  hold(layer, wants, below) {
    const weight = weightOf(layer);
    const answers: Answers = new Map();
    for (const [c, { frame, value }] of wants) {
      const share = weight.at(frame);
      const under = below[c]!.at(frame);
      answers.set(c, Math.abs(share) < NEAR ? 'hidden' : { frame, value: under + (value - under) / share });
    }
    return answers;
  },
  under(layer, wants, _, { rig }) {
    const weight = weightOf(layer);
    const answers: Answers = new Map();
    for (const [c, want] of wants) {
      const curve = ownCurve(layer, rig, c);
      answers.set(c, curve ? uncovered(want, weight.at(want.frame), signalOf(curve).at(want.frame)) : want);
    }
    return answers;
  },
});

const uncovered = ({ frame, value }: Want, weight: number, own: number) =>
  Math.abs(1 - weight) < NEAR ? 'hidden' : { frame, value: (value - weight * own) / (1 - weight) };
