import { expect, test } from '@jest/globals';
import { LatestOnly } from './latest-only.ts';

/** Tasks that end when they are told to, and what was begun. */
function bench() {
  const begun: string[] = [];
  const busy: boolean[] = [];
  const left: string[] = [];
  const ends = new Map<string, (error?: Error) => void>();
  const tasks = new LatestOnly((is) => busy.push(is));
  const ask = (name: string) =>
    tasks.ask(
      (signal) =>
        new Promise<void>((resolve, reject) => {
          begun.push(name);
          signal.addEventListener('abort', () => left.push(name));
          ends.set(name, (error) => (error ? reject(error) : resolve()));
        }),
    );
  const end = async (name: string, error?: Error) => {
    ends.get(name)!(error);
    // Two turns: one for the task, one for what waits for it.
    await Promise.resolve();
    await Promise.resolve();
    await new Promise((resolve) => setTimeout(resolve, 0));
  };
  return { begun, busy, left, tasks, ask, end };
}

test('while one is under way, only the newest of the others is carried out', async () => {
  const { begun, busy, ask, end } = bench();
  ask('first');
  ask('second');
  ask('third');
  expect(begun).toEqual(['first']);
  await end('first');
  expect(begun).toEqual(['first', 'third']);
  expect(busy).toEqual([true]);
  await end('third');
  expect(busy).toEqual([true, false]);
});

test('one that fails does not stop those after it', async () => {
  const { begun, busy, ask, end } = bench();
  ask('broken');
  ask('next');
  await end('broken', new Error('a defect'));
  expect(begun).toEqual(['broken', 'next']);
  await end('next');
  ask('later');
  expect(begun).toEqual(['broken', 'next', 'later']);
  expect(busy).toEqual([true, false, true]);
});

test('what runs goes on when another is asked for, and is left when it is dropped', async () => {
  const { left, tasks, ask, end } = bench();
  ask('first');
  ask('second');
  expect(left).toEqual([]);
  tasks.drop();
  expect(left).toEqual(['first']);
  await end('first');
  tasks.drop();
  expect(left).toEqual(['first']);
});

test('what is dropped before it begins is not carried out', async () => {
  const { begun, tasks, ask, end } = bench();
  ask('first');
  ask('second');
  tasks.drop();
  await end('first');
  expect(begun).toEqual(['first']);
});
