/** One file of a routine's: read, run, written, and what became of it. It is told all by plain values, so that a worker can do it too. */
import { basename } from 'node:path';
import { finish, FORMATS, InputError, NOTHING, reportsOf, runRoutine } from '@kneader/core';
import type { FrameRange, Report, Routine, RoutineRun } from '@kneader/core';
import { matching } from './commands/matching.ts';
import { openFile, saveFile, saveText } from './files.ts';

export interface RoutineTask {
  readonly steps: Routine;
  readonly input: string;
  readonly output: string;
  readonly channels: readonly string[];
  readonly range: FrameRange | null;
}

/** What became of one file. */
export interface Line {
  readonly file: string;
  readonly status: 'changed' | 'unchanged' | 'failed';
  /** Where the result and the actions that were saved stand. */
  readonly written: readonly string[];
  /** Why it failed, or what reading and writing noticed. */
  readonly sentences: readonly string[];
  readonly steps: readonly StepLine[];
}

/** What a step did, without the names of all that it touched: a report of hundreds of files is read by somebody. */
interface StepLine extends Pick<Report, 'status' | 'measures'> {
  readonly edit: string;
  readonly title: string;
  readonly sentences: readonly string[];
  readonly touched: number;
}

const stepLines = (run: RoutineRun): StepLine[] =>
  reportsOf(run).map(({ edit, title, report: { status, measures, findings, touched } }) => ({
    ...{ edit, title, status, measures, touched: touched.length },
    sentences: findings.map(({ sentence }) => sentence),
  }));

/** Runs the routine over one file; what is wrong with the file, or with the disk, is a line of its own. */
export async function runOnFile({ steps, input, output, channels, range }: RoutineTask): Promise<Line> {
  try {
    const { shot, findings, files, withFiles } = await openFile(input);
    const meant = channels.length > 0 ? matching(shot, channels) : [];
    const run = finish(runRoutine(steps, shot, { ...NOTHING, channels: meant, range }));
    const reports = stepLines(run);
    if (run.status === 'refused') return { ...failedLine(input, run.refusal!.sentence), steps: reports };
    const lost = await saveFile(run.shot, output, { files, withFiles });
    const actions = await savedActions(run.made, output);
    return {
      file: input,
      status: run.status,
      written: [output, ...actions],
      sentences: [...findings, ...lost].map(({ sentence }) => sentence),
      steps: reports,
    };
  } catch (error) {
    return lineOfError(input, error);
  }
}

/** One file that cannot be read, a disk that is full or a worker that ran out of memory is no reason to leave the others; anything else is thrown on. */
export function lineOfError(input: string, error: unknown): Line {
  if (error instanceof InputError) return failedLine(input, error.finding.sentence);
  if ((error as { code?: string }).code === undefined) throw error;
  return failedLine(input, (error as Error).message);
}

const failedLine = (file: string, sentence: string): Line => ({
  file,
  status: 'failed',
  written: [],
  sentences: [sentence],
  steps: [],
});

/** Writes the actions that a run saved beside its result. */
async function savedActions(made: readonly unknown[], output: string): Promise<string[]> {
  const bare = stem(output);
  const paths = made.map((_, i) => `${bare}${i === 0 ? '' : ` ${i + 1}`}.kneader-action.json`);
  for (const [i, path] of paths.entries()) await saveText(path, `${JSON.stringify(made[i])}\n`);
  return paths;
}

/** The kinds of files; of two that fit the longer stands first. */
const ENDINGS = FORMATS.map(({ ending }) => ending);

/** A path without its ending. */
export function stem(path: string): string {
  const ending = ENDINGS.find((one) => basename(path).toLowerCase().endsWith(one));
  return ending ? path.slice(0, -ending.length) : path;
}
