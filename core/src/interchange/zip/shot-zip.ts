/**
 * A shot together with the files of its characters: a zip of `shot.kneader.json` and, under `sources` and their digests, those files. A zip without a shot is opened as the character that is
 * in it, with what lies beside it.
 */
import {
  TextReader,
  Uint8ArrayReader,
  Uint8ArrayWriter,
  ZipWriter,
} from '@zip.js/zip.js/lib/zip-core-native.js';
import { finding, refuse } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { sourcesOf } from '../../document/sources.ts';
import type { Shot } from '../../document/shot.ts';
import type { ReadResult } from '../bvh/read-bvh.ts';
import { readGltf } from '../gltf/read-gltf.ts';
import type { GltfOptions } from '../gltf/read-gltf.ts';
import { readShotFile } from '../shot-file/read-shot.ts';
import { writeShotFile } from '../shot-file/write-shot.ts';
import { digestOf } from '../source/source-files.ts';
import type { SourceFile, SourceFiles } from '../source/source-files.ts';
import { textOf } from '../text-of.ts';
import { bytesOfMember, TooMuch, zipMembers } from './zip-members.ts';

const SHOT = 'shot.kneader.json';
const SOURCES = 'sources/';
/** The bytes that all members may come to, and how many there may be. */
const MOST = { bytes: 1e9, members: 5000 } as const;

export async function writeShotZip(shot: Shot, files: SourceFiles): Promise<Uint8Array> {
  const zip = new ZipWriter(new Uint8ArrayWriter(), { useWebWorkers: false, level: 6 });
  await zip.add(SHOT, new TextReader(writeShotFile(shot)));
  for (const id of new Set(sourcesOf(shot).map((one) => one.id)))
    for (const [i, { name, bytes }] of (files.get(id) ?? []).entries())
      // The first says which it is by its place; pictures and the like are packed already.
      await zip.add(`${SOURCES}${id}/${i === 0 ? 'main/' : 'beside/'}${name}`, new Uint8ArrayReader(bytes), {
        level: 1,
      });
  return zip.close();
}

/** Rejects with an `InputError`. */
export async function readShotZip(
  bytes: Uint8Array,
  title: string,
  options: GltfOptions = {},
): Promise<ReadResult> {
  const members = await membersOf(bytes);
  const shot = members.get(SHOT);
  return shot ? withSources(readShotFile(textOf(shot)), members) : readCharacter(members, title, options);
}

async function membersOf(bytes: Uint8Array): Promise<ReadonlyMap<string, Uint8Array>> {
  const entries = await zipMembers(bytes);
  if (entries === null) return refuse('zipBroken', {});
  if (entries.length > MOST.members) refuse('zipTooMany', {}, entries.length, MOST.members);
  const members = new Map<string, Uint8Array>();
  let room: number = MOST.bytes;
  for (const entry of entries) {
    try {
      const member = bytesOfMember(entry, bytes, room);
      room -= member.byteLength;
      // Of two of one name the first counts.
      if (!members.has(entry.filename)) members.set(entry.filename, member);
    } catch (error) {
      if (error instanceof TooMuch) return refuse('zipTooMuch', { file: entry.filename }, MOST.bytes / 1e6);
      return refuse('zipMember', { file: entry.filename }, entry.filename);
    }
  }
  return members;
}

async function withSources(shot: Shot, members: ReadonlyMap<string, Uint8Array>): Promise<ReadResult> {
  const findings: Finding[] = [];
  const files = new Map<string, readonly SourceFile[]>();
  for (const { id, name } of sourcesOf(shot)) {
    if (files.has(id)) continue;
    const of = (part: string) =>
      [...members].flatMap(([path, bytes]): SourceFile[] => {
        const way = `${SOURCES}${id}/${part}/`;
        return path.startsWith(way) ? [{ name: path.slice(way.length), bytes }] : [];
      });
    const found = [...of('main'), ...of('beside')];
    const isSame = found.length > 0 && (await digestOf(found)) === id;
    if (isSame) files.set(id, found);
    else findings.push(finding(found.length > 0 ? 'sourceOther' : 'sourceMissing', {}, name));
  }
  return { shot, findings, files };
}

/** Files that a zip may have in it beside what is meant. */
const isOfSystem = (path: string) => /(^|\/)(__MACOSX\/|\.)/.test(path);

function readCharacter(
  members: ReadonlyMap<string, Uint8Array>,
  title: string,
  options: GltfOptions,
): Promise<ReadResult> {
  const paths = [...members.keys()].filter((path) => !isOfSystem(path));
  const main = paths.filter((path) => /\.(glb|gltf|vrm)$/i.test(path));
  if (main.length !== 1) return refuse(main.length === 0 ? 'zipNothing' : 'zipSeveral', {}, main.slice(0, 8));
  const path = main[0]!;
  const folder = path.slice(0, path.lastIndexOf('/') + 1);
  const neighbour = (uri: string) => Promise.resolve(members.get(folder + uri) ?? null);
  return readGltf(members.get(path)!, title, { ...options, neighbour, file: path.slice(folder.length) });
}
