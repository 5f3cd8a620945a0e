import { beforeEach, expect, test } from '@jest/globals';
import { clashes, keyMap, strokeInWords, strokeTable, useKeyMap } from './key-map.ts';

beforeEach(() => keyMap.reset());
const changed = () => useKeyMap.getState().changed;

test('a stroke that is changed does what it is for, and the old one nothing', () => {
  keyMap.change('newKey', 'Shift+K');
  expect(strokeTable(changed()).get('Shift+K')?.id).toBe('newKey');
  expect(strokeTable(changed()).has('N')).toBe(false);
});

test('changed back it is no change', () => {
  keyMap.change('newKey', 'Z');
  keyMap.change('newKey', 'N');
  expect(changed()).toEqual({});
});

test('of two with one stroke the first of the table has it, and the other is said to clash', () => {
  expect(clashes(changed()).size).toBe(0);
  keyMap.change('lock', 'N');
  expect(strokeTable(changed()).get('N')?.id).toBe('newKey');
  expect(clashes(changed()).get('lock')?.id).toBe('newKey');
});

test('strokes in words', () => {
  expect(['Shift+ArrowLeft', 'Ctrl+Z', 'Shift++', '+', 'Shift+PageDown'].map(strokeInWords)).toEqual([
    'Shift ←',
    'Ctrl Z',
    'Shift +',
    '+',
    'Shift Page Down',
  ]);
});
