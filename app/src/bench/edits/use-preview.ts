import { useEffect, useRef, useState } from 'react';
import { InvariantError } from '@kneader/core';
import { bridge } from '../../bridge/bridge.ts';
import { bench, useBench } from '../bench-store.ts';

/**
 * Tries an edit in the worker whenever its options, the selection or the shot change. One request is under way at a time; what
 * came in between is skipped, so that a slider never waits for old answers. Returns whether an answer is awaited.
 */
export function usePreview(edit: string, options: unknown, enabled: boolean): boolean {
  const shot = useBench((state) => state.session.shot);
  const selection = useBench((state) => state.session.selection);
  const busy = useRef(false);
  const wanted = useRef<(() => Promise<void>) | null>(null);
  const [waiting, setWaiting] = useState(false);
  const key = JSON.stringify(options);

  useEffect(() => {
    if (!enabled) {
      wanted.current = null;
      bench.setPreview(null);
      return;
    }
    const given: unknown = JSON.parse(key);
    let stale = false;
    wanted.current = async () => {
      try {
        const outcome = await bridge.run(shot, edit, selection, given);
        if (!stale) bench.setPreview({ edit, options: given, on: shot, selection, outcome });
      } catch (error) {
        // A defect in an edit must not stop the bench: the shot is untouched, and nothing is shown as tried.
        if (!stale) bench.setPreview(null);
        if (!(error instanceof InvariantError)) throw error;
      }
    };
    const run = async () => {
      if (busy.current) return;
      busy.current = true;
      setWaiting(true);
      while (wanted.current) {
        const next = wanted.current;
        wanted.current = null;
        await next().catch(() => undefined);
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
  return waiting;
}
