import { expect, test } from '@jest/globals';
import { FINGER, meantSpots, spotBeside } from './spots.ts';

const spots = [
  { id: 'head', x: 50, y: 10 },
  { id: 'chest', x: 50, y: 40 },
  { id: 'hand', x: 90, y: 60 },
  { id: 'thumb', x: 91, y: 61 },
  { id: 'hips', x: 48, y: 80 },
];
const names = (x: number, y: number) => meantSpots(spots, x, y).map(({ id }) => id);

test('the nearest spot within a finger’s breadth, else nothing', () => {
  expect(names(50 + FINGER - 1, 10)).toEqual(['head']);
  expect(names(50 + FINGER + 1, 10)).toEqual([]);
});

test('spots that cannot be told apart are all meant, the nearest first', () => {
  expect(names(89, 59)).toEqual(['hand', 'thumb']);
  expect(names(94, 64)).toEqual(['thumb', 'hand']);
});

test('arrows go to the next spot on that side, and stay where there is none', () => {
  const from = (id: string) => spots.find((spot) => spot.id === id)!;
  expect(spotBeside(spots, from('head'), 0, 1).id).toBe('chest');
  expect(spotBeside(spots, from('chest'), 0, 1).id).toBe('hips');
  expect(spotBeside(spots, from('chest'), 1, 0).id).toBe('hand');
  expect(spotBeside(spots, from('head'), 0, -1).id).toBe('head');
});
