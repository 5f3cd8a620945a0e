/** A routine over stored shots, one after the other: each gets its steps in its history, so that they can be undone on the bench. */
import { actionSchema, commit, keyCount } from '@kneader/core';
import type { Routine, Session } from '@kneader/core';
import { bridge } from '../bridge/bridge.ts';
import type { RoutineSteps } from '../bridge/bridge.ts';
import { whileHeld } from '../store/shot-hold.ts';
import { openShot } from '../store/shot-queries.ts';
import { storageProblem } from '../store/storage.ts';

/** What became of one shot. */
export interface ShotDone {
  readonly id: string;
  readonly status: 'changed' | 'unchanged' | 'failed';
  readonly sentence: string;
  readonly made: readonly unknown[];
  /** Of the base, before and after. */
  readonly keys: readonly [before: number, after: number];
}

/** The session with the steps of a routine, one by one. */
export function* withSteps(session: Session, { steps }: RoutineSteps): Generator<Session> {
  let now = session;
  for (const { edit, options, selection, outcome } of steps) {
    const next = commit({ ...now, selection }, edit, options, outcome);
    if (next.at === now.at && next.shot === now.shot) continue;
    yield (now = next);
  }
}

interface Running {
  readonly signal: AbortSignal;
  readonly onCourse: (done: number) => void;
  readonly store: (id: string, session: Session, acts: number) => Promise<unknown>;
}

/** Runs it on one shot and stores that; whatever goes wrong is said, and the shot stays as it is. */
export async function runOnShot(id: string, routine: Routine, running: Running): Promise<ShotDone> {
  const failed = (sentence: string): ShotDone => ({
    ...{ id, sentence },
    status: 'failed',
    made: [],
    keys: [0, 0],
  });
  try {
    const done = await whileHeld(id, async () => {
      const record = await openShot(id);
      if (!record) return failed('It is no longer there.');
      const { session, acts } = record;
      const steps = await bridge.routine(
        session.shot,
        routine,
        { ...session.selection, nodes: [], channels: [], keys: {}, layer: null },
        {
          signal: running.signal,
          onCourse: running.onCourse,
        },
      );
      if (!steps) return failed('It was left before it was done.');
      if (steps.refusal) return failed(steps.refusal.sentence);
      let last = session;
      for (const next of withSteps(session, steps)) last = next;
      const made = steps.made.filter((one) => actionSchema.safeParse(one).success);
      const keys = [keyCount(session.shot), keyCount(last.shot)] as const;
      if (last === session) return { id, status: 'unchanged' as const, sentence: '', made, keys };
      await running.store(id, { ...last, selection: session.selection }, acts);
      return { id, status: 'changed' as const, sentence: '', made, keys };
    });
    return done ?? failed('It is open in another tab: close it there first.');
  } catch (error) {
    return failed(storageProblem(error));
  }
}
