import { expect, test } from '@jest/globals';
import { ownName } from './own-name.ts';

test.each([
  ['Toss', [], 'Toss'],
  ['Toss', ['Other'], 'Toss'],
  ['Toss', ['Toss'], 'Toss 2'],
  ['Toss', ['Toss', 'Toss 2', 'Toss 4'], 'Toss 3'],
  ['Toss 2', ['Toss 2'], 'Toss 3'],
])('%s beside %j is %s', (name, taken, own) => {
  expect(ownName(name, taken)).toBe(own);
});
