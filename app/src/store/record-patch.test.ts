/** Changes of records as fields, done to records that have become others meanwhile. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { changedFields, withFields } from './record-patch.ts';

const SEEDED = { seed: 20261201, numRuns: 300, endOnFailure: true } as const;
const record = fc.dictionary(
  fc.constantFrom('a', 'b', 'c', 'd'),
  fc.oneof(
    fc.integer(),
    fc.array(fc.integer(), { maxLength: 3 }),
    fc.dictionary(fc.constantFrom('x', 'y'), fc.integer()),
  ),
  { noNullPrototype: true },
);

describe('what was changed', () => {
  test('done to what it was changed from it is what was wanted', () => {
    fc.assert(
      fc.property(record, record, (before, after) => {
        expect(withFields(before, changedFields(before, after))).toStrictEqual(after);
      }),
      SEEDED,
    );
    expect(changedFields({ a: 1, b: [1] }, { a: 1, b: [1] })).toEqual([]);
  });

  test('two who change other fields of one record both have their way, whoever comes first', () => {
    const base = {
      name: 'Nod',
      folder: '',
      action: { name: 'Nod', tags: ['a'], notes: '' },
      removedAt: null,
      print: 'p',
    };
    const renamed = { ...base, action: { ...base.action, name: 'Yes' } };
    const { print: _, ...removed } = { ...base, removedAt: 5 };
    const [one, other] = [changedFields(base, renamed), changedFields(base, removed)];
    expect(one).toEqual([{ way: ['action', 'name'], value: 'Yes' }]);
    for (const [first, second] of [
      [one, other],
      [other, one],
    ] as const)
      expect(withFields(withFields(base, first), second)).toEqual({
        ...{ name: 'Nod', folder: '', removedAt: 5 },
        action: { name: 'Yes', tags: ['a'], notes: '' },
      });
  });

  test('comes back from text as it was, what is gone among it', () => {
    const changes = changedFields({ a: 1, b: { x: 1, y: 2 } }, { b: { x: 3 } });
    expect(
      withFields({ a: 1, b: { x: 1, y: 2 }, c: 9 }, JSON.parse(JSON.stringify(changes)) as never),
    ).toEqual({
      b: { x: 3 },
      c: 9,
    });
  });
});
