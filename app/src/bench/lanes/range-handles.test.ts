import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { draggedRange, handleAt, handleFrames } from './range-handles.ts';

const range = { start: 10, end: 40, rampIn: 6, rampOut: 4 };
const toX = (frame: number) => 5 * frame;

describe('a handle is touched', () => {
  test('ends in the lower half, ramps in the upper, the nearest within reach', () => {
    expect(handleFrames(range)).toEqual({ start: 10, end: 40, rampIn: 16, rampOut: 36 });
    expect(handleAt(range, toX, 52, false, 6)).toBe('start');
    expect(handleAt(range, toX, 82, true, 6)).toBe('rampIn');
    expect(handleAt(range, toX, 82, false, 6)).toBeNull();
    expect(handleAt(range, toX, 178, true, 6)).toBe('rampOut');
    expect(handleAt(range, toX, 100, true, 6)).toBeNull();
  });
});

describe('a handle is dragged', () => {
  test('an end takes its ramp along, and gives way where there is no room', () => {
    expect(draggedRange(range, 'start', 20)).toEqual({ start: 20, end: 40, rampIn: 6, rampOut: 4 });
    expect(draggedRange(range, 'start', 33)).toEqual({ start: 33, end: 40, rampIn: 3, rampOut: 4 });
    expect(draggedRange(range, 'end', 17)).toEqual({ start: 10, end: 17, rampIn: 3, rampOut: 4 });
    expect(draggedRange(range, 'rampIn', 22)).toEqual({ ...range, rampIn: 12 });
    expect(draggedRange(range, 'rampOut', 50)).toEqual({ ...range, rampOut: 0 });
  });

  test('wherever it is dragged the range is one: it ends after it starts, ramps fit, none is negative', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('start', 'end', 'rampIn', 'rampOut'),
        fc.integer({ min: -100, max: 100 }),
        (handle, frame) => {
          const { start, end, rampIn, rampOut } = draggedRange(range, handle, frame);
          expect(end).toBeGreaterThan(start);
          expect(Math.min(rampIn, rampOut)).toBeGreaterThanOrEqual(0);
          expect(rampIn + rampOut).toBeLessThanOrEqual(end - start);
        },
      ),
    );
  });
});
