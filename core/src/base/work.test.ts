import { expect, test } from '@jest/globals';
import { asPart, finish } from './work.ts';
import type { Work } from './work.ts';

let letGo = 0;
function* count(steps: number): Work<string> {
  try {
    for (let i = 0; i < steps; i += 1) yield { done: i / steps };
    return `${steps} steps`;
  } finally {
    letGo += 1;
  }
}

test('work done at one go gives its result', () => {
  expect(finish(count(5))).toBe('5 steps');
});

test('a part keeps its result, and its course runs within its share of the whole', () => {
  const courses = [];
  const work = asPart(count(4), 0.5, 0.9);
  let step = work.next();
  for (; !step.done; step = work.next()) courses.push(step.value.done);
  expect(courses).toEqual([0.5, 0.6, 0.7, expect.closeTo(0.8, 12)]);
  expect(step.value).toBe('4 steps');
});

test('leaving a part lets go of what it does', () => {
  letGo = 0;
  function* whole(): Work<string> {
    return yield* asPart(count(4), 0, 1);
  }
  const work = whole();
  work.next();
  work.return('');
  expect(letGo).toBe(1);
});
