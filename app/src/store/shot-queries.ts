/** Shots in the browser's storage, through TanStack Query. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { framesPerSecond, keyCount, openSession, rigOf } from '@kneader/core';
import type { Session, Shot } from '@kneader/core';
import { bridge } from '../bridge/bridge.ts';
import type { Film } from '../worker/film.ts';
import { entrySchema, readRecord, recordOf } from './shot-record.ts';
import type { BenchView, ShotEntry, ShotRecord } from './shot-record.ts';
import { ownName } from './own-name.ts';
import { entryStore, onOtherTabs, recordStore, tellOtherTabs } from './storage.ts';

/** What the cards show: entries that read, newest first, and the ids of those that do not. */
interface ShotList {
  readonly entries: readonly ShotEntry[];
  readonly broken: readonly string[];
}

async function listShots(): Promise<ShotList> {
  const entries: ShotEntry[] = [];
  const broken: string[] = [];
  for (const id of await entryStore.keys()) {
    const parsed = entrySchema.safeParse(await entryStore.getItem(id));
    if (parsed.success) entries.push(parsed.data);
    else broken.push(id);
  }
  entries.sort((a, b) => b.savedAt - a.savedAt);
  return { entries, broken };
}

export function useShotList() {
  const queries = useQueryClient();
  useEffect(() => onOtherTabs(() => void queries.invalidateQueries({ queryKey: ['shots'] })), [queries]);
  return useQuery({ queryKey: ['shots'], queryFn: listShots });
}

/** A shot as it was left; null where there is none of that id. */
export function useShotRecord(id: string) {
  return useQuery({
    queryKey: ['shot', id],
    queryFn: async (): Promise<ShotRecord | null> => {
      const stored = await recordStore.getItem(id);
      return stored === null ? null : readRecord(stored);
    },
    // Always what is stored now: another tab may have saved since.
    gcTime: 0,
  });
}

interface SaveRequest {
  readonly id: string;
  readonly session: Session;
  readonly view: BenchView | null;
}

async function saveShot({ id, session, view }: SaveRequest): Promise<void> {
  await recordStore.setItem(id, recordOf(id, session, view));
  await entryStore.setItem(id, entryOf(id, session.shot, await bridge.film(session.shot)));
  tellOtherTabs({ kind: 'shot', id });
}

function entryOf(id: string, shot: Shot, film: Film) {
  return {
    id,
    name: shot.name,
    savedAt: Date.now(),
    frames: Math.round(shot.range.end - shot.range.start + 1),
    fps: framesPerSecond(shot.rate),
    nodes: shot.nodes.length,
    channels: rigOf(shot).channels.length,
    keys: keyCount(shot),
    film,
  };
}

/** Saves a session; the list is read again afterwards. */
export function useSaveShot() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: saveShot,
    onSuccess: () => queries.invalidateQueries({ queryKey: ['shots'] }),
  });
}

/** Stores a new shot and gives its id. */
export function useAddShot() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async ({ shot, id = crypto.randomUUID() }: { readonly shot: Shot; readonly id?: string }) => {
      const { entries } = await listShots();
      const name = ownName(
        shot.name,
        entries.map((entry) => entry.name),
      );
      await saveShot({ id, session: openSession({ ...shot, name }), view: null });
      return id;
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: ['shots'] }),
  });
}

export function useRemoveShot() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (id: string) => {
      await recordStore.removeItem(id);
      await entryStore.removeItem(id);
      tellOtherTabs({ kind: 'shot', id });
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: ['shots'] }),
  });
}
