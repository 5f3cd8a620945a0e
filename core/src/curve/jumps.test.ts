/** Where curves jump, found again by looking closely on both sides. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { anyCurve } from '../testing/arbitrary-curves.ts';
import { curve } from '../testing/shot-literals.ts';
import { bakeLeads } from './bake-lead.ts';
import { SEGMENT } from './curve.ts';
import type { Curve, Lead } from './curve.ts';
import { evaluate } from './evaluate.ts';
import { jumpsOfCurve } from './jumps.ts';
import { rebuild } from './rebuild.ts';
import { timesWithRepeats } from './repeated-times.ts';

const led = (of: Curve, leadIn: Lead, leadOut: Lead, leadInCount = 0, leadOutCount = 0): Curve => ({
  ...of,
  ...{ leadIn, leadOut, leadInCount, leadOutCount },
});
const stepped = (of: Curve): Curve => rebuild(of, null, (columns) => columns.segments.fill(SEGMENT.stepped));
const straight = (of: Curve): Curve => rebuild(of, null, (columns) => columns.segments.fill(SEGMENT.linear));
const LEADS: readonly Lead[] = ['hold', 'slope', 'loop', 'loopCarry', 'swing'];

/** Whether the value changes at once at a time. */
const changes = (of: Curve, time: number) => {
  const [before, on, after] = [-1e-7, 0, 1e-7].map((by) => evaluate(of, time + by)) as [
    number,
    number,
    number,
  ];
  return Math.max(Math.abs(before - on), Math.abs(after - on)) > 1e-3;
};

test('steps, seams of a wheel ahead of the keys and past them, and nothing where ends meet', () => {
  const wheel = straight(curve([0, 0, 24, 360]));
  expect(jumpsOfCurve(led(wheel, 'loop', 'loop'), { start: -30, end: 72 })).toEqual([-24, 0, 24, 48, 72]);
  expect(jumpsOfCurve(led(wheel, 'loopCarry', 'loopCarry'), { start: -30, end: 72 })).toEqual([]);
  expect(jumpsOfCurve(led(wheel, 'hold', 'loop', 0, 2), { start: -30, end: 172 })).toEqual([24, 48]);
  expect(jumpsOfCurve(stepped(curve([0, 1, 7, 1, 9.5, 4])), { start: 0, end: 20 })).toEqual([9.5]);
});

test('whatever curve, its jumps are all that there are', () => {
  fc.assert(
    fc.property(
      anyCurve({ fewest: 2 }),
      fc.constantFrom(...LEADS),
      fc.constantFrom(...LEADS),
      fc.integer({ min: 0, max: 3 }),
      (of, leadIn, leadOut, count) => {
        const made = led(of, leadIn, leadOut, count, count);
        const range = { start: -40, end: 70 };
        const jumps = jumpsOfCurve(made, range);
        for (const time of timesWithRepeats(made, range)) {
          const known = jumps.some((jump) => Math.abs(jump - time) < 1e-6);
          if (changes(made, time) && time > -39 && time < 69) expect([time, known]).toEqual([time, true]);
        }
      },
    ),
    { numRuns: 300 },
  );
});

describe('repeats turned into keys', () => {
  test('a wheel goes on turning: 0 to 360, again and again, every whole frame as it was', () => {
    const wheel = led(straight(curve([0, 0, 24, 360])), 'loop', 'loop');
    const baked = bakeLeads(wheel, -50, 80);
    for (let frame = -50; frame <= 80; frame += 1)
      expect([frame, evaluate(baked, frame)]).toEqual([frame, expect.closeTo(evaluate(wheel, frame), 9)]);
    // But for the frame beside a seam the frames between are what they were too.
    for (const frame of [-30.4, -2.7, 3.4, 30.2, 47.3, 60.8])
      expect(evaluate(baked, frame)).toBeCloseTo(evaluate(wheel, frame), 9);
  });

  test('any curve with any leads: every whole frame as it was', () => {
    fc.assert(
      fc.property(
        // Turned round, a hold begins where the next key stood: on whole frames only if keys stand on them.
        fc
          .boolean()
          .chain((whole) =>
            fc.tuple(
              anyCurve({ fewest: 2, weighted: true, whole }),
              fc.constantFrom(...LEADS.filter((lead) => whole || lead !== 'swing')),
              fc.constantFrom(...LEADS.filter((lead) => whole || lead !== 'swing')),
            ),
          ),
        fc.integer({ min: 0, max: 3 }),
        ([of, leadIn, leadOut], count) => {
          // A key that is on a frame but for rounding lies on neither side of it.
          fc.pre(
            of.times.every((time) => time === Math.round(time) || Math.abs(time - Math.round(time)) > 1e-5),
          );
          const made = led(of, leadIn, leadOut, count, count);
          const baked = bakeLeads(made, -20, 60);
          const size = Math.max(...made.values.map(Math.abs), 1);
          const jumps = jumpsOfCurve(made, { start: -21, end: 61 });
          for (let frame = -20; frame <= 60; frame += 1) {
            // Keys stand anywhere: a frame so near to one may lie on either side of it.
            if (jumps.some((jump) => jump !== frame && Math.abs(jump - frame) < 1e-5)) continue;
            const off = Math.abs(evaluate(baked, frame) - evaluate(made, frame)) / size;
            expect([frame, off < 1e-6]).toEqual([frame, true]);
          }
        },
      ),
      { numRuns: 300 },
    );
  });

  test('more keys than are made are refused with their number', () => {
    const quick = led(curve([0, 0, 0.01, 1]), 'hold', 'loop');
    expect(() => bakeLeads(quick, 0, 20_000)).toThrow(/3,999,998 keys.*500,000/);
  });
});

test('a loop whose ends differ keeps its shape beside the seam, whatever rule the key there follows', () => {
  const source = {
    ...curve([0, 12, 1, -5, 7, -12, 10, 8]),
    leadIn: 'loop' as const,
    leadOut: 'loop' as const,
  };
  const baked = bakeLeads(source, -20, 34);
  for (let frame = -20; frame <= 34; frame += 1)
    expect([frame, evaluate(baked, frame)]).toEqual([frame, expect.closeTo(evaluate(source, frame), 9)]);
});
