import { describe, expect, test } from '@jest/globals';
import { seededRandom } from '../base/random.ts';
import { curve } from '../testing/shot-literals.ts';
import { bakeLeads } from './bake-lead.ts';
import { FLAG, LEADS, SEGMENT } from './curve.ts';
import type { Curve, Lead } from './curve.ts';
import { evaluate, sampleInto, slopeAt } from './evaluate.ts';
import { rebuild } from './rebuild.ts';

/** Frames 10 to 20, from 4 to 9, not the same backward. */
const source = curve([10, 4, 13, 12, 17, -3, 20, 9]);
const leading = (leadIn: Lead, leadOut: Lead, counts: [number, number] = [0, 0]): Curve => ({
  ...source,
  leadIn,
  leadOut,
  leadInCount: counts[0],
  leadOutCount: counts[1],
});
const at = (of: Curve, time: number) => evaluate(of, time);

describe('lead-in and lead-out', () => {
  test('loop: the keyed part again; the end belongs to the turn that it ends', () => {
    const loop = leading('loop', 'loop');
    for (const t of [10.001, 12.5, 17, 19.999]) {
      expect(at(loop, t + 30)).toBeCloseTo(at(source, t), 12);
      expect(at(loop, t - 20)).toBeCloseTo(at(source, t), 12);
    }
    expect(at(loop, 20)).toBe(9);
    expect(at(loop, 30)).toBe(9);
    expect(at(loop, 30.000001)).toBeCloseTo(4, 4);
  });

  test('loop and carry: each turn begins where the last one ended', () => {
    const carry = leading('loopCarry', 'loopCarry');
    expect(at(carry, 13 + 20)).toBeCloseTo(12 + 2 * 5, 12);
    expect(at(carry, 13 - 10)).toBeCloseTo(12 - 5, 12);
    for (let k = -2; k < 4; k += 1)
      expect(at(carry, 20 + 10 * k + 1e-7)).toBeCloseTo(at(carry, 20 + 10 * k), 4);
  });

  test('swing: there and back, without a jump', () => {
    const swing = leading('swing', 'swing');
    for (const d of [0.5, 3, 7, 10]) {
      expect(at(swing, 20 + d)).toBeCloseTo(at(source, 20 - d), 12);
      expect(at(swing, 10 - d)).toBeCloseTo(at(source, 10 + d), 12);
      expect(at(swing, 30 + d)).toBeCloseTo(at(source, 10 + d), 12);
    }
  });

  test('slope: straight on with the slope of the edge', () => {
    const slope = leading('slope', 'slope');
    expect(at(slope, 24)).toBeCloseTo(9 + 4 * source.slopesIn[3]!, 12);
    expect(at(slope, 8)).toBeCloseTo(4 - 2 * source.slopesOut[0]!, 12);
    expect(slopeAt(slope, 24)).toBeCloseTo(source.slopesIn[3]!, 12);
  });

  test('a count bounds the repeats; past them the value holds', () => {
    const twice = leading('loop', 'loopCarry', [1, 2]);
    expect(at(twice, 40)).toBeCloseTo(19, 12);
    expect(at(twice, 400)).toBeCloseTo(19, 12);
    expect(at(twice, -300)).toBeCloseTo(4, 12);
  });

  test('a 24-frame cycle plays 1–24; its key on frame 25 equals frame 1 (common practice, no source)', () => {
    const cycle: Curve = { ...curve([1, 3, 9, 11, 17, -6, 25, 3]), leadOut: 'loop' };
    const played = Array.from({ length: 72 }, (_, i) => at(cycle, 1 + i));
    for (let i = 0; i < 24; i += 1) {
      expect(played[24 + i]).toBeCloseTo(played[i]!, 12);
      expect(played[48 + i]).toBeCloseTo(played[i]!, 12);
    }
  });

  test('one key, and none, hold whatever they are told', () => {
    for (const lead of LEADS) {
      expect(at({ ...curve([5, 7]), leadOut: lead, leadIn: lead }, 90)).toBe(7);
      expect(at({ ...curve([]), leadOut: lead }, 90)).toBe(0);
    }
  });

  test('editing the source keys changes every repeat at once', () => {
    const loop = leading('hold', 'loop');
    const edited = rebuild(loop, null, (columns) => (columns.values[1] = 40));
    expect([at(edited, 23), at(edited, 33), at(edited, 103)]).toEqual([40, 40, 40]);
  });

  test('many times at once give what each gives alone', () => {
    const mixed = leading('swing', 'loopCarry', [0, 3]);
    const times = Float64Array.from({ length: 300 }, (_, i) => -40 + i / 2.5);
    const values = new Float64Array(300);
    sampleInto(values, 0, 1, mixed, times);
    values.forEach((value, i) => expect(value).toBe(at(mixed, times[i]!)));
  });
});

describe('baking', () => {
  const kinds = LEADS.filter((lead) => lead !== 'hold');
  const cases = kinds.flatMap((lead) => [1, 2, 3].map((seed) => [lead, seed] as const));
  test.each(cases)('%s, seed %i: keys in place of repeats, the same curve up to there', (lead, seed) => {
    const random = seededRandom(seed);
    const base = rebuild(
      curve(
        [10, 4, 13, random.gaussian() * 9, 17, -3, 20, lead === 'loop' ? 4 : 9],
        seed === 2 ? 'steady' : 'smooth',
      ),
      null,
      (columns) => {
        if (seed === 3) {
          // On the way back of a swing stepped keys hold another value: see bakeLeads.
          if (lead !== 'swing') columns.segments[1] = SEGMENT.stepped;
          columns.segments[2] = SEGMENT.linear;
          columns.flags[0]! |= FLAG.weightedOut;
          columns.lengthsOut[0] = 2.2;
        }
      },
    );
    const of: Curve = { ...base, leadIn: lead, leadOut: lead };
    const baked = bakeLeads(of, -17, 53);
    expect([baked.leadIn, baked.leadOut]).toEqual(['hold', 'hold']);
    for (let i = 0; i <= 700; i += 1) {
      const time = -17 + i / 10 + 0.0123;
      if (time >= 53) continue;
      expect(Math.abs(at(baked, time) - at(of, time))).toBeLessThan(1e-7);
    }
  });
});
