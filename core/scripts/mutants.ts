/**
 * `npm run mutants -- core/src/curve [--count 200] [--seed 1] [--seconds 240]`: a seeded sample of small changes to the code of a
 * folder, one at a time, each against the unit tests that reach it. A change that no test notices is listed.
 *
 * Stryker's instrumenter makes all changes at once behind a switch, in a copy under `.cache`; each run of Jest turns one on. Stryker's
 * own runner would run whole suites for each: here a run ends with the first test that fails.
 */
import { spawn } from 'node:child_process';
import { cpSync, mkdirSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { parseArgs } from 'node:util';
import { Instrumenter } from '@stryker-mutator/instrumenter';
import { seededRandom } from '../src/base/random.ts';

const { values: given, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    count: { type: 'string', default: '200' },
    seed: { type: 'string', default: '1' },
    seconds: { type: 'string', default: '240' },
  },
});
const folder = positionals[0];
if (!folder) {
  console.error('Name a folder: npm run mutants -- core/src/curve');
  process.exit(2);
}
const root = new URL('../..', import.meta.url).pathname;
const copy = `${root}.cache/mutants/`;

/** Suites that take half a minute and more whatever is changed: they are left out, so that a run ends. */
const LEFT_OUT = ['core/src/edits/contract.test.ts', 'core/src/interchange/', 'core/src/demo/'];
/** Long, and only for what fits curves. */
const FITTING = 'core/src/curve/thin.test.ts';
const fits = (file: string) => /thin|fit|chain|piece|redundant/.test(file);

rmSync(copy, { recursive: true, force: true });
mkdirSync(copy, { recursive: true });
for (const part of [
  'core',
  'app/src',
  'app/package.json',
  'package.json',
  'jest.config.js',
  'jest.mutants.config.js',
])
  cpSync(root + part, copy + part, { recursive: true, filter: (path) => !path.includes('node_modules') });
symlinkSync(`${root}node_modules`, `${copy}node_modules`);

const sources = readdirSync(root + folder, { recursive: true, encoding: 'utf8' })
  .map((name) => `${folder}/${name}`)
  .filter((path) => path.endsWith('.ts') && !/\.test\.ts$|\.d\.ts$/.test(path));
const quiet = () => undefined;
const logger = {
  trace: quiet,
  debug: quiet,
  info: quiet,
  warn: quiet,
  error: console.error,
  fatal: console.error,
};
const instrumenter = new Instrumenter({
  ...logger,
  isTraceEnabled: () => false,
  isDebugEnabled: () => false,
  isInfoEnabled: () => false,
  isWarnEnabled: () => false,
  isErrorEnabled: () => true,
  isFatalEnabled: () => true,
});
const { files, mutants } = await instrumenter.instrument(
  sources.map((name) => ({ name, content: readFileSync(root + name, 'utf8'), mutate: true })),
  { ignorers: [], excludedMutations: ['StringLiteral'], plugins: null },
);
for (const { name, content } of files) writeFileSync(copy + name, content);

const random = seededRandom(Number(given.seed));
const sample = mutants
  .filter(({ status }) => status === undefined || status === 'Pending')
  .map((mutant) => ({ mutant, lot: random.next() }))
  .sort((a, b) => a.lot - b.lot)
  .slice(0, Number(given.count))
  .map(({ mutant }) => mutant);

/** Whether a test fails with the change on; one that does not end is noticed too. */
function isKilled(id: string, file: string): Promise<boolean> {
  return new Promise((resolve) => {
    const jest = spawn(
      process.execPath,
      [
        '--experimental-vm-modules',
        '--disable-warning=ExperimentalWarning',
        'node_modules/jest/bin/jest.js',
        '--config=jest.mutants.config.js',
        '--runInBand',
        '--bail',
        '--silent',
        '--findRelatedTests',
        copy + file,
      ],
      {
        cwd: copy,
        stdio: 'ignore',
        env: {
          ...process.env,
          __STRYKER_ACTIVE_MUTANT__: id,
          MUTANTS_FOLDER: folder!,
          MUTANTS_LEFT_OUT: [...LEFT_OUT, ...(fits(file) ? [] : [FITTING])].join(','),
        },
      },
    );
    const timer = setTimeout(() => jest.kill('SIGKILL'), Number(given.seconds) * 1000);
    jest.on('exit', (code) => {
      clearTimeout(timer);
      resolve(code !== 0);
    });
  });
}

const survivors: string[] = [];
let [done, killed] = [0, 0];
const queue = [...sample];
const worker = async () => {
  for (let mutant = queue.pop(); mutant; mutant = queue.pop()) {
    const noticed = await isKilled(mutant.id, mutant.fileName);
    done += 1;
    if (noticed) killed += 1;
    else {
      const { line } = mutant.location.start;
      survivors.push(
        `${mutant.fileName}:${line + 1} ${mutant.mutatorName}: ${mutant.replacement.slice(0, 80)}`,
      );
    }
    if (done % 10 === 0) console.log(`${done} of ${sample.length}: ${killed} noticed`);
  }
};
await Promise.all(Array.from({ length: Math.max(cpus().length, 1) }, worker));
console.log(survivors.sort().join('\n'));
console.log(
  `${folder}: ${killed} of ${sample.length} noticed, ${((100 * killed) / sample.length).toFixed(0)} % (of ${mutants.length} changes, seed ${given.seed})`,
);
