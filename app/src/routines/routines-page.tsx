import {
  DeleteOutlined,
  DownloadOutlined,
  EditOutlined,
  PlayCircleOutlined,
  PlusOutlined,
  UploadOutlined,
} from '../theme/icons.tsx';
import { Alert, App, Button, Empty, Popconfirm, Upload } from 'antd';
import { useState } from 'react';
import { asksOf, findEdit, InputError, readJson, readRoutine, ROUTINE_EXAMPLES } from '@kneader/core';
import type { Routine } from '@kneader/core';
import { PageHead } from '../shell/page-head.tsx';
import { saveFile } from '../shots/save-file.ts';
import { changedOn } from '../shots/shot-list.ts';
import {
  useKeepRoutine,
  useRemoveRoutine,
  useRoutines,
  useUnreadRoutines,
} from '../store/routine-queries.ts';
import type { StoredRoutine } from '../store/routine-queries.ts';
import { counted } from '../bench/edits/numbers.ts';
import { storageProblem } from '../store/storage.ts';
import { LastTime } from './last-time.tsx';
import { onWords } from './on-words.ts';
import { RoutineEditor } from './routine-editor.tsx';
import { RunOnShots } from './run-on-shots.tsx';

/** Saved runs of edits: run on chosen shots, brought and taken as files. */
export function RoutinesPage() {
  const routines = useRoutines();
  const unread = useUnreadRoutines();
  const keep = useKeepRoutine();
  const [running, setRunning] = useState<StoredRoutine | null>(null);
  const [editing, setEditing] = useState<StoredRoutine | 'new' | null>(null);
  const { notification } = App.useApp();
  const open = async (file: File) => {
    try {
      await keep.mutateAsync({ routine: readRoutine(readJson(await file.text())) });
    } catch (error) {
      notification.error({
        title: `“${file.name}” was not opened`,
        description: error instanceof InputError ? error.finding.sentence : storageProblem(error),
        duration: 0,
      });
    }
  };
  const take = async (routine: Routine) => {
    const names = new Set(routines.data?.map((one) => one.routine.name));
    let name = routine.name;
    for (let i = 2; names.has(name); i += 1) name = `${routine.name} ${i}`;
    await keep.mutateAsync({ routine: { ...routine, name } });
  };
  return (
    <main className="page">
      <PageHead />
      <div className="pantry-tools" style={{ marginBottom: 16 }}>
        <Upload
          accept=".json"
          showUploadList={false}
          multiple
          beforeUpload={(file) => {
            void open(file);
            return false;
          }}
        >
          <Button icon={<UploadOutlined />}>Open a routine file</Button>
        </Upload>
        <Button icon={<PlusOutlined />} onClick={() => setEditing('new')}>
          New routine
        </Button>
      </div>
      {unread > 0 && (
        <Alert
          type="warning"
          showIcon
          title={`${counted(unread, 'routine')} cannot be read by this version. Nothing was removed.`}
        />
      )}
      {routines.data?.length === 0 && (
        <Empty description="There is no routine yet. On the bench, under History, choose “Save as routine …”." />
      )}
      <div className="routines">
        {routines.data?.map((stored) => (
          <RoutineCard
            key={stored.id}
            stored={stored}
            onRun={() => setRunning(stored)}
            onChange={() => setEditing(stored)}
          />
        ))}
      </div>
      <h2 className="section-title">Examples</h2>
      <div className="routines">
        {ROUTINE_EXAMPLES.map((example) => (
          <article key={example.name} className="card routine" aria-label={`Example: ${example.name}`}>
            <div className="card-text">
              <h3>{example.name}</h3>
              <p className="soft">{example.notes}</p>
              <StepNames routine={example} />
              <div className="card-foot">
                <Button size="small" icon={<PlusOutlined />} onClick={() => void take(example)}>
                  Take a copy
                </Button>
              </div>
            </div>
          </article>
        ))}
      </div>
      {editing && (
        <RoutineEditor opened={editing === 'new' ? null : editing} onClose={() => setEditing(null)} />
      )}
      {running && <RunOnShots stored={running} onClose={() => setRunning(null)} />}
    </main>
  );
}

const StepNames = ({ routine }: { readonly routine: Routine }) => (
  <ol>
    {routine.steps.map(({ edit, on }, i) => (
      <li key={i}>
        {findEdit(edit)?.title ?? edit}
        <span className="soft"> {on === 'selection' ? '' : onWords(on)}</span>
      </li>
    ))}
  </ol>
);

interface RoutineCardProps {
  readonly onChange: () => void;
  readonly stored: StoredRoutine;
  readonly onRun: () => void;
}

function RoutineCard({ stored, onRun, onChange }: RoutineCardProps) {
  const remove = useRemoveRoutine();
  const { routine, savedAt } = stored;
  const asks = asksOf(routine);
  return (
    <article className="card routine" aria-label={routine.name}>
      <div className="card-text">
        <h3>{routine.name}</h3>
        <span className="soft">{changedOn(savedAt, Date.now())}</span>
        {routine.notes !== '' && <p className="soft">{routine.notes}</p>}
        <StepNames routine={routine} />
        {asks.map(({ sentence, code }) => (
          <p key={code} className="soft asks">
            {sentence}
          </p>
        ))}
        {stored.last && <LastTime routine={stored.id} last={stored.last} />}
        <div className="card-foot">
          <Button type="primary" size="small" icon={<PlayCircleOutlined />} onClick={onRun}>
            Run on shots …
          </Button>
          <Button
            size="small"
            icon={<EditOutlined />}
            aria-label={`Change ${routine.name}`}
            onClick={onChange}
          >
            Change
          </Button>
          <Button
            size="small"
            aria-label={`Save ${routine.name} to a file`}
            icon={<DownloadOutlined />}
            onClick={() =>
              saveFile(
                `${routine.name}.kneader-routine.json`,
                JSON.stringify(routine, null, 2),
                'application/json',
              )
            }
          />
          <Popconfirm title="Remove this routine?" okText="Remove" onConfirm={() => remove.mutate(stored.id)}>
            <Button size="small" aria-label={`Remove ${routine.name}`} icon={<DeleteOutlined />} />
          </Popconfirm>
        </div>
      </div>
    </article>
  );
}
