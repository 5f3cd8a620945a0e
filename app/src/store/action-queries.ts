/** The pantry in the browser's storage, through TanStack Query. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import pMap from 'p-map';
import { useEffect } from 'react';
import { bridge } from '../bridge/bridge.ts';
import type { Film } from '../worker/film.ts';
import { dropFilm, keepFilm } from './film-store.ts';
import { keepRecord, keptFinished } from './kept-record.ts';
import { arrive, pantrySchema } from './pantry-record.ts';
import type { Arrival, Keeping, KeptFilm, PantryItem } from './pantry-record.ts';
import { actionStore, onOtherTabs, tellOtherTabs } from './storage.ts';
import { STORING } from './storing.ts';

/** Of those that came at once. */
const byName = (a: PantryItem, b: PantryItem) =>
  a.action.name.localeCompare(b.action.name, 'en', { numeric: true });

async function listActions(): Promise<PantryItem[]> {
  await keptFinished();
  // All asked for at once: one after the other, each waits for the one before.
  const stored = await Promise.all((await actionStore.keys()).map((key) => actionStore.getItem(key)));
  const items = stored.flatMap((one) => pantrySchema.safeParse(one).data ?? []);
  return items.sort((a, b) => b.savedAt - a.savedAt || byName(a, b));
}

/** All that is in the pantry, what was removed too. */
export function usePantryAndRemoved() {
  const queries = useQueryClient();
  useEffect(() => onOtherTabs(() => void queries.invalidateQueries({ queryKey: ['actions'] })), [queries]);
  return useQuery({ queryKey: ['actions'], queryFn: listActions });
}

const living = (items: readonly PantryItem[]) => items.filter(({ removedAt }) => removedAt === null);

export function usePantry() {
  const queries = useQueryClient();
  useEffect(() => onOtherTabs(() => void queries.invalidateQueries({ queryKey: ['actions'] })), [queries]);
  return useQuery({ queryKey: ['actions'], queryFn: listActions, select: living });
}

interface Brought extends Pick<Arrival, 'action' | 'sameName'> {
  /** Of the shot that it comes from; without one it is drawn on its skeleton. */
  readonly film?: Film;
  readonly folder?: string;
  /** Left out, it is made. */
  readonly print?: string;
}

/** Those that they have, and those of the others. */
async function printsOf(some: readonly Pick<PantryItem, 'action' | 'print'>[]): Promise<string[]> {
  const bare = some.filter(({ print }) => print === undefined);
  const made = bare.length > 0 ? await bridge.prints(bare.map(({ action }) => action)) : [];
  const fresh = new Map(bare.map((one, i) => [one, made[i]!]));
  return some.map((one) => one.print ?? fresh.get(one)!);
}

/** Records that are stored at once. */
const AT_ONCE = 16;

/** Stores actions unless they are there. */
async function keepAll(brought: readonly Brought[]): Promise<Keeping[]> {
  const prints = await printsOf(brought);
  const there = living(await listActions());
  const known = await printsOf(there);
  const stored = there.map((item, i) => ({ ...item, print: known[i]! }));
  let items: readonly PantryItem[] = stored;
  const kept: Keeping[] = [];
  // By the item: one that comes twice is written once, as it is in the end.
  const fresh = new Map<string, PantryItem>();
  const savedAt = Date.now();
  const films: [KeptFilm, Film][] = [];
  const unused: KeptFilm[] = [];
  for (const [i, { action, film, folder = '', sameName }] of brought.entries()) {
    const { item, forgotten, how, name } = arrive(items, {
      ...{ id: crypto.randomUUID(), savedAt, action, folder, sameName },
      print: prints[i]!,
      film: crypto.randomUUID(),
    });
    kept.push({ how, name });
    if (!item) continue;
    fresh.set(item.id, item);
    if (film) films.push([item.film, film]);
    unused.push(...forgotten);
    items = [item, ...items.filter(({ id }) => id !== item.id)];
  }
  const before = new Map(stored.map((item) => [item.id, item]));
  await pMap(films, ([name, film]) => keepFilm(name, film), { concurrency: AT_ONCE });
  await pMap(fresh.values(), (item) => put(item, before.get(item.id)), { concurrency: AT_ONCE });
  await pMap(unused, dropFilm, { concurrency: AT_ONCE });
  return kept;
}

/** @param base as it was read when it was changed; left out, it is new */
async function put(item: PantryItem, base?: PantryItem): Promise<void> {
  await keepRecord('actions', item.id, item, base);
  tellOtherTabs({ kind: 'action', id: item.id });
}

function usePantryChange<Given, Result>(change: (given: Given) => Promise<Result>) {
  const queries = useQueryClient();
  return useMutation({
    ...STORING,
    mutationFn: change,
    onSuccess: () => queries.invalidateQueries({ queryKey: ['actions'] }),
  });
}

export const useKeepActions = () => usePantryChange(keepAll);
/** An action as it was when somebody began to change it, and as it shall be. */
export interface PantryChange {
  readonly from: PantryItem;
  readonly to: PantryItem;
}

/** Names, folders, tags, notes; other versions; removed, or had back. */
export const useChangeActions = () =>
  usePantryChange((changes: readonly PantryChange[]) =>
    Promise.all(changes.map(({ from, to }) => put(to, from))),
  );
/** Gone for good. */
export const useClearActions = () =>
  usePantryChange(async (items: readonly PantryItem[]) => {
    for (const { id, film, versions } of items) {
      await actionStore.removeItem(id);
      await Promise.all([film, ...versions.map((version) => version.film)].map(dropFilm));
      tellOtherTabs({ kind: 'action', id });
    }
  });
