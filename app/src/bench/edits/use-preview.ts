import { useEffect, useRef, useState } from 'react';
import { bridge } from '../../bridge/bridge.ts';
import { bench, useBench } from '../bench-store.ts';

interface Trying {
  readonly waiting: boolean;
  /** In the words of the defect; null while all is well. */
  readonly problem: string | null;
}

/**
 * Tries an edit in the worker whenever its options, the selection or the shot change. One request is under way at a time; what
 * came in between is skipped, so that a slider never waits for old answers. Returns whether an answer is awaited, and what went
 * wrong: a defect must not stop the bench, but it is said.
 */
export function usePreview(edit: string, options: unknown, enabled: boolean): Trying {
  const shot = useBench((state) => state.session.shot);
  const selection = useBench((state) => state.session.selection);
  const busy = useRef(false);
  const wanted = useRef<(() => Promise<void>) | null>(null);
  const [waiting, setWaiting] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const key = JSON.stringify(options);

  useEffect(() => {
    if (!enabled) {
      wanted.current = null;
      bench.setPreview(null);
      setProblem(null);
      return;
    }
    const given: unknown = JSON.parse(key);
    let stale = false;
    wanted.current = async () => {
      try {
        const outcome = await bridge.run(shot, edit, selection, given);
        if (stale) return;
        setProblem(null);
        bench.setPreview({ edit, options: given, on: shot, selection, outcome });
      } catch (error) {
        if (stale) return;
        bench.setPreview(null);
        setProblem(error instanceof Error ? error.message : String(error));
      }
    };
    const run = async () => {
      if (busy.current) return;
      busy.current = true;
      setWaiting(true);
      while (wanted.current) {
        const next = wanted.current;
        wanted.current = null;
        await next();
      }
      busy.current = false;
      setWaiting(false);
    };
    void run();
    return () => {
      stale = true;
    };
  }, [shot, selection, edit, key, enabled]);

  useEffect(() => () => bench.setPreview(null), []);
  return { waiting, problem };
}
