/** Curves through functions of time, held against the functions themselves. */
import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { FrameRange } from '../base/frame-range.ts';
import { anyCurve } from '../testing/arbitrary-curves.ts';
import { curve, keysOf } from '../testing/shot-literals.ts';
import { SEGMENT } from './curve.ts';
import { curveThrough, curveWithin, shownBy } from './curve-through.ts';
import type { Curve } from './curve.ts';
import { evaluate } from './evaluate.ts';
import { jumpsOfCurve } from './jumps.ts';

const shownOf = (of: Curve) => ({
  at: (frame: number) => evaluate(of, frame),
  jumps: (range: FrameRange) => jumpsOfCurve(of, range),
});
const fifths = (from: number, to: number) =>
  Array.from({ length: (to - from) * 5 + 1 }, (_, i) => from + i / 5);

test('through the keys of a curve it is that curve, slopes, corners and steps', () => {
  fc.assert(
    fc.property(anyCurve({}), (of) => {
      if (of.times.length < 2) return;
      const made = curveThrough(shownOf(of), [...of.times]);
      const [first, last] = [of.times[0]!, of.times[of.times.length - 1]!];
      const size = Math.max(...of.values.map(Math.abs), 1);
      for (let i = 0; i <= 50; i += 1) {
        const frame = first + ((last - first) * i) / 50;
        expect(Math.abs(evaluate(made, frame) - evaluate(of, frame)) / size).toBeLessThan(2e-4);
      }
    }),
    { numRuns: 100 },
  );
});

test('within a tolerance of anything smooth, looked at on fifths of frames, and with few keys', () => {
  for (const tolerance of [0.5, 0.05, 0.002]) {
    const wave = (frame: number) => 10 * Math.sin(frame / 5) + Math.cos(frame / 2);
    const made = curveWithin(shownBy(wave), [0, 60], tolerance);
    const greatest = Math.max(...fifths(0, 60).map((frame) => Math.abs(evaluate(made, frame) - wave(frame))));
    expect(greatest).toBeLessThanOrEqual(tolerance);
    expect(made.times.length).toBeLessThan(45);
  }
});

test('what holds and jumps becomes steps on its own frames', () => {
  const twos = (frame: number) => 3 * Math.floor((frame + 1e-9) / 2);
  const made = curveThrough(shownBy(twos), [0, 2, 4, 6]);
  expect(keysOf(made)).toBe('0:0 2:3 4:6 6:9');
  expect([...made.segments.slice(0, 3)]).toEqual([SEGMENT.stepped, SEGMENT.stepped, SEGMENT.stepped]);
  for (const frame of [0, 1.9, 2, 3.4, 5.99, 6]) expect(evaluate(made, frame)).toBe(twos(frame));
});

test('a key on each frame is thinned to what the tolerance needs', () => {
  const of = curve([0, 0, 20, 8, 48, -3]);
  const made = curveWithin(shownOf(of), fifths(0, 48).filter(Number.isInteger), 1e-3);
  expect(made.times.length).toBeLessThanOrEqual(4);
});
