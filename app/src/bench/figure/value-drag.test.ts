import { expect, test } from '@jest/globals';
import { draggedValue, typedValue, writtenValue } from './value-drag.ts';

test('values are written with the digits that mean something, never as −0', () => {
  expect(writtenValue(12.3456, 'position')).toBe('12.35');
  expect(writtenValue(12.3456, 'rotation')).toBe('12.3');
  expect(writtenValue(1.00049, 'scale')).toBe('1.000');
  expect(writtenValue(-0.001, 'rotation')).toBe('0.0');
});

test.each([
  ['3', 3],
  [' -2,5 ', -2.5],
  ['−4', -4],
  ['1e2', 100],
  ['', null],
  ['  ', null],
  ['two', null],
  ['1/0', null],
])('typed %j is %j', (text, value) => {
  expect(typedValue(text)).toBe(value);
});

test('a drag to the right is more; Alt a tenth, Shift five times', () => {
  const hand = { alt: false, shift: false };
  expect(draggedValue(2, 10, 'rotation', hand)).toBeCloseTo(7, 12);
  expect(draggedValue(2, -10, 'rotation', hand)).toBeCloseTo(-3, 12);
  expect(draggedValue(2, 10, 'rotation', { ...hand, alt: true })).toBeCloseTo(2.5, 12);
  expect(draggedValue(2, 10, 'rotation', { ...hand, shift: true })).toBeCloseTo(27, 12);
  expect(draggedValue(0, 10, 'position', hand)).toBeCloseTo(1, 12);
  expect(draggedValue(0, 10, 'scale', hand)).toBeCloseTo(0.05, 12);
});
