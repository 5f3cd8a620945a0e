import { DeleteOutlined, DownloadOutlined, PlayCircleOutlined, UploadOutlined } from '@ant-design/icons';
import { Alert, App, Button, Empty, Popconfirm, Upload } from 'antd';
import { useState } from 'react';
import { asksOf, findEdit, InputError, readJson, readRoutine } from '@kneader/core';
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
import { RunOnShots } from './run-on-shots.tsx';

/** Saved runs of edits: run on chosen shots, brought and taken as files. */
export function RoutinesPage() {
  const routines = useRoutines();
  const unread = useUnreadRoutines();
  const keep = useKeepRoutine();
  const [running, setRunning] = useState<StoredRoutine | null>(null);
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
          <RoutineCard key={stored.id} stored={stored} onRun={() => setRunning(stored)} />
        ))}
      </div>
      {running && <RunOnShots stored={running} onClose={() => setRunning(null)} />}
    </main>
  );
}

interface RoutineCardProps {
  readonly stored: StoredRoutine;
  readonly onRun: () => void;
}

function RoutineCard({ stored, onRun }: RoutineCardProps) {
  const remove = useRemoveRoutine();
  const { routine, savedAt } = stored;
  const asks = asksOf(routine);
  return (
    <article className="card routine" aria-label={routine.name}>
      <div className="card-text">
        <h3>{routine.name}</h3>
        <span className="soft">{changedOn(savedAt, Date.now())}</span>
        <ol>
          {routine.steps.map(({ edit, on }, i) => (
            <li key={i}>
              {findEdit(edit)?.title ?? edit}
              <span className="soft">{ON_WORDS[on]}</span>
            </li>
          ))}
        </ol>
        {asks.map(({ sentence, code }) => (
          <p key={code} className="soft asks">
            {sentence}
          </p>
        ))}
        <div className="card-foot">
          <Button type="primary" size="small" icon={<PlayCircleOutlined />} onClick={onRun}>
            Run on shots …
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

const ON_WORDS = { selection: '', everything: ' on everything', recorded: ' as it was recorded' } as const;
