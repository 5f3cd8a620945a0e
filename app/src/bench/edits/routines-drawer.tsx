import { PlayCircleOutlined } from '../../theme/icons.tsx';
import { Button } from 'antd';
import { useRef, useState } from 'react';
import { actionSchema, asksOf } from '@kneader/core';
import { bridge } from '../../bridge/bridge.ts';
import { withSteps } from '../../routines/routine-on-shot.ts';
import { useKeepActions } from '../../store/action-queries.ts';
import { useRoutines } from '../../store/routine-queries.ts';
import type { StoredRoutine } from '../../store/routine-queries.ts';
import { storageProblem } from '../../store/storage.ts';
import { bench, useBench } from '../bench-store.ts';

/** Saved routines, run on what is selected here; each of their edits is a step of the history. */
export function RoutinesDrawer() {
  const routines = useRoutines();
  const keep = useKeepActions();
  const [running, setRunning] = useState<{ readonly id: string; readonly share: number } | null>(null);
  const [said, setSaid] = useState<string | null>(null);
  const left = useRef(new AbortController());
  if (!routines.data || routines.data.length === 0) return null;
  const run = async ({ id, routine }: StoredRoutine) => {
    setSaid(null);
    left.current = new AbortController();
    const { session } = useBench.getState();
    try {
      setRunning({ id, share: 0 });
      const steps = await bridge.routine(session.shot, routine, session.selection, {
        signal: left.current.signal,
        onCourse: (share) => setRunning({ id, share }),
      });
      if (!steps) return;
      if (steps.refusal) return setSaid(steps.refusal.sentence);
      const now = useBench.getState().session;
      if (now.shot !== session.shot)
        return setSaid('The shot was changed meanwhile: what the routine made does not fit it any more.');
      const before = now.at;
      for (const next of withSteps(now, steps)) bench.take(next);
      for (const made of steps.made) {
        await keep.mutateAsync([{ action: actionSchema.parse(made), sameName: 'beside' }]);
      }
      const count = useBench.getState().session.at - before;
      setSaid(count === 0 ? 'Nothing was changed.' : `${count} ${count === 1 ? 'step' : 'steps'} done.`);
    } catch (error) {
      setSaid(storageProblem(error));
    } finally {
      setRunning(null);
    }
  };
  return (
    <section className="pantry-drawer" aria-label="Routines">
      <h3>routines</h3>
      <ul className="routine-list">
        {routines.data.map((stored) => (
          <li
            key={stored.id}
            title={asksOf(stored.routine)
              .map(({ sentence }) => sentence)
              .join(' ')}
          >
            <b>{stored.routine.name}</b>
            <span className="soft">
              {stored.routine.steps.length} {stored.routine.steps.length === 1 ? 'edit' : 'edits'}
            </span>
            {running?.id === stored.id ? (
              <Button size="small" onClick={() => left.current.abort()}>
                Leave ({Math.round(running.share * 100)} %)
              </Button>
            ) : (
              <Button
                size="small"
                icon={<PlayCircleOutlined />}
                disabled={running !== null}
                onClick={() => void run(stored)}
              >
                Run
              </Button>
            )}
          </li>
        ))}
      </ul>
      {said && (
        <p className="finding" role="status">
          {said}
        </p>
      )}
    </section>
  );
}
