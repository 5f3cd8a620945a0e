/** Any file that can be opened, by its ending. */
import { refuse } from '../base/finding.ts';
import { readBvh } from './bvh/read-bvh.ts';
import { readCsv } from './csv/read-csv.ts';
import { opened } from './opened.ts';
import { textOf } from './text-of.ts';
import type { ReadResult } from './bvh/read-bvh.ts';
import { readGltf } from './gltf/read-gltf.ts';
import type { GltfOptions } from './gltf/read-gltf.ts';
import { readShotFile } from './shot-file/read-shot.ts';

export const READABLE = ['.kneader.json', '.bvh', '.glb', '.gltf', '.csv'] as const;
/** Larger files are refused. */
export const MOST_MEGABYTES = 200;

/** The file's ending if it is one that can be read, else null. */
export function readableEnding(name: string): (typeof READABLE)[number] | null {
  return READABLE.find((ending) => name.toLowerCase().endsWith(ending)) ?? null;
}

/** Reads a file to a shot; rejects with an `InputError` that says what is wrong and where. */
export async function readFile(
  name: string,
  bytes: Uint8Array,
  options: GltfOptions = {},
): Promise<ReadResult> {
  const ending = readableEnding(name);
  if (ending === null) return refuse('fileUnknownKind', { file: name }, name);
  if (bytes.byteLength === 0) return refuse('fileEmpty', { file: name });
  const megabytes = Math.round(bytes.byteLength / 1e6);
  if (megabytes > MOST_MEGABYTES) return refuse('fileTooLarge', { file: name }, megabytes, MOST_MEGABYTES);
  const title = name.slice(0, -ending.length).slice(0, 200) || 'Untitled';
  const read = async (): Promise<ReadResult> => {
    if (ending === '.glb' || ending === '.gltf') return readGltf(bytes, title, options);
    if (ending === '.bvh') return readBvh(textOf(bytes), title);
    if (ending === '.csv') return readCsv(textOf(bytes), title);
    return { shot: readShotFile(textOf(bytes)), findings: [] };
  };
  const { shot, findings } = await read();
  return { shot: opened(shot), findings };
}
