import { DeleteOutlined, DownloadOutlined, UploadOutlined } from '@ant-design/icons';
import { App, Button, Empty, Input, Popconfirm, Space, Tag, Tooltip, Upload } from 'antd';
import { useState } from 'react';
import { InputError, readAction, readJson } from '@kneader/core';
import { FilmPicture } from '../drawing/film-picture.tsx';
import { PageHead } from '../shell/page-head.tsx';
import { saveFile } from '../shots/save-file.ts';
import { usePantry, useRemoveAction, useSaveAction } from '../store/action-queries.ts';
import type { PantryItem } from '../store/action-queries.ts';
import { storageProblem } from '../store/storage.ts';

/** Saved actions: search, look, keep as files. */
export function PantryPage() {
  const pantry = usePantry();
  const [sought, setSought] = useState('');
  const keep = useSaveAction();
  const { notification } = App.useApp();
  const open = async (file: File) => {
    try {
      const { json } = readAction(readJson(await file.text()));
      // A file holds curves and no figure: there is nothing to draw it on.
      await keep.mutateAsync({ action: json, film: { nodes: [], poses: [] } });
    } catch (error) {
      notification.error({
        title: `“${file.name}” was not opened`,
        description: error instanceof InputError ? error.finding.sentence : storageProblem(error),
        duration: 0,
      });
    }
  };
  const items = (pantry.data ?? []).filter((item) => matches(item, sought));
  return (
    <main className="page">
      <PageHead />
      <Space wrap size={12} style={{ marginBottom: 16 }}>
        <Input.Search
          allowClear
          placeholder="Search names and tags"
          aria-label="Search the pantry"
          value={sought}
          onChange={(event) => setSought(event.target.value)}
          style={{ width: 320 }}
        />
        <Upload
          accept=".json"
          showUploadList={false}
          multiple
          beforeUpload={(file) => {
            void open(file);
            return false;
          }}
        >
          <Button icon={<UploadOutlined />}>Open an action file</Button>
        </Upload>
      </Space>
      {pantry.data?.length === 0 && (
        <Empty description="The pantry is empty. On the bench, select controls and a range, and save them as an action." />
      )}
      {pantry.data && pantry.data.length > 0 && items.length === 0 && (
        <p className="soft">Nothing here is called that.</p>
      )}
      <div className="cards">
        {items.map((item) => (
          <ActionCard key={item.id} item={item} />
        ))}
      </div>
    </main>
  );
}

function matches({ action }: PantryItem, sought: string): boolean {
  const words = `${action.name} ${action.tags.join(' ')} ${action.source}`.toLowerCase();
  return words.includes(sought.trim().toLowerCase());
}

function ActionCard({ item }: { readonly item: PantryItem }) {
  const remove = useRemoveAction();
  const { action } = item;
  return (
    <article className="card" aria-label={action.name}>
      {item.film.poses.length > 0 ? (
        <FilmPicture film={item.film} label={`${action.name}, moving`} />
      ) : (
        <p className="no-picture soft">It came from a file, without a picture.</p>
      )}
      <div className="card-text">
        <h3 title={action.name}>{action.name}</h3>
        <span className="soft">
          {Math.round(action.length)} frames · {Object.keys(action.curves).length} channels · from{' '}
          {action.source}
        </span>
        <span>
          {action.tags.map((tag) => (
            <Tag key={tag}>{tag}</Tag>
          ))}
        </span>
        <div className="card-foot">
          <Tooltip title="Save to a file">
            <Button
              size="small"
              aria-label={`Save ${action.name} to a file`}
              icon={<DownloadOutlined />}
              onClick={() =>
                saveFile(`${action.name}.kneader-action.json`, JSON.stringify(action), 'application/json')
              }
            />
          </Tooltip>
          <Popconfirm
            title="Remove this action from the pantry?"
            okText="Remove"
            onConfirm={() => remove.mutate(item.id)}
          >
            <Button size="small" aria-label={`Remove ${action.name}`} icon={<DeleteOutlined />} />
          </Popconfirm>
        </div>
      </div>
    </article>
  );
}
