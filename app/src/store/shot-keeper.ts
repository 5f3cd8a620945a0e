import { JournalKeeper } from './journal.ts';
import { journalStore } from './storage.ts';

/** Notes what is done to a shot at once. */
export const keeperOf = (
  { id, acts }: { readonly id: string; readonly acts: number },
  onRefused?: () => void,
): JournalKeeper =>
  new JournalKeeper(
    {
      write: (journal) => journalStore.setItem(id, journal),
      clear: () => void journalStore.removeItem(id).catch(() => undefined),
    },
    acts,
    onRefused,
  );
