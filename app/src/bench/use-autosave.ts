import { useEffect, useState } from 'react';
import { onOtherTabs, storageProblem } from '../store/storage.ts';
import { useSaveShot } from '../store/shot-queries.ts';
import { Autosave } from './autosave.ts';
import type { SavingState } from './autosave.ts';
import { useBench } from './bench-store.ts';

export interface Saving {
  readonly state: SavingState;
  /** What is wrong, when something is. */
  readonly problem: string | null;
  /** Saves this tab's state over the other tab's. */
  readonly keepMine: () => void;
}

/** Stores the session and the view soon after each change; stops when another tab has stored the same shot. */
export function useAutosave(): Saving {
  const { mutateAsync } = useSaveShot();
  const [{ state, problem }, setSaid] = useState<Pick<Saving, 'state' | 'problem'>>({
    state: 'saved',
    problem: null,
  });
  const [autosave] = useState(
    () =>
      new Autosave({
        take: () => {
          const { id, session, frame, from, to } = useBench.getState();
          return async () => {
            if (id !== '') await mutateAsync({ id, session, view: { frame, from, to } });
          };
        },
        onState: (now, error) =>
          setSaid((was) => ({
            state: now,
            // A problem stays said until something is stored.
            problem: error !== null ? storageProblem(error) : now === 'saved' ? null : was.problem,
          })),
      }),
  );

  useEffect(() => {
    const stop = useBench.subscribe((now, was) => {
      const changed =
        now.session !== was.session ||
        now.from !== was.from ||
        now.to !== was.to ||
        (now.frame !== was.frame && !now.playing);
      if (changed && now.id !== '' && now.id === was.id) autosave.changed();
    });
    const stopHearing = onOtherTabs((note) => {
      if (note.kind === 'shot' && note.id === useBench.getState().id) autosave.storedElsewhere();
    });
    const leave = () => void autosave.flush();
    window.addEventListener('pagehide', leave);
    return () => {
      leave();
      stop();
      stopHearing();
      window.removeEventListener('pagehide', leave);
    };
  }, [autosave]);

  return { state, problem, keepMine: () => autosave.takeOver() };
}
