/** What was said by hand about which joint stands for which, kept for each pair of figures. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { z } from 'zod';
import { keepRecord, keptFinished } from './kept-record.ts';
import { mappingStore } from './storage.ts';
import { STORING } from './storing.ts';

const pairsSchema = z.record(z.string(), z.string().nullable());
export type HandPairs = z.infer<typeof pairsSchema>;

/** A name for two figures that no others have: their joints. */
export const figuresKey = (from: readonly string[], to: readonly string[]): string =>
  `${[...from].sort().join('|')} → ${[...to].sort().join('|')}`;

export function useHandPairs(key: string) {
  return useQuery({
    queryKey: ['mappings', key],
    queryFn: async (): Promise<HandPairs> => {
      await keptFinished();
      const stored = pairsSchema.safeParse(await mappingStore.getItem(key));
      return stored.success ? stored.data : {};
    },
  });
}

export function useKeepHandPairs(key: string) {
  const queries = useQueryClient();
  return useMutation({
    ...STORING,
    mutationFn: (pairs: HandPairs) => keepRecord('mappings', key, pairs),
    onMutate: (pairs) => queries.setQueryData(['mappings', key], pairs),
    onSettled: () => queries.invalidateQueries({ queryKey: ['mappings', key] }),
  });
}
