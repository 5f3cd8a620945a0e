/** Saved routines in the browser's storage, through TanStack Query. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { z } from 'zod';
import { InputError, readRoutine } from '@kneader/core';
import type { Routine } from '@kneader/core';
import { keepRecord, keptFinished } from './kept-record.ts';
import { routineStore } from './storage.ts';

const storedSchema = z.object({ id: z.string(), savedAt: z.number(), routine: z.unknown() });

export interface StoredRoutine {
  readonly id: string;
  readonly savedAt: number;
  readonly routine: Routine;
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

/** Stores a routine under an id of its own, or in place of the one with this id. */
export function useKeepRoutine() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async ({ id = crypto.randomUUID(), routine }: { id?: string; routine: Routine }) => {
      await keepRecord('routines', id, { id, savedAt: Date.now(), routine });
      return id;
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: ['routines'] }),
  });
}

export function useRemoveRoutine() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => routineStore.removeItem(id),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['routines'] }),
  });
}
