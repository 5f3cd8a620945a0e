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
    fc.property(times, frames, (block, keys) => {
      const landings = landingsOf(block, keys);
      const [first, end] = [block.first, block.first + lengthOf(block)];
      const length = (block.to - block.from) * block.factor;
      expect([landings[0], landings.at(-1)]).toEqual([first, end]);
      landings.slice(1).forEach((landing, i) => expect(landing).toBeGreaterThan(landings[i]!));
      const meant = [block.from, block.to, ...keys.filter((key) => key > block.from && key < block.to)];
      const expected = Array.from({ length: Math.ceil(block.repeats) }, (_, round) =>
        meant.map(
          (key) =>
            first + round * length + block.factor * (block.backward ? block.to - key : key - block.from),
        ),
      )
        .flat()
        .filter((frame) => frame < end - 1e-6);
      for (const frame of expected)
        expect(landings.some((landing) => Math.abs(landing - frame) < 1e-6)).toBe(true);
      for (const landing of landings.slice(0, -1))
        expect(expected.some((frame) => Math.abs(landing - frame) < 1e-6)).toBe(true);
      expect(roundAt(block, end + 100)).toBe(Math.ceil(block.repeats) - 1);
    }),
  );
});

test('each time round runs through the part, forward or backward; past its end it holds what it ended with', () => {
  fc.assert(
    fc.property(times, fc.double({ min: 0, max: 1, noNaN: true }), (block, share) => {
      const length = block.to - block.from;
      const passed = share * length * block.repeats;
      const round = Math.min(Math.floor(passed / length + 1e-9), Math.ceil(block.repeats) - 1);
      const inside = passed - round * length;
      expect(sourceAt(block, block.first + passed * block.factor)).toBeCloseTo(
        block.backward ? block.to - inside : block.from + inside,
        6,
      );
      const end = block.first + lengthOf(block);
      expect(sourceAt(block, end + 7.3)).toBeCloseTo(sourceAt(block, end), 9);
    }),
  );
});
