import { useIsMutating, useMutationState } from '@tanstack/react-query';

/** The key of everything that stores: what is under way is said in one place. */
export const STORING = { mutationKey: ['storing'] } as const;

export type StoringState = 'nothing' | 'saving' | 'saved' | 'failed';

/** Of what was to be stored since the page was loaded: under way, done, or the last of it refused. */
export function useStoring(): StoringState {
  const underWay = useIsMutating(STORING);
  const last = useMutationState({ filters: STORING, select: ({ state }) => state.status }).at(-1);
  if (underWay > 0) return 'saving';
  if (last === 'error') return 'failed';
  return last === 'success' ? 'saved' : 'nothing';
}
