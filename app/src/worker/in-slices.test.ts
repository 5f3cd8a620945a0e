import { MessageChannel } from 'node:worker_threads';
import { beforeEach, expect, test } from '@jest/globals';
import type { Work } from '@kneader/core';
import { inSlices } from './in-slices.ts';

let ended = 0;
let steps = 0;
function* count(most: number): Work<string> {
  try {
    for (steps = 0; steps < most; steps += 1) yield { done: steps / most };
    return 'done';
  } finally {
    ended += 1;
  }
}
/** A clock on which each look takes ten milliseconds. */
const clock = () => {
  let time = 0;
  return () => (time += 10);
};

beforeEach(() => {
  Object.assign(globalThis, { MessageChannel });
  ended = 0;
});

test('the course is told between slices, not at each step, and the result comes back', async () => {
  const told: number[] = [];
  const result = await inSlices(count(30), {
    onCourse: (done) => told.push(done),
    isLeft: () => false,
    now: clock(),
  });
  expect(result).toBe('done');
  expect(told.length).toBeGreaterThan(5);
  expect(told.length).toBeLessThan(30);
  expect([...told].sort((a, b) => a - b)).toEqual(told);
});

test('what stands so far is made and told after a second, then every two, and not each time', async () => {
  let made = 0;
  function* growing(): Work<string, number> {
    for (let i = 0; i < 1000; i += 1) {
      const soFar = () => {
        made += 1;
        return i;
      };
      yield { done: i / 1000, soFar };
    }
    return 'done';
  }
  const looks: number[] = [];
  await inSlices(growing(), {
    onCourse: (_, soFar) => soFar !== undefined && looks.push(soFar),
    isLeft: () => false,
    now: clock(),
  });
  // The clock goes on by at least ten milliseconds at each step: five to fifteen seconds in all.
  expect(looks.length).toBeGreaterThan(2);
  expect(made).toBe(looks.length);
  expect(looks[0]).toBeLessThan(101);
  for (let i = 1; i < looks.length; i += 1) expect(looks[i]! - looks[i - 1]!).toBeGreaterThan(60);
});

test('what goes down step by step is looked at often, but only once the last look has been seen', async () => {
  function* falling(): Work<string, number> {
    for (let i = 0; i < 400; i += 1) yield { done: i / 400, soFar: () => i, costs: [1, 1 / (i + 1)] };
    return 'done';
  }
  const looksWith = async (isSeen: () => boolean) => {
    const looks: number[] = [];
    await inSlices(falling(), {
      onCourse: (_, soFar, costs) => {
        if (soFar !== undefined) looks.push(costs![1]!);
      },
      isLeft: () => false,
      isSeen,
      now: clock(),
    });
    return looks;
  };
  const [free, slow] = [await looksWith(() => true), await looksWith(() => false)];
  // Four to eight seconds: several looks in each of them.
  expect(free.length).toBeGreaterThan(12);
  expect([...free].sort((a, b) => b - a)).toEqual(free);
  expect(slow).toEqual([]);
});

test('left between two slices it ends there, lets go, and gives nothing', async () => {
  let left = false;
  const result = await inSlices(count(1000), {
    onCourse: () => (left = true),
    isLeft: () => left,
    now: clock(),
  });
  expect([result, ended]).toEqual([null, 1]);
  expect(steps).toBeLessThan(10);
});

test('other messages are heard between slices', async () => {
  const heard: string[] = [];
  const { port1, port2 } = new MessageChannel();
  port1.on('message', (word: string) => heard.push(word));
  port2.postMessage('leave');
  await inSlices(count(1000), { onCourse: () => undefined, isLeft: () => heard.length > 0, now: clock() });
  port1.close();
  expect(steps).toBeLessThan(1000);
});
