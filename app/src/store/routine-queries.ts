/** Saved routines in the browser's storage, through TanStack Query. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { z } from 'zod';
import { readRoutine } from '@kneader/core';
import type { Routine } from '@kneader/core';
import { routineStore } from './storage.ts';

const storedSchema = z.object({ id: z.string(), savedAt: z.number(), routine: z.unknown() });

export interface StoredRoutine {
  readonly id: string;
  readonly savedAt: number;
  readonly routine: Routine;
}

async function listRoutines(): Promise<StoredRoutine[]> {
  const routines: StoredRoutine[] = [];
  for (const id of await routineStore.keys()) {
    const parsed = storedSchema.safeParse(await routineStore.getItem(id));
    if (parsed.success) routines.push({ ...parsed.data, routine: readRoutine(parsed.data.routine) });
  }
  return routines.sort((a, b) => b.savedAt - a.savedAt);
}

export const useRoutines = () => useQuery({ queryKey: ['routines'], queryFn: listRoutines });

/** Stores a routine under an id of its own, or in place of the one with this id. */
export function useKeepRoutine() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async ({ id = crypto.randomUUID(), routine }: { id?: string; routine: Routine }) => {
      await routineStore.setItem(id, { id, savedAt: Date.now(), routine });
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
