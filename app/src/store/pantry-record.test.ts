import { describe, expect, test } from '@jest/globals';
import { shelf } from '@kneader/core';
import type { ActionJson } from '@kneader/core';
import { arrive, pantrySchema } from './pantry-record.ts';
import type { Arrival, PantryItem } from './pantry-record.ts';

const [blink, nod] = shelf().map(({ action }) => action) as [ActionJson, ActionJson];
let count = 0;
const arrival = (action: ActionJson, print: string, more: Partial<Arrival> = {}): Arrival => {
  count += 1;
  return {
    ...{ id: `id ${count}`, savedAt: count, action, print, film: `film ${count}`, folder: '' },
    ...{ sameName: 'beside', ...more },
  };
};
const put = (items: readonly PantryItem[], given: Arrival): PantryItem[] => {
  const { item } = arrive(items, given);
  return item ? [item, ...items.filter(({ id }) => id !== item.id)] : [...items];
};

describe('an action that is brought', () => {
  test('is not kept when its content is there, whatever it is called', () => {
    const items = put([], arrival(blink, 'a'));
    const { how, name, item } = arrive(items, arrival({ ...blink, name: 'Wink' }, 'a'));
    expect([how, name, item]).toEqual(['known', 'Blink', null]);
  });

  test('of a name that is taken gets one of its own, and the other stays as it was', () => {
    const items = put([], arrival(blink, 'a'));
    const { how, name, item } = arrive(items, arrival({ ...nod, name: 'Blink' }, 'b', { folder: 'x/y' }));
    expect([how, name, item!.action.name, item!.folder]).toEqual(['renamed', 'Blink 2', 'Blink 2', 'x/y']);
    expect(item!.id).not.toBe(items[0]!.id);
  });

  test('as a newer version keeps what was, its picture and where it lies', () => {
    const items = put([], arrival(blink, 'a', { folder: 'face' }));
    const newer = arrival({ ...nod, name: 'Blink' }, 'b', { sameName: 'version', folder: 'elsewhere' });
    const { how, item } = arrive(items, newer);
    expect(how).toBe('version');
    expect(item).toMatchObject({ id: items[0]!.id, folder: 'face', print: 'b', film: newer.film });
    expect(item!.versions).toEqual([{ savedAt: items[0]!.savedAt, action: blink, film: items[0]!.film }]);
  });

  test('lets the oldest of twenty versions go, and its film with it', () => {
    let items: PantryItem[] = [];
    const films: Arrival['film'][] = [];
    for (let i = 0; i < 21; i += 1) {
      const next = arrival({ ...blink, length: 8 + i }, `print ${i}`, { sameName: 'version' });
      films.push(next.film);
      items = put(items, next);
    }
    const { item, forgotten } = arrive(items, arrival(blink, 'last', { sameName: 'version' }));
    expect(forgotten).toEqual([films[0]]);
    expect(item!.versions.map(({ film }) => film)).toEqual(films.slice(1).toReversed());
  });
});

test('a record of before, with its picture in it and without folder, print and versions, still reads', () => {
  const film = { nodes: [{ id: 'hips', solids: [] }], poses: [new Float32Array(16)] };
  const read = pantrySchema.parse({ id: 'old', savedAt: 5, action: blink, film });
  expect(read).toMatchObject({ folder: '', versions: [], removedAt: null });
  expect(read.film).toEqual(film);
});
