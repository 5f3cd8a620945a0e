/** Choosing tangents again: what flows gets new ones, what steps or runs straight stays. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { SEGMENT, TANGENT } from '../../curve/curve.ts';
import { differenceOf } from '../../curve/difference.ts';
import { evaluate } from '../../curve/evaluate.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { RETANGENT_METHODS } from '../../curve/retangent.ts';
import { curveOf } from '../../document/shot.ts';
import { anyCurve } from '../../testing/arbitrary-curves.ts';
import { choose, curve, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

const hips = choose({ nodes: ['hips'] });

describe('re-tangent', () => {
  test.each(RETANGENT_METHODS)(
    '%s: stepped and straight segments stay what they were, and that is said',
    (method) => {
      fc.assert(
        fc.property(anyCurve({ weighted: true, fewest: 3 }), (source) => {
          const { shot, report } = runEdit('tangents.retangent', puppet({ 'hips.tx': source }), hips, {
            method,
          });
          const after = curveOf(shot, null, 'hips.tx');
          expect([...after.segments]).toEqual([...source.segments]);
          const straight = source.segments.subarray(0, -1).filter((kind) => kind !== SEGMENT.cubic).length;
          expect(report.findings.some(({ code }) => code === 'stayStraight')).toBe(straight > 0);
          for (let row = 0; row + 1 < source.times.length; row += 1) {
            if (source.segments[row] === SEGMENT.cubic) continue;
            const inside = { start: source.times[row]!, end: source.times[row + 1]! - 1e-6 };
            expect(differenceOf(source, after, inside).greatest).toBeLessThan(1e-12 * 80);
          }
        }),
        { numRuns: 50 },
      );
    },
  );

  test('smoothest: a spline ends where the curve stops flowing, as a natural spline does (Burden & Faires, 3.5)', () => {
    const keys = [0, 0, 5, 10, 9, -4, 14, 6, 20, 2];
    const broken = rebuild(curve(keys), null, (columns) => (columns.segments[2] = SEGMENT.linear));
    const smoothest = (of: typeof broken) =>
      curveOf(
        runEdit('tangents.retangent', puppet({ 'hips.tx': of }), hips, { method: 'smoothest' }).shot,
        null,
        'hips.tx',
      );
    const [whole, left, right] = [
      smoothest(broken),
      smoothest(curve(keys.slice(0, 6))),
      smoothest(curve(keys.slice(6))),
    ];
    for (const frame of [1, 3.3, 7, 8.9])
      expect(evaluate(whole, frame)).toBeCloseTo(evaluate(left, frame), 9);
    for (const frame of [14.5, 17, 19]) expect(evaluate(whole, frame)).toBeCloseTo(evaluate(right, frame), 9);
  });

  test('fit: what steps draws no slope of what flows', () => {
    const source = rebuild(curve([0, 0, 8, 12, 16, 12, 24, 300]), null, (columns) => {
      columns.segments[2] = SEGMENT.stepped;
      columns.tangentsIn.fill(TANGENT.flat);
      columns.tangentsOut.fill(TANGENT.flat);
    });
    const { shot } = runEdit('tangents.retangent', puppet({ 'hips.tx': source }), hips, { method: 'fit' });
    expect(differenceOf(source, curveOf(shot, null, 'hips.tx'), { start: 0, end: 30 }).greatest).toBeLessThan(
      1e-9,
    );
  });

  test('steady with handles as long as the gap never leaves the values of the keys', () => {
    fc.assert(
      fc.property(anyCurve({ weighted: true, flowing: true, fewest: 3 }), (source) => {
        const steady = rebuild(source, null, (columns) => {
          columns.tangentsIn.fill(TANGENT.steady);
          columns.tangentsOut.fill(TANGENT.steady);
        });
        for (let row = 0; row + 1 < steady.times.length; row += 1) {
          const [a, b] = [steady.values[row]!, steady.values[row + 1]!];
          for (let part = 1; part < 40; part += 1) {
            const value = evaluate(
              steady,
              steady.times[row]! + ((steady.times[row + 1]! - steady.times[row]!) * part) / 40,
            );
            expect(value).toBeGreaterThanOrEqual(Math.min(a, b) - 1e-9);
            expect(value).toBeLessThanOrEqual(Math.max(a, b) + 1e-9);
          }
        }
      }),
      { numRuns: 80 },
    );
  });
});
