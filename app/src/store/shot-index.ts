/**
 * What is known of every shot without reading it: a small head for each, which the cards and lists are made from, and its moving picture apart from it, read when somebody looks. Opening
 * and naming a shot then costs the same among five hundred as alone.
 */
import { useQuery } from '@tanstack/react-query';
import { framesPerSecond, keyCount, rigOf, sourcesOf, tagsOf } from '@kneader/core';
import type { Shot } from '@kneader/core';
import { placedIn } from './changed-actions.ts';
import type { PlacedAction } from './changed-actions.ts';
import { filmSchema, NO_FILM } from '../worker/film.ts';
import type { Film } from '../worker/film.ts';
import { loadRecord } from './record-store.ts';
import { entrySchema, headSchema } from './shot-record.ts';
import type { ShotHead } from './shot-record.ts';
import { entryStore, headStore, recordStore, shotFilmStore } from './storage.ts';

/** What the cards show: heads that read, newest first, and the ids of records that do not. */
export interface ShotList {
  readonly heads: readonly ShotHead[];
  readonly broken: readonly string[];
}

export async function listShots(): Promise<ShotList> {
  const stored = new Set(await recordStore.keys());
  const heads: ShotHead[] = [];
  await headStore.iterate((value, id) => {
    const parsed = headSchema.safeParse(value);
    if (parsed.success && stored.delete(id)) heads.push(parsed.data);
  });
  const broken: string[] = [];
  for (const id of stored) {
    const made = (await olderHead(id)) ?? (await headAgain(id).catch(() => null));
    if (made) heads.push(made);
    else broken.push(id);
  }
  heads.sort((a, b) => b.savedAt - a.savedAt);
  return { heads, broken };
}

/** Of the version that kept the picture within the head. */
async function olderHead(id: string): Promise<ShotHead | null> {
  const { data } = entrySchema.safeParse(await entryStore.getItem(id));
  if (!data) return null;
  const { film, ...head } = data;
  await shotFilmStore.setItem(id, film);
  await headStore.setItem(id, head);
  await entryStore.removeItem(id);
  return head;
}

/** A tab that was closed between the two writings left a record without a head: it is made again from the record. */
async function headAgain(id: string): Promise<ShotHead> {
  const { session } = (await loadRecord(id))!;
  return writeHead(id, session.shot);
}

export async function headOf(id: string): Promise<ShotHead | null> {
  return headSchema.safeParse(await headStore.getItem(id)).data ?? null;
}

/** What is placed in a shot; where its head does not know, the shot is read, once. */
export async function placedOf({ id, placed }: ShotHead): Promise<readonly PlacedAction[]> {
  if (placed) return placed;
  const record = await loadRecord(id).catch(() => null);
  if (!record) return [];
  const found = placedIn(record.session.shot);
  const head = await headOf(id);
  if (head) await headStore.setItem(id, { ...head, placed: found });
  return found;
}

export async function writeHead(id: string, shot: Shot): Promise<ShotHead> {
  const head: ShotHead = {
    id,
    name: shot.name,
    savedAt: Date.now(),
    frames: Math.round(shot.range.end - shot.range.start + 1),
    fps: framesPerSecond(shot.rate),
    nodes: shot.nodes.length,
    channels: rigOf(shot).channels.length,
    keys: keyCount(shot),
    tags: [...tagsOf(shot)],
    sources: sourcesOf(shot).map((source) => source.id),
    placed: placedIn(shot),
  };
  await headStore.setItem(id, head);
  return head;
}

export async function removeHead(id: string): Promise<void> {
  await headStore.removeItem(id);
  await shotFilmStore.removeItem(id);
  await entryStore.removeItem(id);
}

/** Where there is no room for a picture, the card goes without. */
export const keepShotFilm = (id: string, film: Film): Promise<unknown> =>
  shotFilmStore.setItem(id, film).catch(() => undefined);

const FORGOTTEN_MS = 60_000;

/** The moving picture of a shot, as it was drawn last; undefined until it was read. */
export function useShotFilm({ id, savedAt }: ShotHead): Film | undefined {
  const { data } = useQuery({
    queryKey: ['shot film', id, savedAt],
    queryFn: async () => filmSchema.safeParse(await shotFilmStore.getItem(id)).data ?? NO_FILM,
    gcTime: FORGOTTEN_MS,
  });
  return data;
}
