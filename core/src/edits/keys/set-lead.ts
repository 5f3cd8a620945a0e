/** Set what curves do ahead of their first key and past their last, and say whether loops close. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { LEADS } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { edgeSlope } from '../../curve/lead.ts';
import { unitOf } from '../../rig/node.ts';
import { targetsOf } from '../../document/selection.ts';
import { splitChannel, withCurves } from '../../document/shot.ts';
import type { ChannelId } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import type { Measure } from '../edit.ts';

/** A gap smaller than this does not show, in the channel's unit and per frame. */
const CLOSED = 1e-4;

export const setLead = defineEdit({
  id: 'keys.setLead',
  title: 'Lead-in and lead-out',
  summary: 'Sets what the selected curves do before their first key and after their last.',
  words: 'cycle loop infinity repeat extrapolate before after swing pendulum hold',
  group: 'keys',
  needs: 'keys',
  locks: 'strip',
  options: z.object({
    side: z.enum(['out', 'in', 'both']).default('out').meta({
      title: 'Side',
      description: 'in: ahead of the first key; out: past the last.',
    }),
    kind: z
      .enum(LEADS)
      .default('loop')
      .meta({
        title: 'Kind',
        labels: { loopCarry: 'loop and carry' },
        description:
          'hold: the end stays; slope: straight on; loop: again; loop and carry: again from where it ended; swing: there and back.',
      }),
    count: z
      .number()
      .int()
      .min(0)
      .max(100000)
      .default(0)
      .meta({
        title: 'Times',
        when: { kind: ['loop', 'loopCarry', 'swing'] },
        unit: '',
        step: 1,
        description: 'How often it repeats; 0 is without end.',
      }),
  }),
  run(shot, selection, { side, kind, count }) {
    const changed = new Map<ChannelId, Curve>();
    const short: string[] = [];
    const open: string[] = [];
    let worst: Measure | null = null;
    let bend: Measure | null = null;
    for (const { channel, curve } of targetsOf(shot, selection)) {
      if (curve.times.length < 2 && kind !== 'hold') {
        short.push(channel);
        continue;
      }
      const { gap, slopeGap } = seamOf(curve);
      const unit = unitOf(splitChannel(channel).name);
      if (kind === 'loop' && Math.abs(gap) > CLOSED) open.push(channel);
      if (kind === 'loop' && Math.abs(gap) > (worst?.value ?? -1))
        worst = { name: 'greatest gap at the seam', value: Math.abs(gap), unit, where: { channel } };
      if ((kind === 'loop' || kind === 'loopCarry') && Math.abs(slopeGap) > (bend?.value ?? -1))
        bend = {
          name: 'greatest change of slope',
          value: Math.abs(slopeGap),
          unit: `${unit}/frame`,
          where: { channel },
        };
      changed.set(channel, {
        ...curve,
        ...(side !== 'out' ? { leadIn: kind, leadInCount: count } : {}),
        ...(side !== 'in' ? { leadOut: kind, leadOutCount: count } : {}),
      });
    }
    for (const { channel, curve } of targetsOf(shot, selection)) {
      const after = changed.get(channel);
      if (
        after?.leadIn === curve.leadIn &&
        after.leadOut === curve.leadOut &&
        after.leadInCount === curve.leadInCount &&
        after.leadOutCount === curve.leadOutCount
      )
        changed.delete(channel);
    }
    return outcome(shot, withCurves(shot, selection.layer, changed), selection, {
      touched: [...changed.keys()],
      findings: [
        ...(short.length > 0 ? [finding('leadNeedsKeys', {}, short)] : []),
        ...(open.length > 0 ? [finding('seamOpen', {}, open)] : []),
      ],
      measures: [
        { name: 'curves set', value: changed.size, unit: '' },
        ...(worst ? [worst] : []),
        ...(bend ? [bend] : []),
      ],
    });
  },
});

/** How far the last key is from the first, in value and in slope. */
function seamOf(curve: Curve): { gap: number; slopeGap: number } {
  const last = curve.times.length - 1;
  return {
    gap: curve.values[last]! - curve.values[0]!,
    slopeGap: edgeSlope(curve, false) - edgeSlope(curve, true),
  };
}
