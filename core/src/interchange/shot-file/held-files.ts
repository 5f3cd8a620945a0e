/** A shot file that holds the files of its characters: under `files` by their digests, the bytes of each in base64. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { shotToJson } from '../../document/parts/shot-json.ts';
import { sourcesOf } from '../../document/sources.ts';
import type { Shot } from '../../document/shot.ts';
import { base64, bytesOfBase64 } from '../base64.ts';
import type { ReadResult } from '../bvh/read-bvh.ts';
import { readJson } from '../read-json.ts';
import { digestOf } from '../source/source-files.ts';
import type { SourceFile, SourceFiles } from '../source/source-files.ts';
import { shotFromJson } from './read-shot.ts';

const heldSchema = z.record(
  z.string(),
  z.array(z.object({ name: z.string().min(1).max(1000), base64: z.string() })).min(1),
);

/** As `writeShotFile`, with those files of its characters that are given. */
export function writeHoldingFiles(shot: Shot, files: SourceFiles): string {
  const held = [...new Set(sourcesOf(shot).map(({ id }) => id))].flatMap((id) => {
    const own = files.get(id);
    return own ? [[id, own.map(({ name, bytes }) => ({ name, base64: base64(bytes) }))] as const] : [];
  });
  const json = { ...shotToJson(shot), ...(held.length > 0 && { files: Object.fromEntries(held) }) };
  return `${JSON.stringify(json)}\n`;
}

/** A shot and the files that it holds; one that is not what the shot names is left out, and that is said. */
export async function readHoldingFiles(text: string): Promise<ReadResult> {
  const json = readJson(text);
  if (typeof json !== 'object' || json === null || !('files' in json))
    return { shot: shotFromJson(json), findings: [] };
  const { files: given, ...document } = json;
  const shot = shotFromJson(document);
  const findings: Finding[] = [];
  const files = new Map<string, readonly SourceFile[]>();
  const { data: held = {} } = heldSchema.safeParse(given);
  for (const { id, name } of sourcesOf(shot)) {
    if (files.has(id)) continue;
    const own = Object.hasOwn(held, id) ? unpacked(held[id]!) : null;
    if (own && (await digestOf(own)) === id) files.set(id, own);
    else findings.push(finding('heldFileOther', {}, name));
  }
  return { shot, findings, files };
}

/** Null where it is no base64. */
function unpacked(held: z.output<typeof heldSchema>[string]): SourceFile[] | null {
  try {
    return held.map((one) => ({ name: one.name, bytes: bytesOfBase64(one.base64) }));
  } catch {
    return null;
  }
}
