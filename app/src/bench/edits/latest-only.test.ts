import { expect, test } from '@jest/globals';
import { LatestOnly } from './latest-only.ts';

/** Tasks that end when they are told to, and what was begun. */
function bench() {
  const begun: string[] = [];
  const busy: boolean[] = [];
  const ends = new Map<string, (error?: Error) => void>();
  const tasks = new LatestOnly((is) => busy.push(is));
  const ask = (name: string) =>
    tasks.ask(
      () =>
        new Promise<void>((resolve, reject) => {
          begun.push(name);
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
  return { begun, busy, tasks, ask, end };
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

test('what is dropped before it begins is not carried out', async () => {
  const { begun, tasks, ask, end } = bench();
  ask('first');
  ask('second');
  tasks.drop();
  await end('first');
  expect(begun).toEqual(['first']);
});
