/** What was offered for a shot and is to be left as it is: not offered again, in this browser. */
import { create } from 'zustand';
import { persist } from 'zustand/middleware';

interface LeftAlone {
  /** By the ids of shots, words of whoever offers. */
  readonly left: Readonly<Record<string, readonly string[]>>;
}

export const useLeftAlone = create<LeftAlone>()(
  persist((): LeftAlone => ({ left: {} }), { name: 'kneader-left-alone' }),
);

export function leaveAlone(shot: string, what: string): void {
  useLeftAlone.setState(({ left }) => ({ left: { ...left, [shot]: [...(left[shot] ?? []), what] } }));
}
