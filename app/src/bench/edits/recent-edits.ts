/** The edits that were opened last, newest first; kept in the browser. */
import { create } from 'zustand';
import { persist } from 'zustand/middleware';

const MOST = 5;

export const useRecentEdits = create<{ readonly ids: readonly string[] }>()(
  persist((): { readonly ids: readonly string[] } => ({ ids: [] }), { name: 'kneader-recent-edits' }),
);

export function noteUse(id: string): void {
  useRecentEdits.setState(({ ids }) => ({
    ids: [id, ...ids.filter((other) => other !== id)].slice(0, MOST),
  }));
}
