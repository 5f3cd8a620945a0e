/** Reading and writing files by their ending, with the core's readers and writers. Nothing is left half written. */
import { randomUUID } from 'node:crypto';
import {
  open,
  readFile as readBytes,
  readdir,
  realpath,
  rename,
  rm,
  stat,
  writeFile,
} from 'node:fs/promises';
import { basename, dirname, join, relative, resolve, sep } from 'node:path';
import { MOST_MEGABYTES, NO_FILES, formatLike, formatOf, readFile, refuse } from '@kneader/core';
import type { Finding, ReadResult, Shot, SourceFiles } from '@kneader/core';

/** Stands for standard input, and for standard output. */
export const STREAM = '-';

/** Files that a command reads and those that it writes: none of the second may be one of the first, nor stand twice. */
export async function keepApart(inputs: readonly string[], outputs: readonly string[]): Promise<void> {
  const taken = new Set(await Promise.all(inputs.filter((path) => path !== STREAM).map(placeOf)));
  for (const path of outputs) {
    const place = await placeOf(path);
    if (taken.has(place)) refuse('fileOverInput', { file: path }, basename(path));
    taken.add(place);
  }
}

/** Where a path leads, links followed; the path itself where nothing is there yet. */
async function placeOf(path: string): Promise<string> {
  if (path === STREAM) return path;
  return realpath(path).catch(async () =>
    join(await realpath(dirname(path)).catch(() => resolve(dirname(path))), basename(path)),
  );
}

/** All of standard input; as with files there is an end to what is read. */
async function bytesOfInput(): Promise<Uint8Array> {
  const parts: Buffer[] = [];
  let size = 0;
  for await (const part of process.stdin as AsyncIterable<Buffer>) {
    parts.push(part);
    size += part.byteLength;
    const megabytes = Math.round(size / 1e6);
    if (megabytes > MOST_MEGABYTES) refuse('fileTooLarge', { file: STREAM }, megabytes, MOST_MEGABYTES);
  }
  return Buffer.concat(parts);
}

/** Bytes of a plain file of bounded size: a pipe or a device would never end. */
export async function bytesOf(path: string): Promise<Uint8Array> {
  const found = await stat(path).catch(() => null);
  if (!found) return refuse('fileMissing', { file: path }, path);
  if (!found.isFile()) return refuse('fileNotPlain', { file: path }, path);
  const megabytes = Math.round(found.size / 1e6);
  if (megabytes > MOST_MEGABYTES) refuse('fileTooLarge', { file: path }, megabytes, MOST_MEGABYTES);
  return readBytes(path).catch(() => refuse('fileMissing', { file: path }, path));
}

/** What was read, and whether it held the files of its characters by choice: what is written of it does so too. */
export interface Opened extends ReadResult {
  readonly withFiles: boolean;
}

/**
 * Opens a file, or standard input; what a `.gltf` needs is looked for beside it. Rejects with an `InputError`.
 * @param as the ending of what has no name
 * @param animation which of a file that has several, by its name
 */
export async function openFile(path: string, as?: string, animation?: string): Promise<Opened> {
  if (path === STREAM) {
    const bytes = await bytesOfInput();
    const ending = as ?? formatLike(bytes)?.ending;
    if (bytes.byteLength > 0 && ending === undefined) refuse('streamUnknownKind', {});
    return opened(`standard input${ending ?? '.csv'}`, bytes, animation);
  }
  if (formatOf(path) === null) refuse('fileUnknownKind', { file: path }, basename(path));
  const bytes = await bytesOf(path);
  const folder = await placeOf(dirname(path));
  const neighbour = async (uri: string) => {
    const beside = join(folder, uri);
    const place = await realpath(beside).catch(() => null);
    if (place === null) return null;
    // A link may lead out of the folder.
    if (relative(folder, place).startsWith(`..${sep}`)) refuse('gltfFarResource', { file: path }, uri);
    return bytesOf(place);
  };
  return opened(basename(path), bytes, animation, neighbour);
}

async function opened(
  name: string,
  bytes: Uint8Array,
  animation?: string,
  neighbour?: (uri: string) => Promise<Uint8Array | null>,
): Promise<Opened> {
  const read = await readFile(name, bytes, {
    ...(neighbour && { neighbour }),
    ...(animation !== undefined && { animation }),
  });
  const withFiles = formatOf(name)?.holdsByChoice === true && (read.files?.size ?? 0) > 0;
  return { ...read, withFiles };
}

/**
 * Writes beside, makes sure that all of it lies on the disk, and renames: the file is what it was, or whole. A device or a pipe is written through. Rejects with the system's error; our own
 * few lines, since the usual packages take what a full disk took for the whole.
 */
export async function saveText(path: string, content: string | Uint8Array): Promise<void> {
  const data = typeof content === 'string' ? Buffer.from(content) : content;
  if (path === STREAM) {
    await new Promise<void>((resolve, reject) =>
      process.stdout.write(data, (error) => (error ? reject(error) : resolve())),
    );
    return;
  }
  const place = await placeOf(path);
  const found = await stat(place).catch(() => null);
  if (found && !found.isFile()) {
    await writeFile(place, data);
    return;
  }
  const beside = `${place}.${randomUUID()}.part`;
  const handle = await open(beside, 'wx', found?.mode);
  try {
    await handle.writeFile(data);
    await handle.sync();
    const { size } = await handle.stat();
    if (size !== data.byteLength) throw shortWrite(size, data.byteLength);
    await handle.close();
    await rename(beside, place);
  } catch (error) {
    await handle.close().catch(() => undefined);
    await rm(beside, { force: true });
    throw error;
  }
}

/** Removes what writers of these files left lying beside them when they were killed. For whoever goes on with their work, and not while others may write the same. */
export async function clearHalfWritten(paths: readonly string[]): Promise<void> {
  const byFolder = new Map<string, Set<string>>();
  for (const path of paths) {
    const place = await placeOf(path);
    const names = byFolder.get(dirname(place)) ?? new Set();
    byFolder.set(dirname(place), names.add(basename(place)));
  }
  for (const [folder, names] of byFolder)
    for (const entry of await readdir(folder).catch(() => []))
      if (names.has(HALF_WRITTEN.exec(entry)?.[1] ?? '')) await rm(join(folder, entry), { force: true });
}

/** The name that a file has until it is whole. */
const HALF_WRITTEN = /^(.+)\.[0-9a-f-]{36}\.part$/;

interface SaveOptions {
  /** The ending of what has no name. */
  readonly to?: string | undefined;
  /** Of the shot's characters: where it can go back into one of them, it does. */
  readonly files?: SourceFiles | undefined;
  /** Whether they are held by what holds them by choice. */
  readonly withFiles?: boolean | undefined;
}

const shortWrite = (written: number, of: number): Error =>
  Object.assign(new Error(`only ${written} of ${of} bytes could be written`), { code: 'EIO' });

/**
 * Writes a shot as its ending says.
 * @returns what that kind of file could not hold
 */
export async function saveFile(
  shot: Shot,
  path: string,
  { to, files, withFiles = false }: SaveOptions = {},
): Promise<readonly Finding[]> {
  if (path === STREAM && to === undefined) refuse('streamWhichKind', {});
  const format = formatOf(path === STREAM ? to! : path);
  if (format === null) return refuse('fileNotWritable', { file: path }, basename(path));
  const along = format.holdsByChoice && !withFiles ? NO_FILES : files;
  const lost = format.lost(shot, along);
  await saveText(path, await format.write(shot, along));
  return lost;
}
