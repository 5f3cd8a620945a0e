import { afterEach, expect, test } from '@jest/globals';
import { overHandle, overThing, underPointer } from './under-pointer.ts';

const canvas = document.createElement('canvas');
afterEach(() => {
  overHandle(canvas, null);
  for (let i = 0; i < 3; i += 1) for (const thing of ['bead', 'part'] as const) overThing(canvas, thing, -1);
});

test('arrows and rings go before beads, beads before the room within the handle, that before the figure', () => {
  overThing(canvas, 'part', 1);
  expect([underPointer(), canvas.style.cursor]).toEqual(['part', 'pointer']);
  overHandle(canvas, 'XYZE');
  expect([underPointer(), canvas.style.cursor]).toEqual(['handle', 'grab']);
  overThing(canvas, 'bead', 1);
  expect(underPointer()).toBe('bead');
  for (const axis of ['X', 'E', 'XY']) {
    overHandle(canvas, axis);
    expect(underPointer()).toBe('handle');
  }
});

test('several lie over each other: the last that is left is the last', () => {
  overThing(canvas, 'bead', 1);
  overThing(canvas, 'bead', 1);
  overThing(canvas, 'bead', -1);
  expect(underPointer()).toBe('bead');
  overThing(canvas, 'bead', -1);
  overThing(canvas, 'bead', -1);
  expect([underPointer(), canvas.style.cursor]).toEqual([null, '']);
  overThing(canvas, 'bead', 1);
  expect(underPointer()).toBe('bead');
});
