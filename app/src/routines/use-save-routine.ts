import { App } from 'antd';
import type { Routine } from '@kneader/core';
import { useKeepRoutine } from '../store/routine-queries.ts';
import type { StoredRoutine } from '../store/routine-queries.ts';
import { RecordGone, storageProblem } from '../store/storage.ts';

/** Saves a routine, anew or over the one that was opened; says where that cannot be, and gives whether it was done. */
export function useSaveRoutine() {
  const keep = useKeepRoutine();
  const { notification } = App.useApp();
  return {
    isSaving: keep.isPending,
    async save(routine: Routine, opened?: StoredRoutine): Promise<boolean> {
      try {
        await keep.mutateAsync({ ...(opened && { id: opened.id, base: opened }), routine });
        return true;
      } catch (error) {
        notification.error({
          title: 'The routine was not saved',
          description: error instanceof RecordGone ? 'It was removed in another tab.' : storageProblem(error),
          duration: 0,
        });
        return false;
      }
    },
  };
}
