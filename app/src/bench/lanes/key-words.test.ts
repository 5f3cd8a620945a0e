import { expect, test } from '@jest/globals';
import { runEdit } from '@kneader/core';
import { curveOf } from '@kneader/core';
import { choose, curve, puppet } from '../../../../core/src/testing/shot-literals.ts';
import { keyWords } from './key-words.ts';

test('a key is told by its frame, its value, its tangents, its lock', () => {
  const shot = puppet({ 'hips.ty': curve([0, -0.001, 7.5, 12.346, 20, 3], 'flat') });
  const ids = curveOf(shot, null, 'hips.ty').ids;
  const chosen = (row: number) => choose({ keys: { 'hips.ty': [ids[row]!] } });
  const stepped = runEdit('tangents.set', shot, chosen(1), { side: 'out', kind: 'stepped' }).shot;
  const locked = runEdit('keys.lock', stepped, chosen(2), { locked: true }).shot;
  const now = curveOf(locked, null, 'hips.ty');
  expect([0, 1, 2].map((row) => keyWords(now, row, 'cm'))).toEqual([
    'frame 0, 0 cm, flat',
    'frame 7.5, 12.35 cm, flat in, stepped out',
    'frame 20, 3 cm, flat, locked',
  ]);
  expect(keyWords(now, 0, '')).toBe('frame 0, 0, flat');
});
