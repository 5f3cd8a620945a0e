import { Button, Checkbox, Modal, Progress, Select } from 'antd';
import { useRef, useState } from 'react';
import { actionSchema, roleWords } from '@kneader/core';
import type { Routine, RoutineStep } from '@kneader/core';
import { Field } from '../bench/edits/field.tsx';
import { counted } from '../bench/edits/numbers.ts';
import { useKeepActions } from '../store/action-queries.ts';
import { RecordGone } from '../store/storage.ts';
import { forgetBefore, keepBefore, useKeepRoutine } from '../store/routine-queries.ts';
import type { StoredRoutine } from '../store/routine-queries.ts';
import { useSaveShot, useShotList } from '../store/shot-queries.ts';
import { ON_CHOICES } from './on-words.ts';
import { runOnShot } from './routine-on-shot.ts';
import type { ShotDone } from './routine-on-shot.ts';

interface RunOnShotsProps {
  readonly stored: StoredRoutine;
  readonly onClose: () => void;
}

const bySelection = ({ steps }: Routine) => steps.filter(({ on }) => on === 'selection');
const rolesIn = (routine: Routine): string[] => [
  ...new Set(bySelection(routine).flatMap(({ recorded }) => (recorded.roles ?? []).map(roleWords))),
];

/** Whether a way to run is known for the steps that go by the selection. */
const isKnown = (routine: Routine, on: RoutineStep['on']): boolean =>
  on === 'everything' ||
  (on === 'roles'
    ? rolesIn(routine).length > 0
    : bySelection(routine).some(({ recorded: { nodes, channels } }) => nodes.length + channels.length > 0));

/** In a batch nothing is selected: the body parts are meant on which it was recorded, where they are known. */
const usualOn = (routine: Routine): RoutineStep['on'] => (isKnown(routine, 'roles') ? 'roles' : 'everything');

/** The routine with its steps that go by the selection on what was asked; those without body parts on everything. */
function askedOn(routine: Routine, on: RoutineStep['on']): Routine {
  const onFor = ({ recorded }: RoutineStep) =>
    on === 'roles' && (recorded.roles ?? []).length === 0 ? 'everything' : on;
  return {
    ...routine,
    steps: routine.steps.map((step) => (step.on === 'selection' ? { ...step, on: onFor(step) } : step)),
  };
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
  const [on, setOn] = useState<RoutineStep['on']>(usualOn(routine));
  const keepRoutine = useKeepRoutine();
  const entries = list.data?.heads ?? [];
  const nameOf = (id: string) => entries.find((entry) => entry.id === id)?.name ?? 'a shot that is gone';
  const run = async () => {
    left.current = new AbortController();
    const { signal } = left.current;
    setDone([]);
    const asked = askedOn(routine, on);
    const lines: ShotDone[] = [];
    await forgetBefore(stored.id);
    for (const [i, id] of chosen.entries()) {
      if (signal.aborted) break;
      await keepBefore(stored.id, id);
      const line = await runOnShot(id, asked, {
        signal,
        onCourse: (part) => setShare((i + part) / chosen.length),
        store: (shot, session, acts) => store.mutateAsync({ id: shot, session, view: null, acts }),
      });
      const brought = line.made.map((made) => ({
        action: actionSchema.parse(made),
        sameName: 'beside' as const,
      }));
      if (brought.length > 0) await keep.mutateAsync(brought);
      lines.push(line);
      setDone([...lines]);
      setShare((i + 1) / chosen.length);
    }
    setShare(null);
    if (lines.length === 0) return;
    const shots = lines.map(({ id, status, sentence, keys: [keysBefore, keysAfter] }) => ({
      ...{ id, status, sentence, keysBefore, keysAfter },
      name: nameOf(id),
    }));
    // To be run is no change of it.
    const { id, savedAt } = stored;
    const last = { at: Date.now(), shots };
    try {
      await keepRoutine.mutateAsync({ id, savedAt, routine, last, base: stored });
    } catch (error) {
      // Taken away while it ran: the shots are done, and there is nothing to note it on.
      if (!(error instanceof RecordGone)) throw error;
    }
  };
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
      <Field label="Steps that go by the selection run">
        <Select
          size="small"
          aria-label="On what the steps run"
          popupMatchSelectWidth={false}
          value={on}
          options={ON_CHOICES.filter(({ value }) => value !== 'selection' && isKnown(routine, value))}
          onChange={setOn}
        />
      </Field>
      {on === 'roles' && <p className="soft">{rolesIn(routine).join(', ')}, whoever they belong to.</p>}
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
        {done.map(({ id, status, sentence, keys }) => (
          <li key={id} className={status === 'failed' ? 'refusal' : undefined}>
            <b>{nameOf(id)}</b>:{' '}
            {status === 'failed'
              ? sentence
              : status === 'unchanged'
                ? 'unchanged.'
                : `${counted(keys[0], 'key')} → ${keys[1].toLocaleString('en-US')}. It can be undone on the bench.`}
          </li>
        ))}
      </ul>
    </Modal>
  );
}
