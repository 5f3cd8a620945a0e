/** What was said by hand of how one figure's motion goes onto another, kept for each pair of figures. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { keepRecord, keptFinished } from './kept-record.ts';
import { readSaidMapping } from './said-mapping.ts';
import type { SaidMapping } from './said-mapping.ts';
import { mappingStore } from './storage.ts';
import { STORING } from './storing.ts';

export { NOTHING_SAID } from './said-mapping.ts';
export type { SaidMapping } from './said-mapping.ts';

/** A name for two figures that no others have: their joints. */
export const figuresKey = (from: readonly string[], to: readonly string[]): string =>
  `${[...from].sort().join('|')} → ${[...to].sort().join('|')}`;

export function useSaidMapping(key: string) {
  return useQuery({
    queryKey: ['mappings', key],
    queryFn: async (): Promise<SaidMapping> => {
      await keptFinished();
      return readSaidMapping(await mappingStore.getItem(key));
    },
  });
}

export function useKeepSaidMapping(key: string) {
  const queries = useQueryClient();
  return useMutation({
    ...STORING,
    mutationFn: (said: SaidMapping) => keepRecord('mappings', key, said),
    onMutate: (said) => queries.setQueryData(['mappings', key], said),
    onSettled: () => queries.invalidateQueries({ queryKey: ['mappings', key] }),
  });
}
