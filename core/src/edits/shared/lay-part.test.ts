/** Parts cut out and laid in again. */
import { describe, expect, test } from '@jest/globals';
import { FLAG } from '../../curve/curve.ts';
import { evaluate, slopeAt } from '../../curve/evaluate.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { curve, keysOf } from '../../testing/shot-literals.ts';
import { appendPart, partOf, replacePart } from './lay-part.ts';
import { travelsOver } from './travel.ts';

const swing = curve([0, 0, 6, 10, 12, -4, 20, 8], 'smooth');

describe('a part', () => {
  test('stands on its own: keys on its ends, the same curve between', () => {
    const part = partOf(swing, { start: 3, end: 15 });
    expect([...part.times]).toEqual([0, 3, 9, 12]);
    for (let frame = 0; frame <= 12; frame += 0.5)
      expect(evaluate(part, frame)).toBeCloseTo(evaluate(swing, frame + 3), 9);
  });

  test('cut only where the curve goes on beyond', () => {
    expect([...partOf(swing, { start: -4, end: 30 }, 'cut').times]).toEqual([4, 10, 16, 24]);
    expect([...partOf(swing, { start: -4, end: 15 }, 'cut').times]).toEqual([4, 10, 16, 19]);
  });

  test('in place of a range, the rest of the curve keeps its keys', () => {
    const part = curve([0, 1, 4, 2]);
    const { curve: after, overwritten } = replacePart(
      swing,
      part,
      { start: 6, end: 12 },
      { start: 0, end: 24 },
    );
    // The part meets neither end: it holds up to the last frame, and beside it the curve runs over from where it was.
    expect(keysOf(after)).toBe('0:0 5:9.722222 6:1 10:2 12:2 13:-4.177083 20:8');
    for (const frame of [0, 2.5, 5, 13, 17.2, 24])
      expect(evaluate(after, frame)).toBeCloseTo(evaluate(swing, frame), 9);
    expect(overwritten).toBe(2);
  });

  test('appended, the last key stays and leaves as the part begins', () => {
    const part = curve([0, 100, 5, 3], 'linear');
    const { curve: after, overwritten } = appendPart(swing, part, 12, 0, 'exact');
    expect(keysOf(after)).toBe('0:0 6:10 12:-4 17:3 18:4.178571 20:8');
    expect(overwritten).toBe(0);
    expect(appendPart(swing, part, 12, 7, 'exact').curve.values[3]).toBe(10);
  });

  test('exact at the seam: the way there is what it was', () => {
    const part = partOf(swing, { start: 0, end: 12 });
    const { curve: after } = appendPart(swing, part, 12, 0, 'exact');
    for (let frame = 0; frame < 12; frame += 0.25)
      expect(evaluate(after, frame)).toBeCloseTo(evaluate(swing, frame), 9);
    expect(slopeAt(after, 12)).toBeCloseTo(slopeAt(part, 0), 9);
  });

  test('a locked key under a part stays', () => {
    const locked = rebuild(swing, null, (columns) => (columns.flags[2] = FLAG.locked));
    expect(
      keysOf(replacePart(locked, curve([0, 1, 6, 2]), { start: 6, end: 12 }, { start: 6, end: 12 }).curve),
    ).toBe('0:0 6:1 12:-4 20:8');
  });
});

describe('travel', () => {
  const range = { start: 0, end: 20 };
  test.each([
    ['a walk', [0, 0, 20, 34], true],
    ['a walk that sways', [0, 0, 10, 20, 20, 34], true],
    ['a seam that fails to close', [0, 0, 10, 20, 20, 0.6], false],
    ['standing still', [0, 5, 20, 5], false],
  ] as const)('%s', (_, keys, travels) => {
    expect(travelsOver(curve([...keys]), range)).toBe(travels);
  });
});
