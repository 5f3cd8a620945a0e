import { expect, test } from '@jest/globals';
import { Heard } from './heard.ts';

test('an answer waits until every look before it has been taken, those that fail and those that come meanwhile too', async () => {
  const heard = new Heard();
  const order: string[] = [];
  const take: (() => void)[] = [];
  const look = (name: string) =>
    new Promise<void>((resolve) => take.push(() => (order.push(name), resolve())));
  heard.note(look('first'));
  heard.note(Promise.reject(new Error('the page said so')));
  const answer = heard.all().then(() => order.push('answer'));
  await new Promise((resolve) => setTimeout(resolve, 5));
  expect(order).toEqual([]);
  heard.note(look('second'));
  take[0]!();
  await new Promise((resolve) => setTimeout(resolve, 5));
  expect(order).toEqual(['first']);
  take[1]!();
  await answer;
  expect(order).toEqual(['first', 'second', 'answer']);
});

test('where nothing was shown it answers at once', async () => {
  await expect(new Heard().all()).resolves.toBeUndefined();
});
