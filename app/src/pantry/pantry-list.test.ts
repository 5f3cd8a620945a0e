/** What the pantry shows, and its actions as files and zips. */
import { describe, expect, test } from '@jest/globals';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { contentOf, readAction, shelf } from '@kneader/core';
import type { PantryItem } from '../store/pantry-record.ts';
import { openActionFile, zipOf } from './action-files.ts';
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

describe('as files', () => {
  const all = actions.map((action, i) => ({ action, folder: i % 2 === 0 ? '' : 'head/small' }));

  test('a zip opens as it was packed, names that clash beside each other', async () => {
    const odd = { action: { ...actions[0]!, name: 'a/b: c?' }, folder: '../up' };
    const bytes = await zipOf([...all, all[0]!, odd]);
    expect(Object.keys(unzipSync(bytes)).filter((path) => path.startsWith('Blink'))).toHaveLength(2);
    expect(Object.keys(unzipSync(bytes)).some((path) => /[?:]/.test(path))).toBe(false);
    const { actions: opened, unopened } = await openActionFile('all.zip', bytes);
    expect(unopened).toEqual([]);
    const told = (some: readonly { action: (typeof actions)[0]; folder: string }[]) =>
      some.map(({ action, folder }) => [action.name, folder, contentOf(readAction(action))]);
    expect(told(opened.slice(0, 6))).toEqual(told(all));
    expect(opened).toHaveLength(8);
  });

  test('a bad member is named, and the others are there; what is no zip is said', async () => {
    const bytes = zipSync({
      'good.kneader-action.json': strToU8(JSON.stringify(actions[2])),
      'cut.kneader-action.json': strToU8(JSON.stringify(actions[2]).slice(0, 99)),
      'folder/other.json': strToU8('{"format": "kneader-shot"}'),
      'newer.kneader-action.json': strToU8(JSON.stringify({ ...actions[2], version: 7 })),
    });
    const { actions: opened, unopened } = await openActionFile('some.zip', bytes);
    expect(opened.map(({ action }) => action.name)).toEqual(['Shrug']);
    expect(unopened.map(({ file }) => file).sort()).toEqual([
      'cut.kneader-action.json',
      'folder/other.json',
      'newer.kneader-action.json',
    ]);
    for (const { sentence } of unopened) expect(sentence).toMatch(/^[A-Z].*\.$/);
    expect((await openActionFile('x.zip', strToU8('no zip'))).unopened[0]!.sentence).toMatch(/no zip/);
    expect((await openActionFile('x.zip', zipSync({}))).unopened).toHaveLength(1);
  });
});
