/** Single questions answered from the piece of the last one are those of the curve itself. */
import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { anyCurve } from '../testing/arbitrary-curves.ts';
import { LEADS } from './curve.ts';
import { CurveReader, evaluate } from './evaluate.ts';
import { buildCurve } from './rebuild.ts';

const leads = fc.constantFrom(...LEADS);
const times = fc.array(
  fc.oneof(fc.double({ min: -20, max: 60, noNaN: true }), fc.integer({ min: -9, max: 45 })),
  {
    minLength: 1,
    maxLength: 60,
  },
);

test('to the bit, in any order, on keys and between and beyond them', () => {
  fc.assert(
    fc.property(
      anyCurve({ weighted: true, fewest: 1 }),
      leads,
      leads,
      times,
      (curve, leadIn, leadOut, asked) => {
        const led = { ...curve, leadIn, leadOut };
        const reader = new CurveReader(led);
        // On its keys too, one by one and every other one, where one piece ends and the next begins.
        for (const time of [
          ...asked,
          ...led.times,
          ...led.times.filter((_, i) => i % 2 === 0),
          ...[...asked].sort((a, b) => a - b),
        ])
          expect(reader.at(time)).toBe(evaluate(led, time));
      },
    ),
    { seed: 41, numRuns: 300 },
  );
});

test('a curve without keys is 0', () => {
  expect(new CurveReader(buildCurve(0, () => undefined)).at(3)).toBe(0);
});
