/**
 * The kinds of files: ending, what people read, how each is read and written, what it cannot hold, and whether the export menu offers it. The menu,
 * the command line and what may be dropped ask this list; a new kind is a folder beside this file and a line here.
 */
import type { Finding } from '../base/finding.ts';
import { framesOf } from '../base/frame-range.ts';
import { rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { lostInBvh } from './bvh/lost-in-bvh.ts';
import { readBvh } from './bvh/read-bvh.ts';
import type { ReadResult } from './bvh/read-bvh.ts';
import { writeBvh } from './bvh/write-bvh.ts';
import { lostInCsv } from './csv/lost-in-csv.ts';
import { readCsv } from './csv/read-csv.ts';
import { writeCsv } from './csv/write-csv.ts';
import { readGltf } from './gltf/read-gltf.ts';
import type { GltfOptions } from './gltf/read-gltf.ts';
import { writeGlb, writeGltfText } from './gltf/write-gltf.ts';
import { refuse } from '../base/finding.ts';
import { sourcesOf } from '../document/sources.ts';
import type { Source } from '../document/sources.ts';
import { writeIntoSource } from './gltf/write-into-source.ts';
import type { WrittenSource } from './gltf/write-into-source.ts';
import { NO_FILES } from './source/source-files.ts';
import type { SourceFiles } from './source/source-files.ts';
import { lostMarks, lostSources, lostToShear, namedOnly } from './lost.ts';
import { readHoldingFiles, writeHoldingFiles } from './shot-file/held-files.ts';
import { textOf } from './text-of.ts';

export interface Format {
  /** Lower case, with its dot. */
  readonly ending: string;
  readonly label: string;
  readonly mime: string;
  /** Whether a file that begins so is of this kind, where nothing names it. */
  readonly looksLike: (start: string) => boolean;
  readonly read: (bytes: Uint8Array, title: string, options: GltfOptions) => ReadResult | Promise<ReadResult>;
  /** @param files of its characters: where the shot has one of this kind, it goes back into that */
  readonly write: (shot: Shot, files?: SourceFiles) => string | Uint8Array | Promise<string | Uint8Array>;
  /** What of a shot it cannot hold, measured. */
  readonly lost: (shot: Shot, files?: SourceFiles) => readonly Finding[];
  readonly inMenu: boolean;
  /** Whether it holds the files of characters only where somebody wants that. */
  readonly holdsByChoice?: boolean;
}

/** The one character of a shot whose files are there; null where there is none, or more than one could be meant. */
function onlySource(shot: Shot, files: SourceFiles): Source | null {
  const there = sourcesOf(shot).filter(({ id }) => files.has(id));
  return there.length === 1 ? there[0]! : null;
}

function intoSource(shot: Shot, files: SourceFiles, ending: string): WrittenSource | null {
  const source = onlySource(shot, files);
  if (!source) return null;
  const { animation } = source;
  const name = animation?.name || shot.name;
  const into = { shot, source, name, ...(animation && { index: animation.index }) };
  return writeIntoSource(files.get(source.id)!, [into], ending);
}

const lostInGltf = (shot: Shot, files = NO_FILES): Finding[] => [
  ...lostToShear(shot),
  ...lostMarks(shot),
  ...(intoSource(shot, files, '.glb')?.findings ?? lostSources(shot)),
];

/** A zip of a shot and its characters' files, and any zip that a character is in. */
const zip = (ending: string, inMenu: boolean): Format => ({
  ...{ ending, label: `Shot with its characters’ files (${ending})`, mime: 'application/zip', inMenu },
  looksLike: (start) => start.startsWith('PK\u0003\u0004'),
  // Few files are zips: what unpacks them is loaded then.
  read: async (bytes, title, options) =>
    (await import('./zip/shot-zip.ts')).readShotZip(bytes, title, options),
  write: async (shot, files = NO_FILES) => (await import('./zip/shot-zip.ts')).writeShotZip(shot, files),
  lost: (shot, files = NO_FILES) => lostSources(shot, files),
});

export const FORMATS: readonly Format[] = [
  zip('.kneader.zip', true),
  {
    ending: '.kneader.json',
    label: 'Shot file (.kneader.json)',
    mime: 'application/json',
    looksLike: (start) => /^\s*\{/.test(start) && /"format"\s*:\s*"kneader-shot"/.test(start),
    read: (bytes) => readHoldingFiles(textOf(bytes)),
    write: (shot, files = NO_FILES) => writeHoldingFiles(shot, files),
    lost: (shot, files = NO_FILES) => namedOnly(shot, files),
    holdsByChoice: true,
    inMenu: true,
  },
  {
    ending: '.bvh',
    label: 'BVH, every frame (.bvh)',
    mime: 'text/plain',
    looksLike: (start) => /^\s*HIERARCHY\b/i.test(start),
    read: (bytes, title) => readBvh(textOf(bytes), title),
    write: writeBvh,
    lost: (shot) => [...lostInBvh(shot), ...lostMarks(shot), ...lostSources(shot)],
    inMenu: true,
  },
  {
    ending: '.glb',
    label: 'glTF, skeleton and animation (.glb)',
    mime: 'model/gltf-binary',
    looksLike: (start) => start.startsWith('glTF'),
    read: readGltf,
    write: (shot, files = NO_FILES) => intoSource(shot, files, '.glb')?.bytes ?? writeGlb(shot),
    lost: lostInGltf,
    inMenu: true,
  },
  {
    ending: '.vrm',
    label: 'glTF with a humanoid (.vrm)',
    mime: 'model/gltf-binary',
    looksLike: () => false,
    read: readGltf,
    write: (shot, files = NO_FILES) =>
      intoSource(shot, files, '.glb')?.bytes ?? refuse('vrmWithoutSource', {}),
    lost: lostInGltf,
    inMenu: false,
  },
  {
    ending: '.gltf',
    label: 'glTF as text (.gltf)',
    mime: 'model/gltf+json',
    looksLike: (start) => /^\s*\{/.test(start),
    read: readGltf,
    write: (shot, files = NO_FILES) => intoSource(shot, files, '.gltf')?.bytes ?? writeGltfText(shot),
    lost: lostInGltf,
    inMenu: false,
  },
  {
    ending: '.csv',
    label: 'Values of all channels (.csv)',
    mime: 'text/csv',
    looksLike: (start) => /^[^\n{]*,/.test(start),
    read: (bytes, title) => readCsv(textOf(bytes), title),
    write: (shot) =>
      writeCsv(shot, {
        frames: framesOf(shot.range),
        channels: rigOf(shot).channels.map(({ id }) => id),
        world: [],
      }),
    lost: (shot) => [...lostInCsv(shot), ...lostMarks(shot), ...lostSources(shot)],
    inMenu: false,
  },
  zip('.zip', false),
];

/** The kind of a file by its name; null where it is none of them. */
export function formatOf(name: string): Format | null {
  const lower = name.toLowerCase();
  return FORMATS.find(({ ending }) => lower.endsWith(ending)) ?? null;
}

/** Bytes that are looked at to tell what they are. */
const LOOKED_AT = 4096;

/** The kind of what has no name; null where it looks like none of them. */
export function formatLike(bytes: Uint8Array): Format | null {
  const start = new TextDecoder('utf-8', { fatal: false }).decode(bytes.subarray(0, LOOKED_AT));
  return FORMATS.find(({ looksLike }) => looksLike(start)) ?? null;
}
