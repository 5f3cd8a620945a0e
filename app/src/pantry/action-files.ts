/** Actions as files: one as JSON, many as a zip of such files in their folders. Runs in the worker. */
import { contentOf, InputError, readAction, readJson } from '@kneader/core';
import { bytesOfMember, TooMuch, zipMembers } from '@kneader/core/zip';
import type { Action, ActionJson } from '@kneader/core';
import { TextReader, Uint8ArrayWriter, ZipWriter } from '@zip.js/zip.js/lib/zip-core-native.js';
import { ACTION_ENDING, fileName } from './action-file-name.ts';

/** The bytes that all members of a zip may come to, and how many there may be: more was packed to fill the memory. */
const MOST = { bytes: 256e6, members: 5000 } as const;
type Most = { readonly bytes: number; readonly members: number };

export interface OpenedAction {
  readonly action: ActionJson;
  readonly folder: string;
}
export interface ReadFromFile extends OpenedAction {
  readonly print: string;
}
/** What could not be opened, and why. */
export interface Unopened {
  readonly file: string;
  readonly sentence: string;
}
export interface OpenedFiles {
  readonly actions: readonly ReadFromFile[];
  readonly unopened: readonly Unopened[];
}

/** The folders of a way, those left out that lead elsewhere. */
const foldersIn = (way: string): string[] =>
  way
    .split(/[\\/]/)
    .map((word) => word.trim())
    .filter((word) => word !== '' && word !== '.' && word !== '..' && !/^[a-z]:$/i.test(word));

/** Each action under its folder; names that clash get a number. */
export async function zipOf(actions: readonly OpenedAction[]): Promise<Uint8Array> {
  const zip = new ZipWriter(new Uint8ArrayWriter(), { useWebWorkers: false, level: 6 });
  const taken = new Set<string>();
  for (const { action, folder } of actions) {
    const way = foldersIn(folder).map(fileName);
    for (let number = 1; ; number += 1) {
      const name = number === 1 ? action.name : `${action.name} ${number}`;
      const path = [...way, `${fileName(name)}${ACTION_ENDING}`].join('/');
      // Some systems know no difference of case.
      if (taken.has(path.toLowerCase())) continue;
      taken.add(path.toLowerCase());
      await zip.add(path, new TextReader(JSON.stringify(action)));
      break;
    }
  }
  return zip.close();
}

/** A digest of what an action does, whatever it is called. */
async function printOf(action: Action): Promise<string> {
  const bytes = new TextEncoder().encode(contentOf(action));
  const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes));
  return Array.from(digest, (byte) => byte.toString(16).padStart(2, '0')).join('');
}

export const printsOf = (actions: readonly ActionJson[]): Promise<string[]> =>
  Promise.all(actions.map((action) => printOf(readAction(action))));

/** Told between members the share that is read; false leaves it there. */
export type OnShare = (share: number) => boolean | Promise<boolean>;

/** Opens a file of one action, or a zip of many. What cannot be opened is said, and the rest is there. */
export async function openActionFile(
  name: string,
  bytes: Uint8Array,
  onShare: OnShare = () => true,
  most: Most = MOST,
): Promise<OpenedFiles> {
  const opened = new Opened();
  if (!/\.zip$/i.test(name)) await opened.take(name, bytes);
  else await unzip(name, bytes, opened, onShare, most);
  return opened;
}

/** What a file came to so far. */
class Opened implements OpenedFiles {
  readonly actions: ReadFromFile[] = [];
  readonly unopened: Unopened[] = [];

  say(file: string, sentence: string): void {
    this.unopened.push({ file, sentence });
  }

  async take(path: string, bytes: Uint8Array): Promise<void> {
    try {
      const action = readAction(readJson(new TextDecoder().decode(bytes)));
      const folder = foldersIn(path).slice(0, -1).join('/');
      this.actions.push({ action: action.json, folder, print: await printOf(action) });
    } catch (error) {
      if (!(error instanceof InputError)) throw error;
      this.say(path, error.finding.sentence);
    }
  }
}

async function unzip(
  name: string,
  bytes: Uint8Array,
  opened: Opened,
  onShare: OnShare,
  most: Most,
): Promise<void> {
  // Names are read here alone, as folders of the pantry, and no way out of it is gone.
  const files = await zipMembers(bytes);
  if (files === null) return opened.say(name, 'It is no zip that can be read.');
  if (files.length === 0) return opened.say(name, 'There is no file in it.');
  const seen = new Set<string>();
  let room = most.bytes;
  for (const [i, entry] of files.entries()) {
    const { filename: path } = entry;
    if (i >= most.members)
      return opened.say(name, `It holds ${files.length} files; the first ${most.members} were looked at.`);
    if (i % 16 === 0 && !(await onShare(i / files.length)))
      return opened.say(name, `It was left after ${i} of ${files.length} files.`);
    if (seen.has(path)) {
      opened.say(path, 'Another file of that name stands before it in the zip: that one was taken.');
      continue;
    }
    seen.add(path);
    try {
      const member = bytesOfMember(entry, bytes, room);
      room -= member.length;
      await opened.take(path, member);
    } catch (error) {
      // What it says of its size is not believed: what comes out counts.
      if (error instanceof TooMuch)
        return opened.say(
          path,
          `It came to more than ${most.bytes / 1e6} MB with those before it; nothing after it was read.`,
        );
      opened.say(path, 'It is damaged: its bytes are not those that were packed.');
    }
  }
}
