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
import { lostMarks, lostToShear } from './lost.ts';
import { readShotFile } from './shot-file/read-shot.ts';
import { writeShotFile } from './shot-file/write-shot.ts';
import { textOf } from './text-of.ts';

export interface Format {
  /** Lower case, with its dot. */
  readonly ending: string;
  readonly label: string;
  readonly mime: string;
  /** Whether a file that begins so is of this kind, where nothing names it. */
  readonly looksLike: (start: string) => boolean;
  readonly read: (bytes: Uint8Array, title: string, options: GltfOptions) => ReadResult | Promise<ReadResult>;
  readonly write: (shot: Shot) => string | Uint8Array | Promise<string | Uint8Array>;
  /** What of a shot it cannot hold, measured. */
  readonly lost: (shot: Shot) => readonly Finding[];
  readonly inMenu: boolean;
}

export const FORMATS: readonly Format[] = [
  {
    ending: '.kneader.json',
    label: 'Shot file (.kneader.json)',
    mime: 'application/json',
    looksLike: (start) => /^\s*\{/.test(start) && /"format"\s*:\s*"kneader-shot"/.test(start),
    read: (bytes) => ({ shot: readShotFile(textOf(bytes)), findings: [] }),
    write: writeShotFile,
    lost: () => [],
    inMenu: true,
  },
  {
    ending: '.bvh',
    label: 'BVH, every frame (.bvh)',
    mime: 'text/plain',
    looksLike: (start) => /^\s*HIERARCHY\b/i.test(start),
    read: (bytes, title) => readBvh(textOf(bytes), title),
    write: writeBvh,
    lost: (shot) => [...lostInBvh(shot), ...lostMarks(shot)],
    inMenu: true,
  },
  {
    ending: '.glb',
    label: 'glTF, skeleton and animation (.glb)',
    mime: 'model/gltf-binary',
    looksLike: (start) => start.startsWith('glTF'),
    read: readGltf,
    write: (shot) => writeGlb(shot),
    lost: (shot) => [...lostToShear(shot), ...lostMarks(shot)],
    inMenu: true,
  },
  {
    ending: '.gltf',
    label: 'glTF as text (.gltf)',
    mime: 'model/gltf+json',
    looksLike: (start) => /^\s*\{/.test(start),
    read: readGltf,
    write: (shot) => writeGltfText(shot),
    lost: (shot) => [...lostToShear(shot), ...lostMarks(shot)],
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
    lost: (shot) => [...lostInCsv(shot), ...lostMarks(shot)],
    inMenu: false,
  },
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
