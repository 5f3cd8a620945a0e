import { CopyOutlined, DeleteOutlined, DownloadOutlined } from '../theme/icons.tsx';
import { App, Button, Popconfirm, Select, Tooltip, Typography } from 'antd';
import { memo } from 'react';
import { useNavigate } from 'react-router';
import { InputError } from '@kneader/core';
import { bridge } from '../bridge/bridge.ts';
import { FilmPicture } from '../drawing/film-picture.tsx';
import { useShotFilm } from '../store/shot-index.ts';
import {
  HeldElsewhere,
  openShot,
  useAddShot,
  useEditStored,
  useRemoveShot,
  useShotList,
} from '../store/shot-queries.ts';
import type { ShotHead } from '../store/shot-record.ts';
import { storageProblem } from '../store/storage.ts';
import { CardRows } from './card-rows.tsx';
import { saveFile } from './save-file.ts';
import { changedOn, tagsIn } from './shot-list.ts';

/** All shots as cards. */
export const ShotCards = ({ heads }: { readonly heads: readonly ShotHead[] }) => (
  <CardRows heads={heads} card={ShotCard} tall={332} />
);

/** All tags of all shots, to choose from. */
function useKnownTags(): string[] {
  const { data } = useShotList();
  return tagsIn(data?.heads ?? []);
}

const ShotCard = memo(function ShotCard({ head }: { readonly head: ShotHead }) {
  const { id, name } = head;
  const navigate = useNavigate();
  const known = useKnownTags();
  const film = useShotFilm(head);
  const remove = useRemoveShot();
  const change = useEditStored();
  const add = useAddShot();
  const { notification } = App.useApp();
  const said = (title: string, error: unknown) =>
    notification.error({
      title,
      description:
        error instanceof HeldElsewhere
          ? 'It is open in another tab: do it there.'
          : error instanceof InputError
            ? error.finding.sentence
            : storageProblem(error),
    });
  const stored = async () => (await openShot(id))!.session.shot;
  const backUp = async () => {
    try {
      saveFile(
        `${name}.kneader.json`,
        await bridge.file(await stored(), '.kneader.json'),
        'application/json',
      );
    } catch (error) {
      said(`“${name}” was not saved to a file`, error);
    }
  };
  const copy = async () => {
    try {
      await add.mutateAsync({ shot: await stored() });
    } catch (error) {
      said(`“${name}” was not copied`, error);
    }
  };
  const call = (next: string) => {
    const given = next.trim();
    if (given === '' || given === name) return;
    change.mutate(
      { id, edit: 'shot.rename', options: { name: given } },
      { onError: (error) => said(`“${name}” keeps its name`, error) },
    );
  };
  const tag = (tags: string[]) =>
    change.mutate(
      { id, edit: 'shot.tag', options: { tags } },
      { onError: (error) => said(`“${name}” keeps its tags`, error) },
    );
  return (
    <article className="card" aria-label={name}>
      {film && film.poses.length > 0 ? (
        <FilmPicture film={film} label={`${name}, moving`} />
      ) : (
        <p className="no-picture" />
      )}
      <div className="card-text">
        <Typography.Title
          level={3}
          title={name}
          ellipsis
          editable={{
            onChange: call,
            maxLength: 60,
            tooltip: `Rename ${name}`,
            enterIcon: null,
          }}
        >
          {name}
        </Typography.Title>
        <span className="soft">
          {head.frames.toLocaleString('en')} frames at {Math.round(head.fps * 100) / 100} ·{' '}
          {head.keys.toLocaleString('en')} keys on {head.channels} channels
          <br />
          {changedOn(head.savedAt, Date.now())}
        </span>
        <Select
          mode="tags"
          size="small"
          variant="borderless"
          className="shot-tags"
          aria-label={`Tags of ${name}`}
          placeholder="Tags"
          maxTagCount="responsive"
          suffixIcon={null}
          tokenSeparators={[',']}
          value={head.tags}
          options={known.map((one) => ({ value: one, label: one }))}
          onChange={tag}
        />
        <div className="card-foot">
          <Button type="primary" size="small" onClick={() => void navigate(`/shots/${id}`)}>
            Open
          </Button>
          <Tooltip title="Save to a file">
            <Button
              size="small"
              aria-label={`Save ${name} to a file`}
              icon={<DownloadOutlined />}
              onClick={() => void backUp()}
            />
          </Tooltip>
          <Tooltip title="Make a copy">
            <Button
              size="small"
              aria-label={`Make a copy of ${name}`}
              icon={<CopyOutlined />}
              loading={add.isPending}
              onClick={() => void copy()}
            />
          </Tooltip>
          <Popconfirm
            title="Remove this shot from the browser?"
            description="A file that you saved stays where it is."
            okText="Remove"
            onConfirm={() => remove.mutate(id)}
          >
            <Button size="small" aria-label={`Remove ${name}`} icon={<DeleteOutlined />} />
          </Popconfirm>
        </div>
      </div>
    </article>
  );
});
