import { expect, test } from '@jest/globals';
import { NOTHING_SAID, readSaidMapping } from './said-mapping.ts';

test('what was said for two figures is read as it was kept', () => {
  const said = { pairs: { hips: 'pelvis', jaw: null }, times: 0.35 };
  expect(readSaidMapping(said)).toEqual(said);
  expect(readSaidMapping({ pairs: {}, times: null })).toEqual(NOTHING_SAID);
});

test('records of pairs alone, as they were, keep their pairs; also where joints have the names of fields', () => {
  const pairs = { hips: 'pelvis', jaw: null, pairs: 'two', times: null };
  expect(readSaidMapping(pairs)).toEqual({ pairs, times: null });
  expect(readSaidMapping({})).toEqual(NOTHING_SAID);
});

test.each([
  null,
  undefined,
  'hips',
  { pairs: { a: 1 }, times: null },
  { pairs: {}, times: -2 },
  { pairs: {}, times: 0 },
])('what is no such record says nothing: %j', (stored) =>
  expect(readSaidMapping(stored)).toEqual(NOTHING_SAID),
);
