import { JournalKeeper } from './journal.ts';
import { journalStore } from './storage.ts';

/** Notes what is done to a shot at once. A full place for text is no loss yet: the record itself follows within a second. */
export const keeperOf = ({ id, acts }: { readonly id: string; readonly acts: number }): JournalKeeper =>
  new JournalKeeper(
    {
      write: (journal) => void journalStore.setItem(id, journal).catch(() => undefined),
      clear: () => void journalStore.removeItem(id).catch(() => undefined),
    },
    acts,
  );
