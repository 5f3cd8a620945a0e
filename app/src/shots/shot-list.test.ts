import { expect, test } from '@jest/globals';
import { changedOn, shotsInView, tagsIn } from './shot-list.ts';

const shots = [
  { name: 'Toss 10', savedAt: 3, frames: 240, fps: 24, tags: ['to do', 'loops'] },
  { name: 'Oven walk', savedAt: 9, frames: 300, fps: 60, tags: [] },
  { name: 'Toss 2', savedAt: 5, frames: 100, fps: 12, tags: ['to do'] },
];
const names = (sought: string, order: 'newest' | 'name' | 'longest', tags: string[] = []) =>
  shotsInView(shots, { sought, order, tags }).map(({ name }) => name);

test('newest first, by name with numbers as numbers, longest in seconds first', () => {
  expect(names('', 'newest')).toEqual(['Oven walk', 'Toss 2', 'Toss 10']);
  expect(names('', 'name')).toEqual(['Oven walk', 'Toss 2', 'Toss 10']);
  expect(names('', 'longest')).toEqual(['Toss 10', 'Toss 2', 'Oven walk']);
});

test('those whose name holds all the words', () => {
  expect(names('toss', 'name')).toEqual(['Toss 2', 'Toss 10']);
  expect(names('walk OV', 'name')).toEqual(['Oven walk']);
  expect(names('bread', 'name')).toEqual([]);
});

test('those that have all the tags, and words find tags too', () => {
  expect(names('', 'name', ['to do'])).toEqual(['Toss 2', 'Toss 10']);
  expect(names('', 'name', ['to do', 'loops'])).toEqual(['Toss 10']);
  expect(names('loop', 'name')).toEqual(['Toss 10']);
  expect(tagsIn(shots)).toEqual(['loops', 'to do']);
});

test('dates as people say them', () => {
  const now = new Date(2026, 10, 25, 9, 30).getTime();
  expect(changedOn(new Date(2026, 10, 25, 0, 5).getTime(), now)).toBe('changed today at 00:05');
  expect(changedOn(new Date(2026, 10, 24, 23, 59).getTime(), now)).toBe('changed yesterday');
  expect(changedOn(new Date(2026, 10, 3).getTime(), now)).toBe('changed on 3 November 2026');
});
