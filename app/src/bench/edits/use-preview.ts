import { useEffect, useState } from 'react';
import { COST_BY_STEP } from '@kneader/core';
import type { Selection, Shot } from '@kneader/core';
import { bridge } from '../../bridge/bridge.ts';
import { bench, useBench } from '../bench-store.ts';
import type { Preview } from '../bench-store.ts';
import { LatestOnly } from './latest-only.ts';

interface Trying {
  readonly waiting: boolean;
  /** Share of the edit that is done, 0…1. */
  readonly done: number;
  /** In the words of the defect; null while all is well. */
  readonly problem: string | null;
}

/** What can be looked at while the rest is still being worked out. */
const partOf = (
  edit: string,
  options: unknown,
  on: Shot,
  selection: Selection,
  shot: Shot,
  costs: readonly number[],
): Preview => {
  const measures = costs.map((cost) => ({ name: COST_BY_STEP, value: 100 * cost, unit: '%' }));
  const report = { status: 'changed', findings: [], measures, touched: [] } as const;
  return { edit, options, on, selection, outcome: { shot, selection, report }, whole: false };
};

/**
 * Tries an edit in the worker whenever its options, the selection or the shot change. One request is under way at a time; what
 * came in between is skipped, so that a slider never waits for old answers, and sees those that come while it moves. Returns
 * whether an answer is awaited, and what went wrong: a defect must not stop the bench, but it is said.
 * @param interrupts whether what runs is left when something else is asked: what goes on from where it was
 */
export function usePreview(edit: string, options: unknown, enabled: boolean, interrupts = false): Trying {
  const shot = useBench((state) => state.session.shot);
  const selection = useBench((state) => state.session.selection);
  const [waiting, setWaiting] = useState(false);
  const [done, setDone] = useState(0);
  const [problem, setProblem] = useState<string | null>(null);
  const [tasks] = useState(() => new LatestOnly(setWaiting));
  const key = JSON.stringify(options);

  useEffect(() => {
    if (!enabled) {
      bench.setPreview(null);
      setProblem(null);
      return;
    }
    const given: unknown = JSON.parse(key);
    if (interrupts) tasks.drop();
    tasks.ask(async (signal) => {
      setDone(0);
      try {
        const outcome = await bridge.run(shot, edit, selection, given, {
          signal,
          onCourse: (share, soFar, costs = []) => {
            setDone(share);
            if (soFar && !signal.aborted)
              bench.setPreview(partOf(edit, given, shot, selection, soFar, costs));
          },
        });
        if (outcome === null || signal.aborted) return;
        setProblem(null);
        bench.setPreview({ edit, options: given, on: shot, selection, outcome, whole: true });
      } catch (error) {
        if (signal.aborted) return;
        bench.setPreview(null);
        setProblem(error instanceof Error ? error.message : String(error));
      }
    });
  }, [shot, selection, edit, key, enabled, interrupts, tasks]);

  // Of another shot, or another selection, nobody wants to see anything; other options of the same show where it goes.
  useEffect(() => () => tasks.drop(), [shot, selection, edit, enabled, tasks]);
  useEffect(() => () => bench.setPreview(null), []);
  return { waiting, done, problem };
}
