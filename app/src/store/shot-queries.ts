/** Shots in the browser's storage, through TanStack Query. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { QueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { bytesOf, commit, openSession, perform } from '@kneader/core';
import type { Session, Shot, SourceFiles } from '@kneader/core';
import { bridge } from '../bridge/bridge.ts';
import type { Film } from '../worker/film.ts';
import type { ChangedAction } from './changed-actions.ts';
import { journalSchema, replay } from './journal.ts';
import { dropReference } from './references.ts';
import type { PantryItem } from './pantry-record.ts';
import { loadRecord, removeRecord, storeRecord } from './record-store.ts';
import { headOf, keepShotFilm, listShots, removeHead, writeHead } from './shot-index.ts';
import type { ShotList } from './shot-index.ts';
import { recordOf, viewSchema } from './shot-record.ts';
import type { BenchView, ShotHead, ShotRecord } from './shot-record.ts';
import { ownName } from './own-name.ts';
import { whileHeld } from './shot-hold.ts';
import { journalStore, onOtherTabs, recordStore, tellOtherTabs, viewStore } from './storage.ts';
import { dropUnusedSources, withSources } from './sources.ts';
import { STORING } from './storing.ts';

export function useShotList() {
  const queries = useQueryClient();
  useEffect(() => onOtherTabs(() => void queries.invalidateQueries({ queryKey: ['shots'] })), [queries]);
  return useQuery({ queryKey: ['shots'], queryFn: listShots });
}

export interface OpenedShot extends ShotRecord {
  /** How many acts were done again that the record did not hold. */
  readonly recovered: number;
}

/** A shot as it was left, with what was done after it was last stored; null where there is none of that id. */
export async function openShot(id: string): Promise<OpenedShot | null> {
  const record = await loadRecord(id);
  if (record === null) return null;
  const view = viewSchema.safeParse(await viewStore.getItem(id));
  const journal = journalSchema.safeParse(await journalStore.getItem(id));
  const open = (journal.data ?? []).filter(({ number }) => number > record.acts);
  return {
    ...record,
    session: replay(
      record.session,
      open.map(({ act }) => act),
    ),
    acts: open.at(-1)?.number ?? record.acts,
    recovered: open.length,
    view: view.data ?? record.view,
  };
}

export function useShotRecord(id: string) {
  return useQuery({
    queryKey: ['shot', id],
    queryFn: () => openShot(id),
    // Always what is stored now: another tab may have saved since.
    gcTime: 0,
  });
}

interface SaveRequest {
  readonly id: string;
  readonly session: Session;
  readonly view: BenchView | null;
  /** Drawn already. */
  readonly film?: Film | undefined;
  /** The number of the last act of the journal that the session holds. */
  readonly acts?: number;
}

/** Stores the record, then the card. Nothing waits for the worker: it draws the card's picture afterwards. */
async function saveShot({ id, session, view, film, acts }: SaveRequest): Promise<ShotHead> {
  await storeRecord(recordOf(id, session, view, acts));
  const head = await writeHead(id, session.shot);
  if (film) await keepShotFilm(id, film);
  tellOtherTabs({ kind: 'shot', id });
  return head;
}

/** Shots of more bytes keep the picture that they came with: sending one to the worker would hold the page. */
const MOST_FILMED = 48e6;

/** Draws the moving picture of a shot's card; where the shot was stored again meanwhile that one draws its own. */
async function drawCard(id: string, shot: Shot): Promise<void> {
  const before = await headOf(id);
  const film = await bridge.film(shot);
  const now = await headOf(id);
  if (now && now.savedAt === before?.savedAt) await keepShotFilm(id, film);
}

/** Saves a session; the list is read again afterwards. */
export function useSaveShot() {
  const queries = useQueryClient();
  return useMutation({
    ...STORING,
    mutationFn: saveShot,
    onSuccess: (_, { id, session, film }) => {
      void queries.invalidateQueries({ queryKey: ['shots'] });
      if (!film) drawLater(queries, id, session.shot);
    },
  });
}

/** A card without its picture is no loss. */
function drawLater(queries: QueryClient, id: string, shot: Shot): void {
  if (bytesOf(shot) > MOST_FILMED) return;
  drawCard(id, shot).then(
    () => queries.invalidateQueries({ queryKey: ['shot film', id] }),
    () => undefined,
  );
}

interface NewShot {
  readonly shot: Shot;
  /** Of its characters, where it came with them. */
  readonly files?: SourceFiles | undefined;
  readonly film?: Film;
  readonly id?: string;
}

/** Stores a new shot and gives its id. */
export function useAddShot() {
  const queries = useQueryClient();
  return useMutation({
    ...STORING,
    mutationFn: async ({ shot, film, files, id = crypto.randomUUID() }: NewShot) => {
      const { heads } = await queries.fetchQuery({ queryKey: ['shots'], queryFn: listShots });
      const name = ownName(
        shot.name,
        heads.map((head) => head.name),
      );
      const session = openSession({ ...shot, name });
      const head = await withSources(files, () => saveShot({ id, session, view: null, film }));
      // Nobody need read the list again for it.
      queries.setQueryData<ShotList>(
        ['shots'],
        (list) => list && { ...list, heads: [head, ...list.heads.filter((one) => one.id !== id)] },
      );
      // Who opens it now need not read it again.
      queries.setQueryData<OpenedShot>(['shot', id], { ...recordOf(id, session, null), recovered: 0 });
      return id;
    },
    onSuccess: (id, { shot, film }) => {
      if (!film) drawLater(queries, id, shot);
    },
  });
}

/** Another tab works on the shot: nothing is done to it here. */
export class HeldElsewhere extends Error {
  override readonly name = 'HeldElsewhere';
}

/** What becomes of a shot that is not open; throws `HeldElsewhere` where a tab has it open. */
async function editStored(id: string, act: (session: Session) => Session | Promise<Session>): Promise<void> {
  const done = await whileHeld(id, async () => {
    const record = await openShot(id);
    if (record === null) return false;
    const session = await act(record.session);
    if (session === record.session) return true;
    await saveShot({ id, session, view: record.view, acts: record.acts });
    await journalStore.removeItem(id);
    return true;
  });
  if (done === null) throw new HeldElsewhere();
}

/** What was read of the shot before is no longer so: whoever opens it next reads it. */
function forget(queries: QueryClient, id: string): Promise<void> {
  queries.removeQueries({ queryKey: ['shot', id] });
  return queries.invalidateQueries({ queryKey: ['shots'] });
}

/** Does an edit to a stored shot, as a step of its history. */
export function useEditStored() {
  const queries = useQueryClient();
  return useMutation({
    ...STORING,
    mutationFn: ({ id, edit, options }: { id: string; edit: string; options: object }) =>
      editStored(id, (session) => perform(session, edit, options).session),
    onSuccess: (_, { id }) => forget(queries, id),
  });
}

const RENEW = 'actions.renew';

/** What came of renewing: blocks that are another now, and why others stayed. */
interface Renewed {
  readonly blocks: number;
  readonly refusals: readonly string[];
}

/** Takes over in a stored shot what its placed actions have become in the pantry, each a step of its history. */
export function useRenewStored() {
  const queries = useQueryClient();
  return useMutation({
    ...STORING,
    mutationFn: async ({ id, changed }: { id: string; changed: readonly ChangedAction<PantryItem>[] }) => {
      let blocks = 0;
      const refusals: string[] = [];
      await editStored(id, async (before) => {
        let session = before;
        for (const { item, kept, stored } of changed) {
          const options = { action: item.action, stored, kept };
          const outcome = await bridge.run(session.shot, RENEW, session.selection, options, {
            signal: new AbortController().signal,
            onCourse: () => undefined,
          });
          if (!outcome) continue;
          const { status, findings, measures } = outcome.report;
          if (status === 'refused') refusals.push(...findings.map(({ sentence }) => sentence));
          blocks += measures.find(({ name }) => name === 'placements renewed')?.value ?? 0;
          session = commit(session, RENEW, options, outcome);
        }
        return session;
      });
      return { blocks, refusals } satisfies Renewed;
    },
    onSettled: (_, __, { id }) => forget(queries, id),
  });
}

/** What is stored under an id as JSON, whatever it is; columns as lists. */
export async function recordText(id: string): Promise<string> {
  return JSON.stringify(await recordStore.getItem(id), (_, value: unknown) =>
    ArrayBuffer.isView(value) ? Array.from(value as Float64Array) : value,
  );
}

export function useRemoveShot() {
  const queries = useQueryClient();
  return useMutation({
    ...STORING,
    mutationFn: async (id: string) => {
      await removeRecord(id);
      await dropReference(id);
      await removeHead(id);
      await viewStore.removeItem(id);
      await journalStore.removeItem(id);
      await dropUnusedSources();
      tellOtherTabs({ kind: 'shot removed', id });
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: ['shots'] }),
  });
}
