import { Button, Checkbox, Modal, Progress } from 'antd';
import { useRef, useState } from 'react';
import { actionSchema } from '@kneader/core';
import { useKeepActions } from '../store/action-queries.ts';
import type { StoredRoutine } from '../store/routine-queries.ts';
import { useSaveShot, useShotList } from '../store/shot-queries.ts';
import { runOnShot } from './routine-on-shot.ts';
import type { ShotDone } from './routine-on-shot.ts';

interface RunOnShotsProps {
  readonly stored: StoredRoutine;
  readonly onClose: () => void;
}

/** Which shots, how far it has come, and what became of each. */
export function RunOnShots({ stored, onClose }: RunOnShotsProps) {
  const { routine } = stored;
  const list = useShotList();
  const store = useSaveShot();
  const keep = useKeepActions();
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const [done, setDone] = useState<readonly ShotDone[]>([]);
  const [share, setShare] = useState<number | null>(null);
  const left = useRef(new AbortController());
  const entries = list.data?.heads ?? [];
  const run = async () => {
    left.current = new AbortController();
    const { signal } = left.current;
    setDone([]);
    for (const [i, id] of chosen.entries()) {
      if (signal.aborted) break;
      const line = await runOnShot(id, routine, {
        signal,
        onCourse: (part) => setShare((i + part) / chosen.length),
        store: (shot, session, acts) => store.mutateAsync({ id: shot, session, view: null, acts }),
      });
      const brought = line.made.map((made) => ({
        action: actionSchema.parse(made),
        sameName: 'beside' as const,
      }));
      if (brought.length > 0) await keep.mutateAsync(brought);
      setDone((was) => [...was, line]);
      setShare((i + 1) / chosen.length);
    }
    setShare(null);
  };
  const nameOf = (id: string) => entries.find((entry) => entry.id === id)?.name ?? 'a shot that is gone';
  return (
    <Modal
      open
      title={`Run “${routine.name}” on shots`}
      onCancel={() => {
        left.current.abort();
        onClose();
      }}
      footer={
        share === null ? (
          <Button type="primary" disabled={chosen.length === 0} onClick={() => void run()}>
            Run on {chosen.length === 1 ? 'one shot' : `${chosen.length} shots`}
          </Button>
        ) : (
          <Button onClick={() => left.current.abort()}>Leave</Button>
        )
      }
    >
      {entries.length === 0 && <p className="soft">There is no shot yet.</p>}
      {entries.length > 1 && (
        <Checkbox
          checked={chosen.length === entries.length}
          indeterminate={chosen.length > 0 && chosen.length < entries.length}
          onChange={({ target }) => setChosen(target.checked ? entries.map(({ id }) => id) : [])}
        >
          <b>All of them</b>
        </Checkbox>
      )}
      <Checkbox.Group
        className="shot-choice"
        value={[...chosen]}
        options={entries.map(({ id, name }) => ({ value: id, label: name }))}
        onChange={(values) => setChosen(values)}
      />
      {share !== null && <Progress percent={Math.round(share * 100)} aria-label="How far it has come" />}
      <ul className="unopened" aria-label="What became of them">
        {done.map(({ id, status, sentence }) => (
          <li key={id} className={status === 'failed' ? 'refusal' : undefined}>
            <b>{nameOf(id)}</b>:{' '}
            {status === 'failed' ? sentence : `${status}. It can be undone on the bench.`}
          </li>
        ))}
      </ul>
    </Modal>
  );
}
