/** Saved routines in the browser's storage, through TanStack Query. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { z } from 'zod';
import { InputError, readRoutine } from '@kneader/core';
import type { Routine } from '@kneader/core';
import { keepRecord, keptFinished } from './kept-record.ts';
import { filmSchema } from '../worker/film.ts';
import { routineStore, shotFilmStore } from './storage.ts';
import { STORING } from './storing.ts';

/** What became of one shot when a routine was run. */
const shotRunSchema = z.object({
  id: z.string(),
  name: z.string(),
  status: z.enum(['changed', 'unchanged', 'failed']),
  sentence: z.string(),
  keysBefore: z.number(),
  keysAfter: z.number(),
});
const lastRunSchema = z.object({ at: z.number(), shots: z.array(shotRunSchema) });
export type ShotRun = z.infer<typeof shotRunSchema>;
export type LastRun = z.infer<typeof lastRunSchema>;

const storedSchema = z.object({
  id: z.string(),
  savedAt: z.number(),
  routine: z.unknown(),
  last: lastRunSchema.optional(),
});

export interface StoredRoutine {
  readonly id: string;
  readonly savedAt: number;
  readonly routine: Routine;
  /** What it did last. */
  readonly last?: LastRun | undefined;
}

interface RoutineList {
  readonly routines: readonly StoredRoutine[];
  /** Of another version, or damaged: kept, and hidden from nobody. */
  readonly unread: number;
}

async function listRoutines(): Promise<RoutineList> {
  await keptFinished();
  const routines: StoredRoutine[] = [];
  let unread = 0;
  for (const id of await routineStore.keys()) {
    const parsed = storedSchema.safeParse(await routineStore.getItem(id));
    try {
      if (parsed.success) routines.push({ ...parsed.data, routine: readRoutine(parsed.data.routine) });
      else unread += 1;
    } catch (error) {
      if (!(error instanceof InputError)) throw error;
      unread += 1;
    }
  }
  return { routines: routines.sort((a, b) => b.savedAt - a.savedAt), unread };
}

const theirRoutines = ({ routines }: RoutineList) => routines;
const theirUnread = ({ unread }: RoutineList) => unread;
const asked = { queryKey: ['routines'], queryFn: listRoutines };

export const useRoutines = () => useQuery({ ...asked, select: theirRoutines });
/** How many routines are kept that this version cannot read. */
export const useUnreadRoutines = () => useQuery({ ...asked, select: theirUnread }).data ?? 0;

interface KeptRoutine {
  readonly id?: string;
  readonly routine: Routine;
  readonly last?: LastRun | undefined;
  /** Left out, now. */
  readonly savedAt?: number;
  /** As it was read: only what is another is written, over whatever another tab has made of it. */
  readonly base?: StoredRoutine | undefined;
}

/** Stores a routine under an id of its own, or in place of the one with this id. */
export function useKeepRoutine() {
  const queries = useQueryClient();
  return useMutation({
    ...STORING,
    mutationFn: async ({
      id = crypto.randomUUID(),
      routine,
      last,
      savedAt = Date.now(),
      base,
    }: KeptRoutine) => {
      const kept = { ...base, id, savedAt, routine, ...(last && { last }) };
      await keepRecord('routines', id, kept, base);
      return id;
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: ['routines'] }),
  });
}

export function useRemoveRoutine() {
  const queries = useQueryClient();
  return useMutation({
    ...STORING,
    mutationFn: async (id: string) => {
      await routineStore.removeItem(id);
      await forgetBefore(id);
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: ['routines'] }),
  });
}

const beforeKey = (routine: string, shot: string) => `before ${routine} ${shot}`;

/** Keeps the moving picture of a shot as it was before a routine is run on it; where there is none, nothing. */
export async function keepBefore(routine: string, shot: string): Promise<void> {
  const film: unknown = await shotFilmStore.getItem(shot);
  if (film) await shotFilmStore.setItem(beforeKey(routine, shot), film).catch(() => undefined);
}

/** Of the last run only. */
export async function forgetBefore(routine: string): Promise<void> {
  for (const key of await shotFilmStore.keys())
    if (key.startsWith(beforeKey(routine, ''))) await shotFilmStore.removeItem(key);
}

/** A shot as it was before a routine was run on it, and as it is now; undefined where there is no picture. */
export function useRunFilms(routine: string, shot: string, at: number) {
  return useQuery({
    queryKey: ['run films', routine, shot, at],
    queryFn: async () => {
      const read = async (key: string) => filmSchema.safeParse(await shotFilmStore.getItem(key)).data;
      return { before: await read(beforeKey(routine, shot)), after: await read(shot) };
    },
    gcTime: 60_000,
  }).data;
}
