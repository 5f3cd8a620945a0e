import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { landingsOf, lengthOf, roundAt, sourceAt } from './block-time.ts';

const times = fc.record({
  first: fc.integer({ min: -50, max: 50 }),
  factor: fc.constantFrom(0.5, 1, 1.5, 3),
  from: fc.integer({ min: 0, max: 20 }),
  to: fc.integer({ min: 21, max: 60 }),
  repeats: fc.integer({ min: 1, max: 5 }),
});
const frames = fc.uniqueArray(fc.integer({ min: 0, max: 90 }), { maxLength: 20 });

test('keys of the part that shows land in the block, rising, where the action shows them; none of those outside it does', () => {
  fc.assert(
    fc.property(times, frames, (time, keys) => {
      const landings = landingsOf(time, keys);
      const end = time.first + lengthOf(time);
      const inside = keys.filter((key) => key > time.from && key < time.to);
      expect(landings).toHaveLength(time.repeats * (inside.length + 1) + 1);
      landings.forEach((landing, i) => {
        expect(landing >= time.first - 1e-9 && landing <= end + 1e-9).toBe(true);
        if (i > 0) expect(landing).toBeGreaterThan(landings[i - 1]!);
        // A seam belongs to the time round that begins there.
        const shown = sourceAt(time, landing);
        const isKey = [time.from, time.to, ...inside].some((key) => Math.abs(key - shown) < 1e-6);
        expect(isKey).toBe(true);
      });
      expect(roundAt(time, end + 100)).toBe(time.repeats - 1);
    }),
  );
});
