/** The report of a routine over many files, and the reports of its shards as one: the same bytes, whoever ran which file. */
import { z } from 'zod';
import { describeProblem, finding, InputError, readJson, refuse } from '@kneader/core';
import type { Output } from './commands/output.ts';
import { bytesOf, keepApart, saveText } from './files.ts';
import type { Line } from './routine-file.ts';

/** Which of so many parts of the files, from 1. */
export interface Shard {
  readonly part: number;
  readonly of: number;
}

export interface RoutineReport {
  readonly routine: string;
  /** Files that were asked for, those of other shards among them. */
  readonly inputs: number;
  readonly shard?: Shard | undefined;
  /** By name. */
  readonly files: readonly Line[];
}

export const reportText = ({ routine, inputs, shard, files }: RoutineReport): string => {
  const sorted = [...files].sort((a, b) => (a.file < b.file ? -1 : 1));
  return `${JSON.stringify({ routine, inputs, ...(shard && { shard }), files: sorted }, null, 2)}\n`;
};

const schema = z.looseObject({
  routine: z.string(),
  inputs: z.number().int().min(0),
  shard: z.object({ part: z.number().int().min(1), of: z.number().int().min(1) }).optional(),
  files: z.array(z.looseObject({ file: z.string(), status: z.enum(['changed', 'unchanged', 'failed']) })),
});

async function readReport(path: string): Promise<RoutineReport> {
  const parsed = schema.safeParse(readJson(new TextDecoder().decode(await bytesOf(path))));
  if (!parsed.success)
    throw new InputError(finding('badReport', { file: path }, describeProblem(parsed.error)));
  return parsed.data as unknown as RoutineReport;
}

/** `kneader report merge`: @returns whether all shards are there, and no file failed */
export async function mergeReports(
  paths: readonly string[],
  output: string,
  { print, warn }: Output,
): Promise<boolean> {
  await keepApart(paths, [output]);
  const reports = await Promise.all(paths.map(readReport));
  const [first] = reports as [RoutineReport];
  const of = first.shard?.of ?? 1;
  const parts = new Set<number>();
  for (const [i, { routine, inputs, shard }] of reports.entries()) {
    if (routine !== first.routine || inputs !== first.inputs || (shard?.of ?? 1) !== of)
      refuse('reportsDiffer', { file: paths[i]! }, paths[0]!);
    const part = shard?.part ?? 1;
    if (parts.has(part)) refuse('shardTwice', { file: paths[i]! }, part, of);
    parts.add(part);
  }
  const files = reports.flatMap((report) => report.files);
  const missing = Array.from({ length: of }, (_, i) => i + 1).filter((part) => !parts.has(part));
  await saveText(output, reportText({ routine: first.routine, inputs: first.inputs, files }));
  const lacking = first.inputs - files.length;
  if (missing.length > 0 || lacking > 0) warn(finding('shardsMissing', {}, missing, of, lacking).sentence);
  print(summaryOf(files));
  return lacking === 0 && missing.length === 0 && files.every(({ status }) => status !== 'failed');
}

export function summaryOf(lines: readonly Line[]): string {
  const count = (status: Line['status']) => lines.filter((line) => line.status === status).length;
  return `${count('changed')} changed, ${count('unchanged')} unchanged, ${count('failed')} failed.`;
}
