/** The pantry in the browser's storage, through TanStack Query. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { contentOf, readAction } from '@kneader/core';
import type { ActionJson } from '@kneader/core';
import type { Film } from '../worker/film.ts';
import { dropFilm, keepFilm } from './film-store.ts';
import { keepRecord, keptFinished } from './kept-record.ts';
import { arrive, pantrySchema } from './pantry-record.ts';
import type { Arrival, Keeping, PantryItem } from './pantry-record.ts';
import { actionStore, onOtherTabs, tellOtherTabs } from './storage.ts';

async function listActions(): Promise<PantryItem[]> {
  await keptFinished();
  const items: PantryItem[] = [];
  await actionStore.iterate((stored) => {
    const parsed = pantrySchema.safeParse(stored);
    if (parsed.success) items.push(parsed.data);
  });
  return items.sort((a, b) => b.savedAt - a.savedAt);
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
}

async function printOf(action: ActionJson): Promise<string> {
  const bytes = new TextEncoder().encode(contentOf(readAction(action)));
  const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes));
  return Array.from(digest, (byte) => byte.toString(16).padStart(2, '0')).join('');
}

/** Stores actions unless they are there. */
async function keepAll(brought: readonly Brought[]): Promise<Keeping[]> {
  let items: readonly PantryItem[] = await Promise.all(
    living(await listActions()).map(async (item) => ({
      ...item,
      print: item.print ?? (await printOf(item.action)),
    })),
  );
  const kept: Keeping[] = [];
  for (const { action, film, folder = '', sameName } of brought) {
    const { item, forgotten, how, name } = arrive(items, {
      ...{ id: crypto.randomUUID(), savedAt: Date.now(), action, folder, sameName },
      print: await printOf(action),
      film: crypto.randomUUID(),
    });
    kept.push({ how, name });
    if (!item) continue;
    if (film) await keepFilm(item.film, film);
    await put(
      item,
      items.find(({ id }) => id === item.id),
    );
    await Promise.all(forgotten.map(dropFilm));
    items = [item, ...items.filter(({ id }) => id !== item.id)];
  }
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
