/** Shots in the browser's storage, through TanStack Query. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { bytesOf, framesPerSecond, keyCount, openSession, rigOf } from '@kneader/core';
import type { Session, Shot } from '@kneader/core';
import { bridge } from '../bridge/bridge.ts';
import type { Film } from '../worker/film.ts';
import { journalSchema, replay } from './journal.ts';
import { loadRecord, removeRecord, storeRecord } from './record-store.ts';
import { entrySchema, recordOf, viewSchema } from './shot-record.ts';
import type { BenchView, ShotEntry, ShotRecord } from './shot-record.ts';
import { ownName } from './own-name.ts';
import { entryStore, journalStore, onOtherTabs, recordStore, tellOtherTabs, viewStore } from './storage.ts';

/** What the cards show: entries that read, newest first, and the ids of those that do not. */
interface ShotList {
  readonly entries: readonly ShotEntry[];
  readonly broken: readonly string[];
}

async function listShots(): Promise<ShotList> {
  const entries: ShotEntry[] = [];
  const broken: string[] = [];
  const listed = new Set(await entryStore.keys());
  for (const id of await recordStore.keys()) {
    const parsed = entrySchema.safeParse(listed.has(id) ? await entryStore.getItem(id) : null);
    if (parsed.success) {
      entries.push(parsed.data);
      continue;
    }
    // A tab that was closed between the two writings left a record without an entry: it is made again from the record.
    const made = await entryAgain(id).catch(() => null);
    if (made) entries.push(made);
    else broken.push(id);
  }
  entries.sort((a, b) => b.savedAt - a.savedAt);
  return { entries, broken };
}

async function entryAgain(id: string): Promise<ShotEntry> {
  const { session } = (await loadRecord(id))!;
  const entry = entryOf(id, session.shot, NO_FILM);
  await entryStore.setItem(id, entry);
  return entry;
}

/** Until the worker has drawn one. */
const NO_FILM: Film = { nodes: [], poses: [] };

export function useShotList() {
  const queries = useQueryClient();
  useEffect(() => onOtherTabs(() => void queries.invalidateQueries({ queryKey: ['shots'] })), [queries]);
  return useQuery({ queryKey: ['shots'], queryFn: listShots });
}

export interface OpenedShot extends ShotRecord {
  /** How many acts were done again that the record did not hold. */
  readonly recovered: number;
}

/** A shot as it was left, with what was done after it was last stored; null where there is none of that id. */
export async function openShot(id: string): Promise<OpenedShot | null> {
  const record = await loadRecord(id);
  if (record === null) return null;
  const view = viewSchema.safeParse(await viewStore.getItem(id));
  const journal = journalSchema.safeParse(await journalStore.getItem(id));
  const open = (journal.data ?? []).filter(({ number }) => number > record.acts);
  return {
    ...record,
    session: replay(
      record.session,
      open.map(({ act }) => act),
    ),
    acts: open.at(-1)?.number ?? record.acts,
    recovered: open.length,
    view: view.data ?? record.view,
  };
}

export function useShotRecord(id: string) {
  return useQuery({
    queryKey: ['shot', id],
    queryFn: () => openShot(id),
    // Always what is stored now: another tab may have saved since.
    gcTime: 0,
  });
}

interface SaveRequest {
  readonly id: string;
  readonly session: Session;
  readonly view: BenchView | null;
  /** Drawn already. */
  readonly film?: Film | undefined;
  /** The number of the last act of the journal that the session holds. */
  readonly acts?: number;
}

/** Stores the record, then the card. Nothing waits for the worker: it draws the card's picture afterwards. */
async function saveShot({ id, session, view, film, acts }: SaveRequest): Promise<void> {
  await storeRecord(recordOf(id, session, view, acts));
  const known = entrySchema.safeParse(await entryStore.getItem(id));
  const entry = entryOf(id, session.shot, film ?? known.data?.film ?? NO_FILM);
  await entryStore.setItem(id, entry);
  tellOtherTabs({ kind: 'shot', id });
}

/** Shots of more bytes keep the picture that they came with: sending one to the worker would hold the page. */
const MOST_FILMED = 48e6;

/** Draws the moving picture of a shot's card; where the shot was stored again meanwhile that one draws its own. */
async function drawCard(id: string, shot: Shot): Promise<boolean> {
  const before = entrySchema.safeParse(await entryStore.getItem(id));
  const film = await bridge.film(shot);
  const now = entrySchema.safeParse(await entryStore.getItem(id));
  if (!now.success || now.data.savedAt !== before.data?.savedAt) return false;
  await entryStore.setItem(id, { ...now.data, film });
  return true;
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
    onSuccess: (_, { id, session, film }) => {
      void queries.invalidateQueries({ queryKey: ['shots'] });
      if (film || bytesOf(session.shot) > MOST_FILMED) return;
      drawCard(id, session.shot).then(
        (isNew) => (isNew ? queries.invalidateQueries({ queryKey: ['shots'] }) : undefined),
        // A card without its picture is no loss.
        () => undefined,
      );
    },
  });
}

interface NewShot {
  readonly shot: Shot;
  readonly film?: Film;
  readonly id?: string;
}

/** A film, or none where it takes more than a moment. */
const drawn = (shot: Shot): Promise<Film | undefined> =>
  Promise.race([
    bridge.film(shot).catch(() => undefined),
    new Promise<undefined>((resolve) => setTimeout(() => resolve(undefined), 3000)),
  ]);

/** Stores a new shot and gives its id. */
export function useAddShot() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async ({ shot, film, id = crypto.randomUUID() }: NewShot) => {
      const { entries } = await listShots();
      const name = ownName(
        shot.name,
        entries.map((entry) => entry.name),
      );
      const session = openSession({ ...shot, name });
      await saveShot({ id, session, view: null, film: film ?? (await drawn(shot)) });
      // Who opens it now need not read it again.
      queries.setQueryData<OpenedShot>(['shot', id], { ...recordOf(id, session, null), recovered: 0 });
      return id;
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: ['shots'] }),
  });
}

/** What is stored under an id as JSON, whatever it is; columns as lists. */
export async function recordText(id: string): Promise<string> {
  return JSON.stringify(await recordStore.getItem(id), (_, value: unknown) =>
    ArrayBuffer.isView(value) ? Array.from(value as Float64Array) : value,
  );
}

export function useRemoveShot() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (id: string) => {
      await removeRecord(id);
      await entryStore.removeItem(id);
      await viewStore.removeItem(id);
      await journalStore.removeItem(id);
      tellOtherTabs({ kind: 'shot', id });
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: ['shots'] }),
  });
}
