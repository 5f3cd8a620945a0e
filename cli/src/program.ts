/**
 * Words on the command line to commands, each loaded when it is asked for: most of the time of a short one goes into loading. Exit 0; 1 when something was refused, with the sentence on standard error; 2 for
 * wrong usage.
 */
import { Command, CommanderError, InvalidArgumentError, Option } from 'commander';
import { FORMATS, InputError, SHEETS } from '@kneader/core';
import type { FrameRange } from '@kneader/core';
import about from '../package.json' with { type: 'json' };
import type { compare } from './commands/compare.ts';
import type { convert } from './commands/convert.ts';
import type { describe } from './commands/describe.ts';
import type { edit } from './commands/edit.ts';
import type { measure } from './commands/measure.ts';
import type { Output } from './commands/output.ts';
import type { sheet } from './commands/sheet.ts';
import type { sample } from './commands/sample.ts';
import type { routine } from './routine.ts';
import type { Shard } from './routine-report.ts';

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

const frameList = (text: string): number[] => text.split(',').map(number);

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

const ending = (text: string): string => {
  const found = FORMATS.find((one) => one.ending === `.${text.toLowerCase().replace(/^\./, '')}`);
  if (!found)
    throw new InvalidArgumentError(`It must be one of ${FORMATS.map((one) => one.ending).join(' ')}.`);
  return found.ending;
};

/** The kinds of what comes and goes by standard input and output, a file named “-”: they have no ending. */
const AS = [
  '--as <ending>',
  'how standard input (-) is read; by what it looks like, when left out',
  ending,
] as const;
const TO = ['--to <ending>', 'of which kind standard output (-) is', ending] as const;

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
    .action(async (given: { json?: boolean }) =>
      (await import('./commands/list-edits.ts')).listEdits(given.json === true, output),
    );
  program
    .command('info <file>')
    .description('nodes, channels, keys, range and rate')
    .option('--json', 'as JSON')
    .option(...AS)
    .action(async (file: string, given: Parameters<typeof describe>[1]) =>
      (await import('./commands/describe.ts')).describe(file, given, output),
    );
  program
    .command('sample <file>')
    .description('values of channels and world transforms, as CSV')
    .option('--from <frame>', 'first frame', number)
    .option('--to <frame>', 'last frame', number)
    .option('--step <frames>', 'frames between samples', number, 1)
    .option('--channels <glob>', 'channels, node.channel; again for more', collect, [])
    .option('--world <node>', 'place (cm) and orientation of a node; again for more', collect, [])
    .requiredOption('-o, --output <file>', 'the CSV file')
    .option(...AS)
    .action(async (file: string, given: Parameters<typeof sample>[1]) =>
      (await import('./commands/sample.ts')).sample(file, given, output),
    );
  program
    .command('measure <file>')
    .description('contacts and their slide, flights and gravity, centre of mass and its lean')
    .option('--json', 'as JSON')
    .option('-o, --output <file>', 'where it goes: a .json of all, or a .csv frame by frame')
    .option(...AS)
    .action(async (file: string, given: Parameters<typeof measure>[1]) =>
      (await import('./commands/measure.ts')).measure(file, given, output),
    );
  program
    .command('compare <first> <second>')
    .description('how far two shots are from each other, in mm and degrees')
    .addOption(
      new Option(
        '--by <what>',
        'which time lies beside which: a frame of each, pose columns or markers in their order, or as it is found in the poses',
      )
        .choices(['frame', 'poses', 'markers', 'time'])
        .default('frame'),
    )
    .option('--at <frame>', 'a frame of the first; its first when left out', number)
    .option(
      '--beside <frame>',
      'the frame of the second that lies beside it; its first when left out',
      number,
    )
    .addOption(
      new Option('--from <where>', 'places in the world, or from the middle of all joints')
        .choices(['world', 'middle'])
        .default('world'),
    )
    .option('-o, --output <file>', 'all of it, as .csv')
    .option(...AS)
    .action(async (first: string, second: string, given: Parameters<typeof compare>[2]) =>
      (await import('./commands/compare.ts')).compare(first, second, given, output),
    );
  program
    .command('sheet <file...>')
    .description('contact sheets, timing sheets and curves to print')
    .option(
      '--kind <kind>',
      `${SHEETS.map(({ kind }) => kind).join(', ')}; again for more; contact when left out`,
      collect,
      [],
    )
    .requiredOption('-o, --output <file>', 'one .svg or .pdf with all of them, or a folder')
    .addOption(new Option('--to <ending>', 'what goes into a folder').choices(['svg', 'pdf']).default('svg'))
    .option('--range <a:b>', 'only these frames', range)
    .option(
      '--frames <list>',
      'the frames of a contact sheet, by commas; pose columns when left out',
      frameList,
    )
    .option('--turn <degrees>', 'from where a contact sheet looks; 0 is at the face', number)
    .option('--channels <id>', 'a channel of a sheet of curves; again for more', collect, [])
    .option('--no-notes', 'without notes')
    .option(...AS)
    .action(async (files: string[], given: Parameters<typeof sheet>[1]) =>
      (await import('./commands/sheet.ts')).sheet(files, given, output),
    );
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
    .option(...AS)
    .option(...TO)
    .action(async (file: string, given: Parameters<typeof edit>[1]) =>
      (await import('./commands/edit.ts')).edit(file, given, output),
    );
  program
    .command('convert <in> <out>')
    .description(
      `read one format, write another: ${FORMATS.map(({ ending }) => ending).join(' ')}. A character that came in a .glb, .gltf or .vrm goes back into that file, with nothing else of it changed`,
    )
    .option(...AS)
    .option(...TO)
    .option('--animation <name>', 'which of a file that has several; the first when left out')
    .option('--with-files', 'a .kneader.json that holds the files of its characters too')
    .action(async (from: string, to: string, given: Parameters<typeof convert>[2]) =>
      (await import('./commands/convert.ts')).convert(from, to, given, output),
    );
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
      failed = !(await (await import('./routine.ts')).routine(file, inputs, given, output));
    });
  program
    .command('report')
    .description('reports of routines')
    .command('merge <reports...>')
    .description('the reports of all shards as one')
    .requiredOption('-o, --output <file>', 'where the report of all goes')
    .action(async (reports: string[], { output: to }: { output: string }) => {
      failed = !(await (await import('./routine-report.ts')).mergeReports(reports, to, output));
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
