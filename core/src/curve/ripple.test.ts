/** Time put in and taken out, on curves from seeds: no key is lost but those that meet, and their order stays. */
import { describe, expect, test } from '@jest/globals';
import { seededRandom } from '../base/random.ts';
import { curve } from '../testing/shot-literals.ts';
import type { Curve } from './curve.ts';
import { evaluate } from './evaluate.ts';
import { removeTime, retimeCurve, rippleCurve } from './ripple.ts';

function seeded(seed: number): { before: Curve; at: number; by: number } {
  const random = seededRandom(seed);
  const frames = [...new Set(Array.from({ length: 14 }, () => random.whole(0, 60)))].sort((a, b) => a - b);
  const before = curve(frames.flatMap((frame) => [frame, random.gaussian() * 9]));
  return { before, at: random.whole(-5, 65), by: random.whole(-12, 12) };
}

const seeds = Array.from({ length: 60 }, (_, i) => i + 1);
const times = (of: Curve) => [...of.times];

describe('a ripple', () => {
  test.each(seeds)('moves every later key and no earlier one, seed %i', (seed) => {
    const { before, at, by } = seeded(seed);
    const { curve: after, merged } = rippleCurve(before, at, by);
    expect(after.times.length + merged).toBe(before.times.length);
    before.ids.forEach((id, row) => {
      const now = after.ids.indexOf(id);
      const time = before.times[row]!;
      if (now < 0) {
        expect(merged).toBeGreaterThan(0);
        return;
      }
      if (time <= at) expect(after.times[now]).toBe(time);
      else if (by >= 0) expect(after.times[now]).toBe(time + by);
      else {
        // Taken out: never ahead of the frame, never later than it was.
        expect(after.times[now]).toBeGreaterThan(at);
        expect(after.times[now]).toBeLessThanOrEqual(time);
        if (time + by > at + 1) expect(after.times[now]).toBe(time + by);
      }
      expect(after.values[now]).toBe(before.values[row]);
    });
    for (let row = 1; row < after.times.length; row += 1)
      expect(after.times[row]).toBeGreaterThan(after.times[row - 1]!);
  });

  test.each(seeds)('out and back gives the same times where time was put in, seed %i', (seed) => {
    const { before, at, by } = seeded(seed);
    const wide = rippleCurve(before, at, Math.abs(by)).curve;
    expect(times(rippleCurve(wide, at, -Math.abs(by)).curve)).toEqual(times(before));
  });

  test('nothing later: the very same curve', () => {
    const before = curve([0, 1, 8, 2]);
    expect(rippleCurve(before, 8, 5).curve).toBe(before);
    expect(rippleCurve(before, 3, 0).curve).toBe(before);
  });
});

describe('time removed', () => {
  test.each(seeds)('closes up: what was at the end follows what was at the beginning, seed %i', (seed) => {
    const random = seededRandom(seed);
    const { before } = seeded(seed);
    const from = random.whole(0, 30);
    const to = from + random.whole(1, 20);
    const after = removeTime(before, from, to);
    const expected = times(before)
      .filter((time) => time <= from || time >= to)
      .map((time) => (time >= to && time > from ? time - (to - from) : time));
    expect(times(after)).toEqual([...new Set(expected)].sort((a, b) => a - b));
    const late = times(before).find((time) => time > to);
    if (late !== undefined)
      expect(evaluate(after, late - (to - from))).toBeCloseTo(evaluate(before, late), 12);
  });
});

describe('retiming by a function', () => {
  test('keys keep values and ids; the later of two that meet stays, and is counted', () => {
    const before = curve([0, 1, 4, 2, 5, 3, 9, 4]);
    const { curve: after, merged } = retimeCurve(before, (time) => Math.floor(time / 4) * 4);
    expect(times(after)).toEqual([0, 4, 8]);
    expect([...after.values]).toEqual([1, 3, 4]);
    expect(merged).toBe(1);
    expect(retimeCurve(before, (time) => time).curve).toBe(before);
  });
});
