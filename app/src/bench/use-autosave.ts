import { useEffect, useRef, useState } from 'react';
import { onOtherTabs, storageProblem } from '../store/storage.ts';
import { useSaveShot } from '../store/shot-queries.ts';
import { useBench } from './bench-store.ts';

export interface Saving {
  readonly state: 'saved' | 'saving' | 'problem' | 'elsewhere';
  /** What is wrong, when something is. */
  readonly problem: string | null;
  /** Saves this tab's state over the other tab's. */
  readonly keepMine: () => void;
}

/** Calm time before a change is stored. */
const CALM_MS = 350;

/** Stores the session and the view soon after each change; stops when another tab has stored the same shot. */
export function useAutosave(): Saving {
  const { mutateAsync } = useSaveShot();
  const [state, setState] = useState<Saving['state']>('saved');
  const [problem, setProblem] = useState<string | null>(null);
  const elsewhere = useRef(false);
  const saveNow = useRef<() => void>(() => undefined);

  useEffect(() => {
    let timer = 0;
    let running: Promise<void> = Promise.resolve();
    const save = () => {
      window.clearTimeout(timer);
      timer = 0;
      if (elsewhere.current) return;
      const { id, session, frame, from, to } = useBench.getState();
      if (id === '') return;
      setState('saving');
      running = running
        .then(() => mutateAsync({ id, session, view: { frame, from, to } }))
        .then(() => {
          setState(elsewhere.current ? 'elsewhere' : timer ? 'saving' : 'saved');
          setProblem(null);
        })
        .catch((error: unknown) => {
          setState('problem');
          setProblem(storageProblem(error));
        });
    };
    saveNow.current = save;
    const stop = useBench.subscribe((now, was) => {
      const changed =
        now.session !== was.session ||
        now.from !== was.from ||
        now.to !== was.to ||
        (now.frame !== was.frame && !now.playing);
      if (!changed || now.id === '' || now.id !== was.id) return;
      if (!elsewhere.current) setState('saving');
      window.clearTimeout(timer);
      timer = window.setTimeout(save, CALM_MS);
    });
    const stopHearing = onOtherTabs((note) => {
      if (note.kind !== 'shot' || note.id !== useBench.getState().id) return;
      elsewhere.current = true;
      setState('elsewhere');
    });
    const leave = () => timer !== 0 && save();
    window.addEventListener('pagehide', leave);
    return () => {
      if (timer !== 0) save();
      stop();
      stopHearing();
      window.removeEventListener('pagehide', leave);
    };
  }, [mutateAsync]);

  return {
    state,
    problem,
    keepMine: () => {
      elsewhere.current = false;
      saveNow.current();
    },
  };
}
