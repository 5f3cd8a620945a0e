import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { landingsOf, lengthOf, roundAt, sourceAt } from './block-time.ts';

const times = fc.record({
  first: fc.integer({ min: -50, max: 50 }),
  factor: fc.constantFrom(0.5, 1, 1.5, 3),
  from: fc.integer({ min: 0, max: 20 }),
  to: fc.integer({ min: 21, max: 60 }),
  repeats: fc.constantFrom(0.4, 1, 2, 2.5, 3.25, 5),
  backward: fc.boolean(),
});
const frames = fc.uniqueArray(fc.integer({ min: 0, max: 90 }), { maxLength: 20 });

test('keys of the part that shows land in the block, rising, wherever the action shows them; none of those outside it does', () => {
  fc.assert(
    fc.property(times, frames, (time, keys) => {
      const landings = landingsOf(time, keys);
      const [first, end] = [time.first, time.first + lengthOf(time)];
      const length = (time.to - time.from) * time.factor;
      expect([landings[0], landings.at(-1)]).toEqual([first, end]);
      landings.slice(1).forEach((landing, i) => expect(landing).toBeGreaterThan(landings[i]!));
      const meant = [time.from, time.to, ...keys.filter((key) => key > time.from && key < time.to)];
      const expected = Array.from({ length: Math.ceil(time.repeats) }, (_, round) =>
        meant.map(
          (key) => first + round * length + time.factor * (time.backward ? time.to - key : key - time.from),
        ),
      )
        .flat()
        .filter((frame) => frame < end - 1e-6);
      for (const frame of expected)
        expect(landings.some((landing) => Math.abs(landing - frame) < 1e-6)).toBe(true);
      for (const landing of landings.slice(0, -1))
        expect(expected.some((frame) => Math.abs(landing - frame) < 1e-6)).toBe(true);
      expect(roundAt(time, end + 100)).toBe(Math.ceil(time.repeats) - 1);
    }),
  );
});

test('each time round runs through the part, forward or backward; past its end it holds what it ended with', () => {
  fc.assert(
    fc.property(times, fc.double({ min: 0, max: 1, noNaN: true }), (time, share) => {
      const length = time.to - time.from;
      const passed = share * length * time.repeats;
      const round = Math.min(Math.floor(passed / length + 1e-9), Math.ceil(time.repeats) - 1);
      const inside = passed - round * length;
      expect(sourceAt(time, time.first + passed * time.factor)).toBeCloseTo(
        time.backward ? time.to - inside : time.from + inside,
        6,
      );
      const end = time.first + lengthOf(time);
      expect(sourceAt(time, end + 7.3)).toBeCloseTo(sourceAt(time, end), 9);
    }),
  );
});
