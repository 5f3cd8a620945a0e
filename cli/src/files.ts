/** Reading and writing files by their ending, with the core's readers and writers. */
import { readFile as readBytes, writeFile } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import {
  framesOf,
  readableEnding,
  readFile,
  refuse,
  rigOf,
  writeCsv,
  writeGlb,
  writeGltfText,
  writeShotFile,
} from '@kneader/core';
import type { ReadResult, Shot } from '@kneader/core';

async function bytesOf(path: string): Promise<Uint8Array> {
  try {
    return await readBytes(path);
  } catch {
    return refuse('fileMissing', { file: path }, path);
  }
}

/** Opens a file; what a `.gltf` needs is looked for beside it. Rejects with an `InputError`. */
export async function openFile(path: string): Promise<ReadResult> {
  if (readableEnding(path) === null) refuse('fileUnknownKind', { file: path }, basename(path));
  const neighbour = (uri: string) => readBytes(join(dirname(path), uri)).catch(() => null);
  return readFile(basename(path), await bytesOf(path), { neighbour });
}

/** Writes a shot as its ending says. */
export async function saveFile(shot: Shot, path: string): Promise<void> {
  const name = path.toLowerCase();
  if (name.endsWith('.kneader.json')) await writeFile(path, writeShotFile(shot));
  else if (name.endsWith('.glb')) await writeFile(path, await writeGlb(shot));
  else if (name.endsWith('.gltf')) await writeFile(path, await writeGltfText(shot));
  else if (name.endsWith('.csv')) {
    const channels = rigOf(shot).channels.map(({ id }) => id);
    await writeFile(path, writeCsv(shot, { frames: framesOf(shot.range), channels, world: [] }));
  } else refuse('fileNotWritable', { file: path }, basename(path));
}
