/** Re-tangent: values and times of the keys stay, their tangents are chosen again. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { SEGMENT } from '../../curve/curve.ts';
import { differenceOf } from '../../curve/difference.ts';
import { RETANGENT_METHODS, retangent } from '../../curve/retangent.ts';
import { unitOf } from '../../rig/node.ts';
import { splitChannel } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import type { Measure } from '../edit.ts';
import { changeTargets, lockedKeysFinding } from '../shared/targets.ts';

export const retangentKeys = defineEdit({
  id: 'tangents.retangent',
  title: 'Re-tangent',
  summary: 'Chooses the tangents of the selected keys again; the keys stay where they are.',
  words: 'ease tension handles overshoot smooth recalculate auto slow in out',
  group: 'tangents',
  needs: 'keys',
  locks: 'strip',
  options: z.object({
    method: z.enum(RETANGENT_METHODS).default('steady').meta({
      title: 'Method',
      description:
        'fit: joined tangents nearest to the curve as it is; steady: no overshoot; smoothest: the natural spline; ease: slow at the keys.',
    }),
    ease: z
      .number()
      .min(0)
      .max(1)
      .default(0.5)
      .meta({
        title: 'Ease',
        when: { method: 'ease' },
        unit: '',
        step: 0.05,
        description: 'For ease: handle length as a part of the gap, 0 to 1.',
      }),
  }),
  run(shot, selection, { method, ease }) {
    const short: string[] = [];
    let worst: Measure | null = null;
    let count = 0;
    let straight = 0;
    const changes = changeTargets(shot, selection, (curve, rows, channel) => {
      if (curve.times.length < 2) {
        short.push(channel);
        return curve;
      }
      const chosen = new Uint8Array(curve.times.length);
      for (const row of rows) chosen[row] = 1;
      count += rows.length;
      straight += rows.filter((row) => chosen[row + 1] && curve.segments[row] !== SEGMENT.cubic).length;
      const result = retangent(curve, chosen, method, ease);
      const range = { start: curve.times[0]!, end: curve.times[curve.times.length - 1]! };
      const { greatest, frame } = differenceOf(curve, result, range);
      const unit = unitOf(splitChannel(channel).name);
      if (greatest > (worst?.value ?? -1))
        worst = { name: 'greatest change', value: greatest, unit, where: { channel, frame } };
      return result;
    });
    const findings = lockedKeysFinding(changes.lockedKeys);
    if (straight > 0) findings.push(finding('stayStraight', {}, straight));
    if (short.length > 0) findings.push(finding('tooFewKeys', {}, short));
    return outcome(shot, changes.shot, selection, {
      touched: changes.touched,
      findings,
      measures: [{ name: 'keys', value: count, unit: '' }, ...(worst ? [worst] : [])],
    });
  },
});
