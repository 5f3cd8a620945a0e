/** The pantry in the browser's storage, through TanStack Query. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { z } from 'zod';
import { actionSchema } from '@kneader/core';
import { filmSchema } from '../worker/film.ts';
import { actionStore, onOtherTabs, tellOtherTabs } from './storage.ts';

/** An action with what its picture is drawn from. */
const pantrySchema = z.object({
  id: z.string(),
  savedAt: z.number(),
  action: actionSchema,
  film: filmSchema,
});
export type PantryItem = z.infer<typeof pantrySchema>;

async function listActions(): Promise<PantryItem[]> {
  const items: PantryItem[] = [];
  for (const id of await actionStore.keys()) {
    const parsed = pantrySchema.safeParse(await actionStore.getItem(id));
    if (parsed.success) items.push(parsed.data);
  }
  return items.sort((a, b) => b.savedAt - a.savedAt);
}

export function usePantry() {
  const queries = useQueryClient();
  useEffect(() => onOtherTabs(() => void queries.invalidateQueries({ queryKey: ['actions'] })), [queries]);
  return useQuery({ queryKey: ['actions'], queryFn: listActions });
}

export function useSaveAction() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (item: Omit<PantryItem, 'id' | 'savedAt'>) => {
      const id = crypto.randomUUID();
      await actionStore.setItem(id, { ...item, id, savedAt: Date.now() });
      tellOtherTabs({ kind: 'action', id });
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: ['actions'] }),
  });
}

export function useRemoveAction() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (id: string) => {
      await actionStore.removeItem(id);
      tellOtherTabs({ kind: 'action', id });
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: ['actions'] }),
  });
}
