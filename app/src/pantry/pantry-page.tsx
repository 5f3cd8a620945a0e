import {
  DeleteOutlined,
  DownloadOutlined,
  EditOutlined,
  FolderOutlined,
  InboxOutlined,
  SwapOutlined,
} from '../theme/icons.tsx';
import { Alert, App, Button, Checkbox, Empty, Input, Menu, Popconfirm, Select, Skeleton } from 'antd';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { InputError } from '@kneader/core';
import { counted } from '../bench/edits/numbers.ts';
import { bridge } from '../bridge/bridge.ts';
import { PageHead } from '../shell/page-head.tsx';
import { saveFile } from '../shots/save-file.ts';
import {
  useChangeActions,
  useClearActions,
  useKeepActions,
  usePantryAndRemoved,
} from '../store/action-queries.ts';
import type { PantryChange } from '../store/action-queries.ts';
import type { Keeping, PantryItem } from '../store/pantry-record.ts';
import { storageProblem } from '../store/storage.ts';
import { ActionCards } from './action-cards.tsx';
import { ChangeAction } from './change-action.tsx';
import { ChangeMany } from './change-many.tsx';
import { CompareActions } from './compare-actions.tsx';
import { actionFileName } from './action-file-name.ts';
import type { ReadFromFile, Unopened } from './action-files.ts';
import { OpenFiles } from './open-files.tsx';
import { foldersOf, shownActions, tagsOf, WHOLE_PANTRY } from './pantry-list.ts';

const REMOVED = '.removed';
const ALL = '.all';

/** Saved actions: in folders, looked at, compared, brought and taken as files. */
export function PantryPage() {
  const pantry = usePantryAndRemoved();
  const [view, setView] = useState(WHOLE_PANTRY);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [changed, setChanged] = useState<PantryItem | null>(null);
  const [compared, setCompared] = useState<readonly [PantryItem, PantryItem] | null>(null);
  const [changingMany, setChangingMany] = useState(false);
  const [unopened, setUnopened] = useState<readonly Unopened[]>([]);
  const keep = useKeepActions();
  const put = useChangeActions();
  const queries = useQueryClient();
  const clear = useClearActions();
  const { message, notification } = App.useApp();
  const all = pantry.data ?? [];
  const items = shownActions(all, view);
  const removed = all.filter(({ removedAt }) => removedAt !== null);
  const marked = items.filter(({ id }) => chosen.has(id));
  const taken = marked.length > 0 ? marked : items;

  const failed = (title: string, error: unknown) =>
    notification.error({
      title,
      description: error instanceof InputError ? error.finding.sentence : storageProblem(error),
      duration: 0,
    });
  const change = (items: readonly PantryChange[]) =>
    put.mutate(items, { onError: (error) => failed('It was not kept', error) });
  const bring = async (opened: readonly ReadFromFile[]) => {
    try {
      const kept = await keep.mutateAsync(opened.map((one) => ({ ...one, sameName: 'beside' })));
      if (kept.length > 0) message.success(broughtWords(kept), 6);
    } catch (error) {
      failed('Not everything was kept', error);
    }
  };
  const remove = async (gone: readonly PantryItem[]) => {
    const removedAt = Date.now();
    try {
      await put.mutateAsync(gone.map((from) => ({ from, to: { ...from, removedAt } })));
    } catch (error) {
      return failed('Not everything was removed', error);
    }
    setChosen(new Set());
    const key = `removed ${removedAt}`;
    notification.info({
      key,
      title:
        gone.length === 1
          ? `“${gone[0]!.action.name}” was removed`
          : `${counted(gone.length, 'action')} were removed`,
      description: 'What is removed lies under Removed until that is cleared away.',
      actions: (
        <Button
          size="small"
          onClick={() => {
            // As they are by now, back from where they were removed to.
            const ids = new Set(gone.map(({ id }) => id));
            const now = queries.getQueryData<PantryItem[]>(['actions']) ?? [];
            change(
              now.filter(({ id }) => ids.has(id)).map((from) => ({ from, to: { ...from, removedAt: null } })),
            );
            notification.destroy(key);
          }}
        >
          Undo
        </Button>
      ),
      duration: 12,
    });
  };
  const takeShelf = async () => {
    try {
      const brought = (await bridge.shelf()).map((one) => ({
        ...one,
        folder: 'shelf',
        sameName: 'beside' as const,
      }));
      message.success(broughtWords(await keep.mutateAsync(brought)), 6);
    } catch (error) {
      failed('The shelf was not laid out', error);
    }
  };
  const save = async () => {
    const [only] = taken;
    if (taken.length === 1 && only)
      saveFile(actionFileName(only.action), JSON.stringify(only.action), 'application/json');
    else
      try {
        saveFile(
          'actions.zip',
          await bridge.packActions(taken.map(({ action, folder }) => ({ action, folder }))),
          'application/zip',
        );
      } catch (error) {
        failed('The zip was not made', error);
      }
  };
  const toggle = (id: string) =>
    setChosen((was) => {
      const next = new Set(was);
      if (!next.delete(id)) next.add(id);
      return next;
    });

  return (
    <main className="page pantry-page">
      <PageHead />
      <div className="pantry-columns">
        <nav aria-label="Folders">
          <Menu
            mode="inline"
            inlineIndent={14}
            selectedKeys={[view.isRemoved ? REMOVED : (view.folder ?? ALL)]}
            items={[
              { key: ALL, icon: <InboxOutlined />, label: `All actions (${all.length - removed.length})` },
              ...foldersOf(all).map(([name, count]) => ({
                key: name,
                icon: <FolderOutlined />,
                style: { marginLeft: 4 + 14 * (name.split('/').length - 1) },
                label: `${name.split('/').at(-1)} (${count})`,
              })),
              { key: REMOVED, icon: <DeleteOutlined />, label: `Removed (${removed.length})` },
            ]}
            onClick={({ key }) =>
              setView({
                ...view,
                isRemoved: key === REMOVED,
                folder: key === ALL || key === REMOVED ? null : key,
              })
            }
          />
          <Button block onClick={() => void takeShelf()} loading={keep.isPending}>
            Lay out the shelf
          </Button>
          <p className="soft">Six small things that Bram does, to try it with.</p>
        </nav>
        <section aria-label="Actions" className="pantry-main">
          <div className="pantry-tools">
            <Checkbox
              title="Choose all that show"
              disabled={items.length === 0}
              checked={marked.length > 0 && marked.length === items.length}
              indeterminate={marked.length > 0 && marked.length < items.length}
              onChange={({ target }) => setChosen(new Set(target.checked ? items.map(({ id }) => id) : []))}
            >
              All
            </Checkbox>
            <Input.Search
              allowClear
              placeholder="Name, tag, note"
              aria-label="Search the pantry"
              value={view.sought}
              onChange={({ target }) => setView({ ...view, sought: target.value })}
              style={{ width: 200 }}
            />
            <Select
              mode="multiple"
              allowClear
              placeholder="Tags"
              aria-label="Tags"
              value={[...view.tags]}
              options={tagsOf(all).map((tag) => ({ value: tag, label: tag }))}
              onChange={(tags: string[]) => setView({ ...view, tags })}
              style={{ minWidth: 120 }}
              maxTagCount="responsive"
            />
            <OpenFiles onOpened={bring} onEnd={setUnopened} />
            <Button icon={<DownloadOutlined />} disabled={taken.length === 0} onClick={() => void save()}>
              {marked.length > 0 ? `Save ${marked.length} chosen` : `Save all ${items.length}`}
            </Button>
            <Button
              icon={<SwapOutlined />}
              disabled={marked.length !== 2}
              title="Choose two of them first"
              onClick={() => setCompared([marked[0]!, marked[1]!])}
            >
              Compare
            </Button>
            {marked.length > 0 && !view.isRemoved && (
              <>
                <Button
                  icon={<EditOutlined />}
                  title="Folder and tags of those chosen"
                  onClick={() => setChangingMany(true)}
                >
                  Change …
                </Button>
                <Button icon={<DeleteOutlined />} onClick={() => void remove(marked)}>
                  Remove {marked.length}
                </Button>
              </>
            )}
            {view.isRemoved && removed.length > 0 && (
              <Popconfirm
                title={`Clear ${removed.length === 1 ? 'one action' : `${removed.length} actions`} away for good?`}
                okText="Clear away"
                onConfirm={() =>
                  clear.mutate(removed, {
                    onError: (error) => failed('Not everything was cleared away', error),
                  })
                }
              >
                <Button danger>Clear away</Button>
              </Popconfirm>
            )}
          </div>
          {unopened.length > 0 && (
            <Alert
              type="warning"
              showIcon
              closable={{ onClose: () => setUnopened([]) }}
              title={
                unopened.length === 1 ? 'One file was not opened' : `${unopened.length} files were not opened`
              }
              description={
                <ul className="unopened">
                  {unopened.slice(0, 6).map(({ file, sentence }) => (
                    <li key={file}>
                      <b>{file}</b>: {sentence}
                    </li>
                  ))}
                  {unopened.length > 6 && <li>and {unopened.length - 6} more</li>}
                </ul>
              }
            />
          )}
          {pantry.error && <Alert type="warning" showIcon title={storageProblem(pantry.error)} />}
          {pantry.isPending && <Skeleton active title={false} paragraph={{ rows: 6 }} />}
          {pantry.data && all.length === removed.length && !view.isRemoved && (
            <Empty description="The pantry is empty. On the bench, select controls and a range, and save them as an action; or lay out the shelf." />
          )}
          {all.length > removed.length && items.length === 0 && !view.isRemoved && (
            <p className="soft">Nothing here is called that.</p>
          )}
          <ActionCards
            items={items}
            chosen={chosen}
            onToggle={toggle}
            onChange={setChanged}
            onRemove={(item) => void remove([item])}
            onRestore={(from) => change([{ from, to: { ...from, removedAt: null } }])}
          />
        </section>
      </div>
      {changed && (
        <ChangeAction
          item={changed}
          folders={foldersOf(all).map(([name]) => name)}
          tags={tagsOf(all)}
          onCompare={(older) => setCompared([{ ...changed, ...older }, changed])}
          onKeep={(to) => change([{ from: changed, to }])}
          onClose={() => setChanged(null)}
        />
      )}
      {changingMany && (
        <ChangeMany
          items={marked}
          folders={foldersOf(all).map(([name]) => name)}
          tags={tagsOf(all)}
          onKeep={(items) =>
            change(items.map((to) => ({ from: marked.find(({ id }) => id === to.id) ?? to, to })))
          }
          onClose={() => setChangingMany(false)}
        />
      )}
      {compared && <CompareActions pair={compared} onClose={() => setCompared(null)} />}
    </main>
  );
}

/** What became of those that were brought. */
function broughtWords(kept: readonly Keeping[]): string {
  const count = (how: Keeping['how']) => kept.filter((one) => one.how === how);
  const names = (some: readonly Keeping[]) =>
    some
      .slice(0, 3)
      .map(({ name }) => `“${name}”`)
      .join(', ') + (some.length > 3 ? ' …' : '');
  const [fresh, renamed, known] = [count('new'), count('renamed'), count('known')];
  return [
    fresh.length + renamed.length > 0 ? `${fresh.length + renamed.length} kept.` : '',
    renamed.length > 0 ? `Others are called the same, so they are ${names(renamed)} now.` : '',
    known.length > 0 ? `${known.length} in the pantry already, not kept twice: ${names(known)}.` : '',
  ]
    .filter(Boolean)
    .join(' ');
}
