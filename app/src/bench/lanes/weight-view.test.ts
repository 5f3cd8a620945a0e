import { expect, test } from '@jest/globals';
import { weightAt, weightToY } from './weight-view.ts';

test('weights and pixels turn into each other, to the hundredth; up is more', () => {
  for (const weight of [0, 0.33, 0.7, 1, 1.55, 2])
    expect(weightAt(weightToY(weight, 406), 406)).toBeCloseTo(weight, 2);
  expect(weightToY(1, 28)).toBe(14);
  expect(weightToY(2, 28)).toBe(3);
});

test('beyond the lane is its edge', () => {
  expect([weightAt(-50, 28), weightAt(90, 28)]).toEqual([2, 0]);
  expect([weightToY(-1, 28), weightToY(3, 28)]).toEqual([25, 3]);
});
