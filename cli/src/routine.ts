/** `kneader routine`: a saved routine over many files, one after the other, with one report. */
import { mkdir } from 'node:fs/promises';
import { basename, dirname, join, relative, resolve } from 'node:path';
import {
  asksOf,
  finish,
  InputError,
  NOTHING,
  readJson,
  readRoutine,
  reportsOf,
  runRoutine,
} from '@kneader/core';
import type { FrameRange, Report, Routine, RoutineRun } from '@kneader/core';
import { matching } from './commands.ts';
import type { Output } from './commands.ts';
import { bytesOf, keepApart, openFile, saveFile, saveText } from './files.ts';

export interface RoutineOptions {
  readonly output: string;
  readonly to?: string;
  readonly channels: readonly string[];
  readonly range?: FrameRange;
  readonly report?: string;
}

/** What became of one file. */
interface Line {
  readonly file: string;
  readonly status: 'changed' | 'unchanged' | 'failed';
  /** Where the result and the actions that were saved stand. */
  readonly written: readonly string[];
  /** Why it failed, or what reading and writing noticed. */
  readonly sentences: readonly string[];
  readonly seconds: number;
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

/** The report is brought up to date about so often, ms: a run that is broken off has one of what it did. */
const REPORT_EVERY = 2000;

/** The kinds of files, longest ending first. */
const ENDINGS = ['.kneader.json', '.gltf', '.glb', '.bvh', '.csv'];

/** @returns whether every file went through */
export async function routine(
  path: string,
  inputs: readonly string[],
  given: RoutineOptions,
  { print, warn }: Output,
): Promise<boolean> {
  const steps = readRoutine(readJson(new TextDecoder().decode(await bytesOf(path))));
  const asks = asksOf(steps);
  // Before the first file, and not with each.
  const unknown = asks.find(({ code }) => code === 'routineUnknown');
  if (unknown) throw new InputError(unknown);
  for (const { sentence } of asks) print(sentence);
  const outputs = outputsOf(inputs, given);
  // Before anything is written: no result over an input, nor over another result.
  for (const folder of new Set([given.output, ...outputs.map((path) => dirname(path))]))
    await mkdir(folder, { recursive: true });
  await keepApart([path, ...inputs], [...outputs, ...(given.report ? [given.report] : [])]);
  const lines: Line[] = [];
  const report = async () => {
    if (given.report)
      await saveText(given.report, `${JSON.stringify({ routine: steps.name, files: lines }, null, 2)}\n`);
  };
  let reported = performance.now();
  for (const [i, input] of inputs.entries()) {
    const line = await one(steps, input, outputs[i]!, given);
    lines.push(line);
    const words = line.status === 'failed' ? line.sentences[0]! : line.status;
    (line.status === 'failed' ? warn : print)(`${i + 1}/${inputs.length} ${basename(input)}: ${words}`);
    if (performance.now() - reported > REPORT_EVERY) {
      await report();
      reported = performance.now();
    }
  }
  await report();
  const count = (status: Line['status']) => lines.filter((line) => line.status === status).length;
  print(`${count('changed')} changed, ${count('unchanged')} unchanged, ${count('failed')} failed.`);
  return count('failed') === 0;
}

async function one(steps: Routine, input: string, output: string, given: RoutineOptions): Promise<Line> {
  const began = performance.now();
  const line = (more: Pick<Line, 'status' | 'written' | 'sentences' | 'steps'>): Line => ({
    file: input,
    ...more,
    seconds: Math.round(performance.now() - began) / 1000,
  });
  try {
    const { shot, findings } = await openFile(input);
    const channels = given.channels.length > 0 ? matching(shot, given.channels) : [];
    const run = finish(runRoutine(steps, shot, { ...NOTHING, channels, range: given.range ?? null }));
    const reports = stepLines(run);
    if (run.status === 'refused')
      return line({ status: 'failed', written: [], sentences: [run.refusal!.sentence], steps: reports });
    const lost = await saveFile(run.shot, output);
    const actions = await savedActions(run.made, output);
    return line({
      status: run.status,
      written: [output, ...actions],
      sentences: [...findings, ...lost].map(({ sentence }) => sentence),
      steps: reports,
    });
  } catch (error) {
    // One file that cannot be read, or a disk that is full, is no reason to leave the others.
    const isExpected = error instanceof InputError || (error as { code?: string }).code !== undefined;
    if (!isExpected) throw error;
    const sentence = error instanceof InputError ? error.finding.sentence : (error as Error).message;
    return line({ status: 'failed', written: [], sentences: [sentence], steps: [] });
  }
}

/** Writes the actions that a run saved beside its result. */
async function savedActions(made: readonly unknown[], output: string): Promise<string[]> {
  const bare = stem(output);
  const paths = made.map((_, i) => `${bare}${i === 0 ? '' : ` ${i + 1}`}.kneader-action.json`);
  for (const [i, path] of paths.entries()) await saveText(path, `${JSON.stringify(made[i])}\n`);
  return paths;
}

const endingOf = (path: string) => ENDINGS.find((ending) => path.toLowerCase().endsWith(ending)) ?? '';
const stem = (path: string) => path.slice(0, path.length - endingOf(path).length);

/** Where each result goes; files of one name that come from several folders go to folders of those names. */
function outputsOf(inputs: readonly string[], { output, to }: RoutineOptions): string[] {
  const names = inputs.map((input) => outputName(input, to));
  const times = new Map<string, number>();
  for (const name of names) times.set(name, (times.get(name) ?? 0) + 1);
  const shared = inputs.filter((_, i) => times.get(names[i]!)! > 1).map((input) => dirname(resolve(input)));
  const above = shared.reduce((path, folder) => {
    let common = path;
    while (relative(common, folder).startsWith('..')) common = dirname(common);
    return common;
  }, shared[0] ?? '');
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
