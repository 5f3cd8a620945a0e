/** Whether the list of notes is open, and which note is meant. */
import { create } from 'zustand';

export const useNotesOpen = create<{ readonly isOpen: boolean; readonly note: string | null }>()(() => ({
  isOpen: false,
  note: null,
}));

export const openNotes = (note: string | null = null): void => useNotesOpen.setState({ isOpen: true, note });
export const toggleNotes = (): void =>
  useNotesOpen.setState(({ isOpen }) => ({ isOpen: !isOpen, note: null }));
