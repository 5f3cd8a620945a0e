/** Posing under a spring, a smooth, and what shows two times at once: the pose shows, and it is said that the frames around it move along. */
import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { valuesAt } from '../../evaluation/evaluation.ts';
import { capturePose } from '../../evaluation/stored-pose.ts';
import { rigOf } from '../../document/shot.ts';
import { anyCurve } from '../../testing/arbitrary-curves.ts';
import { choose, filter, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

test.each([
  ['spring', { frequency: 4, damping: 0.6 }],
  ['smooth', { width: 4 }],
  ['shift', { frames: 2, strength: 'mixes' }],
] as const)('under %s', (kind, settings) => {
  let shown = 0;
  fc.assert(
    fc.property(
      anyCurve({ fewest: 3 }),
      fc.double({ min: -60, max: 60, noNaN: true }),
      fc.integer({ min: 3, max: 20 }),
      (base, wanted, frame) => {
        const layer = filter(kind, ['arm_l'], settings, { id: 'f' });
        const half = {
          ...layer,
          weight: { ...layer.weight, values: Float64Array.of(kind === 'shift' ? 0.5 : 1) },
        };
        const shot = { ...puppet({ 'arm_l.rz': base }), layers: [half] };
        const c = rigOf(shot).channelIndex('arm_l.rz');
        const pose = capturePose(shot, choose({ channels: ['arm_l.rz'] }), frame);
        const { shot: after, report } = runEdit('poses.paste', shot, choose({}), {
          pose: { ...pose, values: { 'arm_l.rz': wanted } },
          frame,
        });
        const codes = report.findings.map(({ code }) => code);
        if (codes.includes('blockedByLayer')) return;
        shown += 1;
        expect(valuesAt(after, frame)[c]).toBeCloseTo(wanted, 4);
        if (report.status === 'changed') expect(codes).toContain('keyedThrough');
      },
    ),
    { numRuns: 40 },
  );
  expect(shown).toBeGreaterThan(25);
});
