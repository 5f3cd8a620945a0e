import { describe, expect, test } from '@jest/globals';
import { changedSince, placedIn } from './changed-actions.ts';
import { leaveAlone, useLeftAlone } from './left-alone.ts';

const pantry = [
  { id: 'reach', print: 'new' },
  { id: 'wave', print: 'same' },
  { id: 'old', print: undefined },
];
const placed = [
  { stored: 'action-1', id: 'wave', print: 'same' },
  { stored: 'action-2', id: 'reach', print: 'older' },
  { stored: 'action-3', id: 'reach', print: 'oldest' },
  { stored: 'action-4', id: 'old', print: 'any' },
  { stored: 'action-5', id: 'gone', print: 'any' },
];

describe('placed actions that have changed in the pantry', () => {
  test('are told by what they did when they were placed, once for each; those that are gone, or do not say what they do, are not', () => {
    expect(changedSince(pantry, placed)).toEqual([
      { item: pantry[0], kept: { id: 'reach', print: 'new' }, stored: 'action-2' },
    ]);
  });

  test('are left as they are in one shot, until they change again', () => {
    leaveAlone('a', 'new');
    expect(changedSince(pantry, placed, useLeftAlone.getState().left['a'])).toEqual([]);
    expect(changedSince(pantry, placed, useLeftAlone.getState().left['b'])).toHaveLength(1);
    const again = [{ id: 'reach', print: 'newest' }];
    expect(changedSince(again, placed, useLeftAlone.getState().left['a'])).toHaveLength(1);
  });

  test('are found in a shot by where they come from', () => {
    const action = { name: 'Reach', length: 4, curves: [] };
    const mapping = { match: 'names', character: null, scale: 'legs', feet: false } as never;
    const actions = [
      { ...action, id: 'action-1', from: { kept: { id: 'reach', print: 'older' }, mapping } },
      { ...action, id: 'action-2', from: { kept: null, mapping } },
      { ...action, id: 'action-3' },
    ];
    expect(placedIn({ actions })).toEqual([{ stored: 'action-1', id: 'reach', print: 'older' }]);
    expect(placedIn({ actions: undefined })).toEqual([]);
  });
});
