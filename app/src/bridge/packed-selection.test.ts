import { expect, test } from '@jest/globals';
import { NOTHING } from '@kneader/core';
import { packSelection, unpackSelection } from './packed-selection.ts';

test('a selection arrives as it went: ids up to the largest, in their order, no keys at all', () => {
  const selection = {
    ...NOTHING,
    nodes: ['hips'],
    layer: 'lift',
    range: { start: -2, end: 7.5 },
    keys: { 'hips.ty': [9, 2, 0xffffffff], 'hips.tx': [] },
  };
  const packed = packSelection(selection);
  expect(packed.keys['hips.ty']).toBeInstanceOf(Uint32Array);
  expect(unpackSelection(structuredClone(packed))).toEqual(selection);
});
