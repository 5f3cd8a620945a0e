/** The comparison of two curves against dense resampling, on curves from seeds that nobody tuned. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { anyCurve } from '../testing/arbitrary-curves.ts';
import { curve } from '../testing/shot-literals.ts';
import { LEADS } from './curve.ts';
import { differenceOf, straySegments } from './difference.ts';
import { evaluate, sampleInto } from './evaluate.ts';
import { newPiece, pieceAfter } from './piece.ts';
import { valueOf } from './piece-difference.ts';
import { rebuild } from './rebuild.ts';
import { retangent } from './retangent.ts';
import type { Curve } from './curve.ts';

/** Distances at many places, and where the greatest is. */
function resampled(a: Curve, b: Curve, start: number, end: number, places = 8001) {
  const times = Float64Array.from({ length: places }, (_, i) => start + ((end - start) * i) / (places - 1));
  const [x, y] = [new Float64Array(places), new Float64Array(places)];
  sampleInto(x, 0, 1, a, times);
  sampleInto(y, 0, 1, b, times);
  let greatest = 0;
  let squares = 0;
  x.forEach((value, i) => {
    const distance = Math.abs(value - y[i]!);
    greatest = Math.max(greatest, distance);
    squares += distance * distance;
  });
  return { greatest, rms: Math.sqrt(squares / places) };
}

describe('differenceOf', () => {
  test('of weighted curves is never below what resampling finds, and hardly above it', () => {
    fc.assert(
      fc.property(anyCurve({ weighted: true }), anyCurve({ weighted: true }), (a, b) => {
        const range = { start: -3, end: 47 };
        const seen = resampled(a, b, range.start, range.end);
        const said = differenceOf(a, b, range);
        expect(said.greatest).toBeGreaterThanOrEqual(seen.greatest * (1 - 1e-9));
        // The place that is named shows it, from one side at least.
        const there = Math.max(
          ...[-1e-7, 0, 1e-7].map((d) => Math.abs(evaluate(a, said.frame + d) - evaluate(b, said.frame + d))),
        );
        expect(there).toBeGreaterThanOrEqual(said.greatest * (1 - 1e-3) - 1e-9);
        expect(Math.abs(said.rms - seen.rms)).toBeLessThan(0.05 * seen.rms + 1e-9);
      }),
      { numRuns: 60, seed: 71 },
    );
  });

  test('sees repeats too: whatever the leads, what resampling finds', () => {
    fc.assert(
      fc.property(
        anyCurve({ weighted: true }),
        fc.constantFrom(...LEADS),
        fc.constantFrom(...LEADS),
        fc.nat(3),
        (a, leadIn, leadOut, count) => {
          const led = { ...a, leadIn, leadOut, leadInCount: count, leadOutCount: count };
          const flat = curve([0, 1, 30, 1], 'flat');
          const seen = resampled(led, flat, -95, 140, 9401);
          const said = differenceOf(led, flat, { start: -95, end: 140 });
          expect(said.greatest).toBeGreaterThanOrEqual(seen.greatest * (1 - 1e-9));
          expect(said.greatest).toBeLessThanOrEqual(
            resampled(led, flat, -95, 140, 94001).greatest * 1.02 + 1e-6,
          );
        },
      ),
      { numRuns: 30, seed: 5 },
    );
  });

  test('the case that sixteen places missed: strays are found in narrow bends of long handles', () => {
    const source = curve([0, 0, 11, 37, 23, -18, 37, 12]);
    const eased = retangent(source, new Uint8Array(4).fill(1), 'ease', 0.92);
    const plain = rebuild(eased, null, (columns) => columns.flags.fill(0));
    const seen = resampled(eased, plain, 0, 37, 200001).greatest;
    const strays = straySegments(eased, plain, { start: 0, end: 37 }, seen * 0.999);
    expect(strays.size).toBeGreaterThan(0);
    expect(straySegments(eased, plain, { start: 0, end: 37 }, seen * 1.001).size).toBe(0);
  });
});

test('a piece is the curve that it is of, leads and all', () => {
  const piece = newPiece();
  fc.assert(
    fc.property(
      anyCurve({ weighted: true }),
      fc.constantFrom(...LEADS),
      fc.constantFrom(...LEADS),
      fc.nat(2),
      fc.double({ min: -90, max: 130, noNaN: true }),
      (source, leadIn, leadOut, count, time) => {
        const led = { ...source, leadIn, leadOut, leadInCount: count, leadOutCount: count };
        pieceAfter(led, time, piece);
        expect(piece.start).toBeLessThanOrEqual(time + 1e-8);
        expect(piece.end).toBeGreaterThan(time);
        const inside = Math.min(time + 1e-4, (time + Math.min(piece.end, time + 1)) / 2);
        expect(Math.abs(valueOf(piece, inside) - evaluate(led, inside))).toBeLessThan(1e-5);
      },
    ),
    { numRuns: 600, seed: 9 },
  );
});
