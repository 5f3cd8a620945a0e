import { expect, test } from '@jest/globals';
import { blinkedAt } from './blinked-at.ts';

test.each([
  [24, 'aaaaaaaaaaaabbbbbbbbbbbbaaaa'],
  [10, 'aaaaabbbbbaaaaab'],
  [25, 'aaaaaaaaaaaaabbbbbbbbbbbbaaaaaaaaaaaaab'],
])('at %d frames a second each shows for half a second', (rate, seen) => {
  const shot = { rate: { numerator: rate, denominator: 1 }, range: { start: 7, end: 99 } };
  expect(Array.from(seen, (_, i) => blinkedAt(shot, 7 + i)).join('')).toBe(seen);
});
