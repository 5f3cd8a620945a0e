/** What the pantry shows. */
import { describe, expect, test } from '@jest/globals';
import { shelf } from '@kneader/core';
import type { PantryItem } from '../store/pantry-record.ts';
import { folderName, foldersOf, rearranged, shownActions, tagsOf, WHOLE_PANTRY } from './pantry-list.ts';

const actions = shelf().map(({ action }) => action);
const item = (i: number, more: Partial<PantryItem> = {}): PantryItem => ({
  ...{ id: String(i), savedAt: i, action: actions[i]!, film: { nodes: [], poses: [] } },
  ...{ folder: '', versions: [], removedAt: null },
  ...more,
});
const items = [
  item(0, { folder: 'face' }),
  item(1, { folder: 'head/small' }),
  item(3, { folder: 'head' }),
  item(4, { removedAt: 9 }),
];
const names = (list: readonly PantryItem[]) => list.map(({ action }) => action.name);

test('several get a folder and tags together; only those that it changes are kept anew', () => {
  const [blink, nod, sneeze] = items as [PantryItem, PantryItem, PantryItem];
  const changed = rearranged([blink, nod, sneeze], {
    folder: ' head/ ',
    add: ['small'],
    without: ['big', 'face'],
  });
  expect(changed.map(({ action, folder }) => [action.name, folder, action.tags])).toEqual([
    ['Blink', 'head', ['small']],
    ['Nod', 'head', ['head', 'small']],
    ['Sneeze', 'head', ['head', 'small']],
  ]);
  expect(rearranged(changed, { folder: '', add: ['small'], without: ['big'] })).toEqual([]);
  expect(rearranged([nod], { folder: '', add: [], without: ['head'] })[0]!.folder).toBe('head/small');
});

describe('what shows', () => {
  test('by folder with those in it, by every word, by every tag; what was removed only there', () => {
    expect(names(shownActions(items, WHOLE_PANTRY))).toEqual(['Blink', 'Nod', 'Sneeze']);
    expect(names(shownActions(items, { ...WHOLE_PANTRY, folder: 'head' }))).toEqual(['Nod', 'Sneeze']);
    expect(names(shownActions(items, { ...WHOLE_PANTRY, sought: 'SMALL no' }))).toEqual(['Nod']);
    expect(names(shownActions(items, { ...WHOLE_PANTRY, tags: ['head', 'big'] }))).toEqual(['Sneeze']);
    expect(names(shownActions(items, { ...WHOLE_PANTRY, isRemoved: true }))).toEqual(['Wave']);
  });

  test('folders with those around them, tags by use, names tidied', () => {
    expect(foldersOf(items)).toEqual([
      ['face', 1],
      ['head', 2],
      ['head/small', 1],
    ]);
    expect(tagsOf(items).slice(0, 2)).toEqual(['head', 'small']);
    expect(tagsOf(items)).not.toContain('greeting');
    expect(folderName(' head //  small/ ')).toBe('head/small');
  });
});
