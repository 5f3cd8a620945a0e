import { useEffect, useState } from 'react';
import { bridge } from '../../bridge/bridge.ts';
import { bench, useBench } from '../bench-store.ts';
import { LatestOnly } from './latest-only.ts';

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
  const [waiting, setWaiting] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const [tasks] = useState(() => new LatestOnly(setWaiting));
  const key = JSON.stringify(options);

  useEffect(() => {
    if (!enabled) {
      tasks.drop();
      bench.setPreview(null);
      setProblem(null);
      return;
    }
    const given: unknown = JSON.parse(key);
    let stale = false;
    tasks.ask(async () => {
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
    });
    return () => {
      stale = true;
    };
  }, [shot, selection, edit, key, enabled, tasks]);

  useEffect(() => () => bench.setPreview(null), []);
  return { waiting, problem };
}
