/** Spans of a switch: each ends with the frame before the next begins, and what is stepped twice to one target is one. */
import { expect, test } from '@jest/globals';
import { SEGMENT } from '../../curve/curve.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { curve } from '../../testing/shot-literals.ts';
import { spansOf, switchThrough, targetAt, withTarget } from './switch-curve.ts';

const held = (keys: readonly number[]) =>
  rebuild(curve(keys), null, (columns) => columns.segments.fill(SEGMENT.stepped));

test('spans reach from key to key, within the range, and the last to its end', () => {
  const by = held([-4, 2, 3, 0, 6, 0, 9, 1, 15, 2, 30, 0]);
  expect(spansOf(by, { start: 0, end: 15 })).toEqual([
    { start: 0, end: 2, target: 2 },
    { start: 3, end: 8, target: 0 },
    { start: 9, end: 14, target: 1 },
    { start: 15, end: 15, target: 2 },
  ]);
  expect(spansOf(by, { start: 16, end: 20 })).toEqual([{ start: 16, end: 20, target: 2 }]);
  expect(spansOf(held([5, 1]), { start: 0, end: 9 })).toEqual([{ start: 0, end: 9, target: 1 }]);
  for (const frame of [0, 2.9, 3, 8.99, 9, 14, 15, 40]) {
    const again = switchThrough(spansOf(by, { start: -4, end: 40 }));
    expect([frame, targetAt(again, frame)]).toEqual([frame, targetAt(by, frame)]);
  }
});

test('another target over some frames ends with the last of them', () => {
  const spans = withTarget(held([0, 0, 8, 1]), { start: 0, end: 20 }, { start: 5, end: 11 }, 2);
  expect(spans).toEqual([
    { start: 0, end: 4, target: 0 },
    { start: 5, end: 11, target: 2 },
    { start: 12, end: 20, target: 1 },
  ]);
});
