/**
 * What a routine has done already: a line for each file, written as soon as that is done, so that a run that was broken off can go on. A file counts as done while it,
 * the routine, what it is run on and the program are what they were, and what was written is there.
 */
import { createHash } from 'node:crypto';
import { access, appendFile, mkdir, readdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Line, RoutineTask } from './routine-file.ts';

/** Beside the results. */
const FOLDER = '.kneader-done';

interface Entry {
  readonly key: string;
  readonly line: Line;
}

export interface Journal {
  /** The line of a file that is done, or null. */
  readonly done: (task: RoutineTask) => Promise<Line | null>;
  readonly note: (task: RoutineTask, line: Line) => Promise<void>;
}

/**
 * @param output the folder of the results @param name who writes: a shard, or all
 * @param goesOn whether what was done counts; else the journal begins anew
 */
export async function openJournal(output: string, name: string, goesOn: boolean): Promise<Journal> {
  const folder = join(output, FOLDER);
  const own = join(folder, `${name}.jsonl`);
  await mkdir(folder, { recursive: true });
  if (!goesOn) await writeFile(own, '');
  const known = new Map(goesOn ? (await entriesIn(folder)).map(({ key, line }) => [key, line]) : []);
  const program = await programHash();
  return {
    async done(task) {
      if (known.size === 0) return null;
      const key = await keyOf(task, program);
      const line = key === null ? null : (known.get(key) ?? null);
      return line !== null && (await allThere(line.written)) ? line : null;
    },
    async note(task, line) {
      const key = line.status === 'failed' ? null : await keyOf(task, program);
      if (key !== null) await appendFile(own, `${JSON.stringify({ key, line } satisfies Entry)}\n`);
    },
  };
}

async function entriesIn(folder: string): Promise<Entry[]> {
  const names = (await readdir(folder)).filter((name) => name.endsWith('.jsonl')).sort();
  const texts = await Promise.all(names.map((name) => readFile(join(folder, name), 'utf8')));
  return texts.flatMap((text) => text.split('\n').flatMap((row) => entryOf(row)));
}

/** Who was killed may have left half a row. */
function entryOf(row: string): Entry[] {
  try {
    const entry = JSON.parse(row) as Entry;
    return typeof entry.key === 'string' && Array.isArray(entry.line?.written) ? [entry] : [];
  } catch {
    return [];
  }
}

/** By file, routine, what it is run on, where it goes and program; null where a file leans on others beside it, which are not looked at. */
async function keyOf(task: RoutineTask, program: string): Promise<string | null> {
  const { input, ...rest } = task;
  if (input.toLowerCase().endsWith('.gltf')) return null;
  const bytes = await readFile(input).catch(() => null);
  if (bytes === null) return null;
  const own = createHash('sha256').update(bytes).digest('hex');
  return createHash('sha256')
    .update(JSON.stringify([program, own, input, rest]))
    .digest('hex');
}

const allThere = async (paths: readonly string[]): Promise<boolean> =>
  (
    await Promise.all(
      paths.map((path) =>
        access(path).then(
          () => true,
          () => false,
        ),
      ),
    )
  ).every(Boolean);

/** What `bin/kneader` noted of the sources that it was made from; run from them, nothing is known, and nothing done counts after. */
async function programHash(): Promise<string> {
  const noted = fileURLToPath(new URL('./sources', import.meta.url));
  return readFile(noted, 'utf8').catch(() => String(process.pid));
}
