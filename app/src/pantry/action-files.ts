/** Actions as files: one as JSON, many as a zip of such files in their folders. */
import { strFromU8, strToU8, unzip, zip } from 'fflate';
import { InputError, readAction, readJson } from '@kneader/core';
import type { ActionJson } from '@kneader/core';

export const ACTION_ENDING = '.kneader-action.json';

/** The bytes that all members of a zip may have together, and how many there may be: more was packed to fill the memory. */
const MOST_BYTES = 512e6;
const MOST_MEMBERS = 5000;

export interface OpenedAction {
  readonly action: ActionJson;
  readonly folder: string;
}
/** What could not be opened, and why. */
export interface Unopened {
  readonly file: string;
  readonly sentence: string;
}
export interface OpenedFiles {
  readonly actions: readonly OpenedAction[];
  readonly unopened: readonly Unopened[];
}

/** A name that every system takes for a file. */
const fileName = (name: string) => name.replace(/[\\/:*?"<>|\u0000-\u001f]/g, '_').slice(0, 80) || 'action';

export const actionFileName = ({ name }: ActionJson) => `${fileName(name)}${ACTION_ENDING}`;

/** Each action under its folder; names that clash get a number. */
export function zipOf(actions: readonly OpenedAction[]): Promise<Uint8Array> {
  const members: Record<string, Uint8Array> = {};
  for (const { action, folder } of actions) {
    const way = folder
      .split('/')
      .map((word) => word.trim())
      .filter(Boolean)
      .map(fileName);
    for (let number = 1; ; number += 1) {
      const name = number === 1 ? action.name : `${action.name} ${number}`;
      const path = [...way, `${fileName(name)}${ACTION_ENDING}`].join('/');
      if (path in members) continue;
      members[path] = strToU8(JSON.stringify(action));
      break;
    }
  }
  return new Promise((resolve, reject) =>
    zip(members, { level: 6 }, (error, data) => (error ? reject(error) : resolve(data))),
  );
}

/** Opens a file of one action, or a zip of many. What cannot be opened is said, and the rest is there. */
export async function openActionFile(name: string, bytes: Uint8Array): Promise<OpenedFiles> {
  if (!/\.zip$/i.test(name)) return openedAll([[name, bytes]]);
  const members = await unzipped(bytes).catch((error: unknown) =>
    error instanceof Error ? error.message : '',
  );
  if (typeof members === 'string')
    return {
      actions: [],
      unopened: [{ file: name, sentence: `It is no zip that can be read: ${members}.` }],
    };
  const files = Object.entries(members).filter(([path]) => !path.endsWith('/'));
  if (files.length === 0)
    return { actions: [], unopened: [{ file: name, sentence: 'There is no file in it.' }] };
  return openedAll(files);
}

function unzipped(bytes: Uint8Array): Promise<Record<string, Uint8Array>> {
  let [size, count] = [0, 0];
  return new Promise((resolve, reject) =>
    unzip(
      bytes,
      {
        filter: ({ originalSize }) => {
          size += originalSize;
          count += 1;
          return size <= MOST_BYTES && count <= MOST_MEMBERS;
        },
      },
      (error, data) => {
        if (error) reject(error);
        else if (size > MOST_BYTES || count > MOST_MEMBERS)
          reject(new Error('it holds more than can be read at once'));
        else resolve(data);
      },
    ),
  );
}

function openedAll(files: readonly (readonly [string, Uint8Array])[]): OpenedFiles {
  const actions: OpenedAction[] = [];
  const unopened: Unopened[] = [];
  for (const [path, bytes] of files) {
    try {
      const { json } = readAction(readJson(strFromU8(bytes)));
      actions.push({ action: json, folder: path.split('/').slice(0, -1).join('/') });
    } catch (error) {
      if (!(error instanceof InputError)) throw error;
      unopened.push({ file: path, sentence: error.finding.sentence });
    }
  }
  return { actions, unopened };
}
