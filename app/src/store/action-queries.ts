/** The pantry in the browser's storage, through TanStack Query. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { z } from 'zod';
import { actionSchema, contentOf, readAction } from '@kneader/core';
import type { ActionJson } from '@kneader/core';
import { filmSchema } from '../worker/film.ts';
import type { Film } from '../worker/film.ts';
import { actionStore, onOtherTabs, tellOtherTabs } from './storage.ts';

const versionSchema = z.object({ savedAt: z.number(), action: actionSchema, film: filmSchema });
export type ActionVersion = z.infer<typeof versionSchema>;

/** An action with what its picture is drawn from. */
const pantrySchema = versionSchema.extend({
  id: z.string(),
  /** A digest of what it does: the same for the same motion. Older records have none. */
  print: z.string().optional(),
  /** The words of the way to it, from the outermost folder. */
  folder: z.string().default(''),
  /** What it was before, the newest first. */
  versions: z.array(versionSchema).default([]),
  /** When it was removed; it can be had back until it is cleared away. */
  removedAt: z.number().nullable().default(null),
});
export type PantryItem = z.output<typeof pantrySchema>;

/** Versions of one action that are kept. */
const MOST_VERSIONS = 20;

async function listActions(): Promise<PantryItem[]> {
  const items: PantryItem[] = [];
  for (const id of await actionStore.keys()) {
    const parsed = pantrySchema.safeParse(await actionStore.getItem(id));
    if (parsed.success) items.push(parsed.data);
  }
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

/** What became of an action that was brought: kept as new, as a newer version of another, or not, since it is there. */
export interface Kept {
  readonly how: 'new' | 'version' | 'renamed' | 'known';
  /** What it is called in the pantry. */
  readonly name: string;
}

interface Brought {
  readonly action: ActionJson;
  readonly film: Film;
  readonly folder?: string;
  /** Of the same name and another content: a newer version of that, or another action beside it. */
  readonly sameName: 'version' | 'beside';
}

async function printOf(action: ActionJson): Promise<string> {
  const bytes = new TextEncoder().encode(contentOf(readAction(action)));
  const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes));
  return Array.from(digest, (byte) => byte.toString(16).padStart(2, '0')).join('');
}

/** Stores actions unless they are there; nothing is kept twice, and nothing is written over. */
async function keepAll(brought: readonly Brought[]): Promise<Kept[]> {
  const items = await Promise.all(
    living(await listActions()).map(async (item) => ({
      ...item,
      print: item.print ?? (await printOf(item.action)),
    })),
  );
  const kept: Kept[] = [];
  for (const one of brought) {
    const { item, ...how } = await keep(items, one);
    if (item) items.splice(0, items.length, item, ...items.filter(({ id }) => id !== item.id));
    kept.push(how);
  }
  return kept;
}

/** @param items what is there, with their prints */
async function keep(
  items: readonly PantryItem[],
  { action, film, folder, sameName }: Brought,
): Promise<Kept & { readonly item?: PantryItem & { readonly print: string } }> {
  const print = await printOf(action);
  const known = items.find((item) => item.print === print);
  if (known) return { how: 'known', name: known.action.name };
  const named = items.find((item) => item.action.name === action.name);
  const savedAt = Date.now();
  if (named && sameName === 'version') {
    const { savedAt: before, action: was, film: picture, versions } = named;
    const older = [{ savedAt: before, action: was, film: picture }, ...versions].slice(0, MOST_VERSIONS);
    const item = { ...named, savedAt, action, film, print, versions: older };
    await put(item);
    return { how: 'version', name: action.name, item };
  }
  const name = named ? freshName(items, action.name) : action.name;
  const id = crypto.randomUUID();
  const item = {
    ...{ id, savedAt, action: { ...action, name }, film, print },
    ...{ folder: folder ?? '', versions: [], removedAt: null },
  };
  await put(item);
  return { how: named ? 'renamed' : 'new', name, item };
}

function freshName(items: readonly PantryItem[], name: string): string {
  const names = new Set(items.map(({ action }) => action.name));
  for (let number = 2; ; number += 1) if (!names.has(`${name} ${number}`)) return `${name} ${number}`;
}

async function put(item: PantryItem): Promise<void> {
  await actionStore.setItem(item.id, item);
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
/** Name, folder, tags, notes; another version; removed, or had back. */
export const useChangeAction = () => usePantryChange(put);
/** Gone for good. */
export const useClearActions = () =>
  usePantryChange(async (ids: readonly string[]) => {
    for (const id of ids) {
      await actionStore.removeItem(id);
      tellOtherTabs({ kind: 'action', id });
    }
  });
