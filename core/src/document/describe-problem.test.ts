import { expect, test } from '@jest/globals';
import { z } from 'zod';
import { describeProblem } from './describe-problem.ts';

const form = z.strictObject({
  nodes: z.array(z.strictObject({ weight: z.number().min(0).max(5), tags: z.array(z.string()).min(2) })),
  name: z.string().max(4),
});
const said = (value: unknown) => {
  const { error } = form.safeParse(value);
  return describeProblem(error!);
};
const node = { weight: 1, tags: ['a', 'b'] };

test.each<[unknown, string]>([
  [{ nodes: [] }, 'name: it is missing (string)'],
  [{ nodes: [], name: 3 }, 'name: expected string, received number'],
  [{ nodes: [node, { ...node, weight: NaN }], name: 'a' }, 'nodes[1].weight: it is not a number'],
  [{ nodes: [{ ...node, weight: Infinity }], name: 'a' }, 'nodes[0].weight: it is not a finite number'],
  [{ nodes: [{ ...node, weight: -1 }], name: 'a' }, 'nodes[0].weight: it must be >=0'],
  [{ nodes: [{ ...node, weight: 9 }], name: 'a' }, 'nodes[0].weight: it must be <=5'],
  [{ nodes: [{ ...node, tags: ['a'] }], name: 'a' }, 'nodes[0].tags: it must have at least 2 items'],
  [{ nodes: [], name: 'apron' }, 'name: use at most 4 letters'],
  [{ nodes: [], name: 'a', flour: 1, salt: 2 }, 'the top: there is no such field as flour, salt'],
  [null, 'the top: expected object, received null'],
])('of %j', (value, words) => {
  expect(said(value)).toBe(words);
});

test('an error without an issue says so', () => {
  expect(describeProblem(new z.ZodError([]))).toBe('the top: it has another form than expected');
});
