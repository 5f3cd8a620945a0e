/**
 * Words on the command line to commands. Exit 0; 1 when something was refused, with the sentence on standard error; 2 for
 * wrong usage.
 */
import { Command, CommanderError, InvalidArgumentError } from 'commander';
import { InputError } from '@kneader/core';
import type { FrameRange } from '@kneader/core';
import { convert, describe, edit, listEdits, measure, sample } from './commands.ts';
import about from '../package.json' with { type: 'json' };
import { routine } from './routine.ts';
import { mergeReports } from './routine-report.ts';
import type { Shard } from './routine-report.ts';
import type { Output } from './commands.ts';

const number = (text: string): number => {
  const value = Number(text);
  if (text.trim() === '' || !Number.isFinite(value)) throw new InvalidArgumentError('It must be a number.');
  return value;
};

const range = (text: string): FrameRange => {
  const [start, end, ...more] = text.split(':').map((part) => (part.trim() === '' ? NaN : Number(part)));
  if (
    start === undefined ||
    end === undefined ||
    more.length > 0 ||
    !Number.isFinite(start) ||
    !Number.isFinite(end)
  ) {
    throw new InvalidArgumentError('It must be two frames, a:b.');
  }
  return { start, end };
};

const jobs = (text: string): number => {
  const count = Number(text);
  if (!Number.isInteger(count) || count < 1 || count > 256)
    throw new InvalidArgumentError('It must be a whole number from 1 to 256.');
  return count;
};

const shard = (text: string): Shard => {
  const [part, of] = (/^(\d+)\/(\d+)$/.exec(text) ?? []).slice(1).map(Number);
  if (part === undefined || of === undefined || part < 1 || part > of)
    throw new InvalidArgumentError('It must be a part of so many, i/n, from 1/n to n/n.');
  return { part, of };
};

const collect = (text: string, before: readonly string[]) => [...before, text];

/** Runs the words; gives the exit code. */
export async function run(words: readonly string[], output: Output): Promise<0 | 1 | 2> {
  const program = new Command('kneader')
    .description('Reworks keyframed shots: the same edits and formats as the application.')
    .version(about.version, '-V, --version', 'which version this is')
    .exitOverride()
    .configureOutput({
      writeOut: (text) => output.print(text.trimEnd()),
      writeErr: (text) => output.warn(text.trimEnd()),
    });
  let failed = false;
  program
    .command('edits')
    .description('list every edit')
    .option('--json', 'with the schema of its options')
    .action((given: { json?: boolean }) => listEdits(given.json === true, output));
  program
    .command('info <file>')
    .description('nodes, channels, keys, range and rate')
    .option('--json', 'as JSON')
    .action((file: string, given: { json?: boolean }) => describe(file, given.json === true, output));
  program
    .command('sample <file>')
    .description('values of channels and world transforms, as CSV')
    .option('--from <frame>', 'first frame', number)
    .option('--to <frame>', 'last frame', number)
    .option('--step <frames>', 'frames between samples', number, 1)
    .option('--channels <glob>', 'channels, node.channel; again for more', collect, [])
    .option('--world <node>', 'place (cm) and orientation of a node; again for more', collect, [])
    .requiredOption('-o, --output <file>', 'the CSV file')
    .action((file: string, given: Parameters<typeof sample>[1]) => sample(file, given, output));
  program
    .command('measure <file>')
    .description('contacts and their slide, flights and gravity, centre of mass and its lean')
    .option('--json', 'as JSON')
    .option('-o, --output <file>', 'where it goes: a .json of all, or a .csv frame by frame')
    .action((file: string, given: Parameters<typeof measure>[1]) => measure(file, given, output));
  program
    .command('edit <file>')
    .description('run an edit and write the result')
    .requiredOption('--edit <id>', 'which edit: see “kneader edits”')
    .option('--options <json>', 'its options', '{}')
    .option('--channels <glob>', 'what it acts on; again for more; all when left out', collect, [])
    .option('--range <a:b>', 'only keys in these frames', range)
    .option('--pass <id>', 'on this pass instead of the base')
    .requiredOption('-o, --output <file>', 'where the result goes')
    .option('--report <file>', 'the report as JSON')
    .option('--made <file>', 'what the edit made beside the shot, as JSON')
    .action((file: string, given: Parameters<typeof edit>[1]) => edit(file, given, output));
  program
    .command('convert <in> <out>')
    .description(
      'read one format, write another: .kneader.json .bvh .glb .gltf .csv in; .kneader.json .bvh .glb .gltf .csv out',
    )
    .action((from: string, to: string) => convert(from, to, output));
  program
    .command('routine <file> [inputs...]')
    .description('run a saved routine over files, going on after one that fails; one report of all')
    .requiredOption('-o, --output <folder>', 'where the results go, under the names of the inputs')
    .option('--to <ending>', 'of which kind the results are, .glb for instance; as they came when left out')
    .option('--channels <glob>', 'what it acts on; again for more; all when left out', collect, [])
    .option('--range <a:b>', 'only in these frames', range)
    .option('--report <file>', 'the report as JSON')
    .option('--list <file>', 'a file that names more inputs, one on each line')
    .option('--jobs <n>', 'so many files at a time, each on a thread of its own', jobs, 1)
    .option('--shard <i/n>', 'only the files of one of n parts, by a hash of their names', shard)
    .option(
      '--continue',
      'leave files that are done already, as long as they and the routine are what they were',
    )
    .action(async (file: string, inputs: string[], given: Parameters<typeof routine>[2]) => {
      failed = !(await routine(file, inputs, given, output));
    });
  program
    .command('report')
    .description('reports of routines')
    .command('merge <reports...>')
    .description('the reports of all shards as one')
    .requiredOption('-o, --output <file>', 'where the report of all goes')
    .action(async (reports: string[], { output: to }: { output: string }) => {
      failed = !(await mergeReports(reports, to, output));
    });
  try {
    await program.parseAsync([...words], { from: 'user' });
    return failed ? 1 : 0;
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? 0 : 2;
    if (error instanceof InputError) {
      const { line, file } = error.finding.where;
      output.warn(`${file ? `${file}: ` : ''}${line ? `line ${line}: ` : ''}${error.finding.sentence}`);
      return 1;
    }
    if ((error as { code?: string }).code) {
      output.warn(`The file cannot be written: ${(error as Error).message}`);
      return 1;
    }
    throw error;
  }
}
