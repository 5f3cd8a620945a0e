/**
 * The files that characters came in. They are large and never change: each is stored once, by its digest, beside all shots that use it, and goes with the last of them. Whoever stores a shot
 * with files and whoever looks for files that nobody uses do so one after the other.
 */
import { useQuery } from '@tanstack/react-query';
import { NO_FILES, sourcesOf } from '@kneader/core';
import type { Shot, SourceFile, SourceFiles } from '@kneader/core';
import { listShots } from './shot-index.ts';
import { sourceStore } from './storage.ts';

const LOCK = 'kneader-sources';

/** Stores files, then what uses them; where that fails nothing stays that was not there before. */
export async function withSources<Result>(
  files: SourceFiles = NO_FILES,
  store: () => Promise<Result>,
): Promise<Result> {
  if (files.size === 0) return store();
  try {
    return await navigator.locks.request(LOCK, { mode: 'shared' }, async () => {
      const known = new Set(await sourceStore.keys());
      for (const [id, own] of files) if (!known.has(id)) await sourceStore.setItem(id, own);
      return store();
    });
  } catch (error) {
    await dropUnusedSources().catch(() => undefined);
    throw error;
  }
}

/** Takes away what no shot uses any more. */
export const dropUnusedSources = (): Promise<void> =>
  navigator.locks.request(LOCK, async () => {
    const stored = await sourceStore.keys();
    if (stored.length === 0) return;
    const { heads, broken } = await listShots();
    // What a record that no longer reads uses is not known.
    if (broken.length > 0) return;
    const used = new Set(heads.flatMap(({ sources }) => sources));
    for (const id of stored) if (!used.has(id)) await sourceStore.removeItem(id);
  });

/** Of a shot's characters the files that are here. */
export async function filesOf(shot: Shot): Promise<SourceFiles> {
  const files = new Map<string, readonly SourceFile[]>();
  for (const { id } of sourcesOf(shot)) {
    const found = files.has(id) ? null : await sourceStore.getItem<readonly SourceFile[]>(id);
    if (found) files.set(id, found);
  }
  return files;
}

/** The bytes that all of them take. */
async function bytesOfSources(): Promise<number> {
  let sum = 0;
  await sourceStore.iterate((files: readonly SourceFile[]) => {
    for (const { bytes } of files) sum += bytes.byteLength;
  });
  return sum;
}

export const useSourceBytes = () =>
  useQuery({ queryKey: ['shots', 'source bytes'], queryFn: bytesOfSources });
