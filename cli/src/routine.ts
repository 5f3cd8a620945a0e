/** `kneader routine`: a saved routine over many files, on one thread or several, of all files or a shard of them, with one report. */
import { createHash } from 'node:crypto';
import { mkdir } from 'node:fs/promises';
import { basename, dirname, join, relative, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Piscina } from 'piscina';
import { asksOf, InputError, readJson, readRoutine, refuse } from '@kneader/core';
import type { FrameRange } from '@kneader/core';
import type { Output } from './commands/output.ts';
import { bytesOf, clearHalfWritten, keepApart, saveText } from './files.ts';
import { lineOfError, runOnFile, stem } from './routine-file.ts';
import type { Line, RoutineTask } from './routine-file.ts';
import { openJournal } from './routine-journal.ts';
import { reportText, summaryOf } from './routine-report.ts';
import type { Shard } from './routine-report.ts';

export interface RoutineOptions {
  readonly output: string;
  readonly to?: string;
  readonly channels: readonly string[];
  readonly range?: FrameRange;
  readonly report?: string;
  /** A file that names more inputs, one on each line. */
  readonly list?: string;
  /** Files at a time. */
  readonly jobs: number;
  readonly shard?: Shard;
  /** Whether files that are done already are left. */
  readonly continue?: boolean;
}

/** The report is brought up to date about so often, ms: a run that is broken off has one of what it did. */
const REPORT_EVERY = 2000;

/** @returns whether every file went through */
export async function routine(
  path: string,
  named: readonly string[],
  given: RoutineOptions,
  { print, warn }: Output,
): Promise<boolean> {
  const steps = readRoutine(readJson(new TextDecoder().decode(await bytesOf(path))));
  const asks = asksOf(steps);
  // Before the first file, and not with each.
  const unknown = asks.find(({ code }) => code === 'routineUnknown');
  if (unknown) throw new InputError(unknown);
  for (const { sentence } of asks) print(sentence);
  const inputs = [...named, ...(given.list ? await listedIn(given.list) : [])];
  if (inputs.length === 0) refuse('noFilesNamed', {});
  const outputs = outputsOf(inputs, given);
  // Before anything is written: no result over an input, nor over another result.
  for (const folder of new Set([given.output, ...outputs.map((path) => dirname(path))]))
    await mkdir(folder, { recursive: true });
  await keepApart([path, ...inputs], [...outputs, ...(given.report ? [given.report] : [])]);
  const { channels, range = null, shard } = given;
  const tasks = inputs
    .map((input, i): RoutineTask => ({ steps, input, output: outputs[i]!, channels, range }))
    .filter(isOf(shard, inputs));
  const journal = await openJournal(
    given.output,
    shard ? `${shard.part}-of-${shard.of}` : 'all',
    given.continue === true,
  );
  const lines: Line[] = [];
  const report = async () => {
    if (given.report)
      await saveText(
        given.report,
        reportText({ routine: steps.name, inputs: inputs.length, shard, files: lines }),
      );
  };
  let reported = performance.now();
  const say = async (line: Line, more = '') => {
    lines.push(line);
    const words = line.status === 'failed' ? line.sentences[0]! : line.status;
    const text = `${lines.length}/${tasks.length} ${basename(line.file)}: ${words}${more}`;
    (line.status === 'failed' ? warn : print)(text);
    if (performance.now() - reported <= REPORT_EVERY) return;
    reported = performance.now();
    await report();
  };
  if (given.continue) await clearHalfWritten(tasks.map(({ output }) => output));
  const left: RoutineTask[] = [];
  for (const task of tasks) {
    const line = await journal.done(task);
    if (line) await say(line, ', done before');
    else left.push(task);
  }
  await eachOf(left, given.jobs, async (task, line) => {
    await journal.note(task, line);
    await say(line);
  });
  await report();
  print(summaryOf(lines));
  return lines.every(({ status }) => status !== 'failed');
}

/** Runs tasks, so many at a time; one at a time needs no thread of its own. */
async function eachOf(
  tasks: readonly RoutineTask[],
  jobs: number,
  onLine: (task: RoutineTask, line: Line) => Promise<void>,
): Promise<void> {
  if (Math.min(jobs, tasks.length) <= 1) {
    for (const task of tasks) await onLine(task, await runOnFile(task));
    return;
  }
  const threads = Math.min(jobs, tasks.length);
  const pool = new Piscina<RoutineTask, Line>({
    filename: fileURLToPath(new URL('./routine-worker.js', import.meta.url)),
    minThreads: threads,
    maxThreads: threads,
  });
  // One after the other, so that no two write the report at once.
  let said: Promise<void> = Promise.resolve();
  try {
    await Promise.all(
      tasks.map(async (task) => {
        const line = await pool.run(task).catch((error: unknown) => lineOfError(task.input, error));
        said = said.then(() => onLine(task, line));
        await said;
      }),
    );
  } finally {
    await pool.destroy();
  }
}

async function listedIn(path: string): Promise<string[]> {
  const text = new TextDecoder().decode(await bytesOf(path));
  return text
    .split('\n')
    .map((row) => row.trim())
    .filter((row) => row !== '');
}

/** Whether a task is of a shard: by a hash of its file's name below the folder that all share, which is the same on every machine. */
function isOf(shard: Shard | undefined, inputs: readonly string[]): (task: RoutineTask) => boolean {
  if (!shard) return () => true;
  const above = folderAbove(inputs);
  return ({ input }) => {
    const hash = createHash('sha256')
      .update(relative(above, resolve(input)))
      .digest();
    return hash.readUInt32BE(0) % shard.of === shard.part - 1;
  };
}

/** The folder in which all of these lie, at whatever depth. */
function folderAbove(paths: readonly string[]): string {
  const folders = paths.map((path) => dirname(resolve(path)));
  return folders.reduce((path, folder) => {
    let common = path;
    while (relative(common, folder).startsWith('..')) common = dirname(common);
    return common;
  }, folders[0] ?? '');
}

/** Where each result goes; files of one name that come from several folders go to folders of those names. */
function outputsOf(inputs: readonly string[], { output, to }: RoutineOptions): string[] {
  const names = inputs.map((input) => outputName(input, to));
  const times = new Map<string, number>();
  for (const name of names) times.set(name, (times.get(name) ?? 0) + 1);
  const above = folderAbove(inputs.filter((_, i) => times.get(names[i]!)! > 1));
  return inputs.map((input, i) =>
    times.get(names[i]!)! > 1
      ? join(output, relative(above, dirname(resolve(input))), names[i]!)
      : join(output, names[i]!),
  );
}

function outputName(input: string, to: string | undefined): string {
  const name = basename(input);
  if (to === undefined) return name;
  return `${stem(name)}${to.startsWith('.') ? to : `.${to}`}`;
}
