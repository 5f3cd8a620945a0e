/**
 * `npm run mutants -- core/src/curve [--count 200] [--seed 1]`: a seeded sample of small changes to the code of a folder, one at a
 * time, each against the unit tests that reach it. A change that no test notices is listed.
 *
 * Stryker's instrumenter makes all changes at once behind a switch, in a copy under `.cache`. Stryker's runner, and Jest itself, load
 * every suite again for each change: a minute for one that is not noticed. Here all suites are loaded once in a child process, which
 * knows which test reaches which change and turns changes on and off. A child that does not answer is started again.
 *
 * Left out: changes inside texts, and code that runs only while modules are loaded (the children load them once).
 */
import { type ChildProcess, fork } from 'node:child_process';
import { cpSync, mkdirSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { parseArgs } from 'node:util';
import { Instrumenter } from '@stryker-mutator/instrumenter';
import { seededRandom } from '../../src/base/random.ts';
import type { Answer, Question } from './warm-tests.ts';

const { values: given, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    count: { type: 'string', default: '200' },
    seed: { type: 'string', default: '1' },
    /** What the tests for one change may take, by their time without a change; the quickest come first. */
    seconds: { type: 'string', default: '6' },
    /** Only suites whose path holds this. */
    tests: { type: 'string', default: '' },
    /** No suites whose path holds this: `approved` tells only that something is another than it was. */
    without: { type: 'string', default: '' },
  },
});
const folder = positionals[0];
if (!folder) {
  console.error('Name a folder: npm run mutants -- core/src/curve');
  process.exit(2);
}
const root = new URL('../../..', import.meta.url).pathname;
/** A copy for each folder, so that two runs do not meet. */
const copy = `${root}.cache/mutants-${folder.replaceAll('/', '-')}/`;
const workspace = folder.split('/')[0]!;

const filesUnder = (path: string) =>
  readdirSync(root + path, { recursive: true, encoding: 'utf8' })
    .map((name) => `${path}/${name}`)
    .filter((name) => /\.tsx?$/.test(name) && !name.endsWith('.d.ts'))
    .sort();
/** Components and hooks are tried in the browser, by the flows: no unit test reaches them. */
const isGlue = (name: string) => name.endsWith('.tsx') || /\/use-[^/]*$/.test(name);
const isTest = (name: string) => /\.test\.tsx?$/.test(name);

rmSync(copy, { recursive: true, force: true });
mkdirSync(copy, { recursive: true });
for (const part of ['core', 'app/src', 'app/package.json', 'package.json', 'tsconfig.base.json', 'docs'])
  cpSync(root + part, copy + part, { recursive: true, filter: (path) => !path.includes('node_modules') });
symlinkSync(`${root}node_modules`, `${copy}node_modules`);
// Jest gives its globals from a module of its own that exists only inside Jest.
for (const name of ['core/src', 'app/src'].flatMap(filesUnder)) {
  const text = readFileSync(root + name, 'utf8');
  const globals = `'${copy}core/scripts/mutants/jest-globals.ts'`;
  if (text.includes(`'@jest/globals'`)) writeFileSync(copy + name, text.replace(`'@jest/globals'`, globals));
}

const quiet = () => undefined;
const instrumenter = new Instrumenter({
  trace: quiet,
  debug: quiet,
  info: quiet,
  warn: quiet,
  error: console.error,
  fatal: console.error,
  isTraceEnabled: () => false,
  isDebugEnabled: () => false,
  isInfoEnabled: () => false,
  isWarnEnabled: () => false,
  isErrorEnabled: () => true,
  isFatalEnabled: () => true,
});
const { files, mutants } = await instrumenter.instrument(
  filesUnder(folder)
    .filter((name) => !isTest(name) && !isGlue(name))
    .map((name) => ({ name, content: readFileSync(root + name, 'utf8'), mutate: true })),
  { ignorers: [], excludedMutations: ['StringLiteral'], plugins: null },
);
for (const { name, content } of files) writeFileSync(copy + name, content);

const suites = filesUnder(`${workspace}/src`).filter(
  (name) =>
    isTest(name) && name.includes(given.tests) && (given.without === '' || !name.includes(given.without)),
);

/** A child with all suites loaded. It is asked one thing at a time; silence beyond `seconds` ends it. */
class WarmTests {
  private child: ChildProcess | null = null;
  private ready: Promise<Answer> | null = null;

  private start(): Promise<Answer> {
    this.child = fork(`${copy}core/scripts/mutants/warm-tests.ts`, suites, {
      cwd: copy,
      execArgv: ['--import', 'tsx'],
    });
    return this.answer(Infinity);
  }

  private answer(seconds: number): Promise<Answer> {
    const child = this.child!;
    return new Promise((resolve) => {
      const timer =
        seconds === Infinity ? undefined : setTimeout(() => child.kill('SIGKILL'), seconds * 1000);
      const end = (answer: Answer) => {
        clearTimeout(timer);
        child.removeAllListeners();
        resolve(answer);
      };
      child.once('message', (answer: Answer) => end(answer));
      child.once('exit', () => {
        this.ready = null;
        end({ kind: 'silent' });
      });
    });
  }

  async ask(question: Question, seconds = Infinity): Promise<Answer> {
    this.ready ??= this.start();
    await this.ready;
    this.child!.send(question);
    return this.answer(seconds);
  }

  end() {
    this.child?.kill();
    this.ready = null;
  }
}

const children = Array.from({ length: Math.max(cpus().length, 1) }, () => new WarmTests());
const began = Date.now();
const seen = await children[0]!.ask({ kind: 'coverage' });
if (seen.kind !== 'coverage') throw new Error('The tests ended before they said what they reach.');
console.log(
  `${seen.tests.length} tests reach ${folder} (${((Date.now() - began) / 1000).toFixed(0)} s); failing without any change: ${seen.failing.length}`,
);
for (const name of seen.failing) console.log(`  ${name}`);

const reached = new Map<string, { test: number; ms: number }[]>();
for (const { test, ms, mutants: ids } of seen.tests)
  for (const id of ids) reached.set(id, [...(reached.get(id) ?? []), { test, ms }]);
const onlyLoading = new Set(seen.whileLoading.filter((id) => !reached.has(id)));

const random = seededRandom(Number(given.seed));
const sample = mutants
  .filter(({ status, id }) => (status === undefined || status === 'Pending') && !onlyLoading.has(id))
  .map((mutant) => ({ mutant, lot: random.next() }))
  .sort((a, b) => a.lot - b.lot)
  .slice(0, Number(given.count))
  .map(({ mutant }) => mutant);

const survivors: string[] = [];
let [done, noticed] = [0, 0];
const queue = [...sample];
async function work(tests: WarmTests) {
  for (let mutant = queue.pop(); mutant; mutant = queue.pop()) {
    let left = Number(given.seconds) * 1000;
    const chosen = (reached.get(mutant.id) ?? [])
      .sort((a, b) => a.ms - b.ms)
      .filter(({ ms }) => (left -= ms) > 0)
      .map(({ test }) => test);
    let answer: Answer = { kind: 'passed' };
    // A failure that stays without the change is another one's leftover: asked once more of a new child.
    for (let tries = 0; tries < 2 && chosen.length > 0; tries++) {
      answer = await tests.ask({ kind: 'try', mutant: mutant.id, tests: chosen }, Number(given.seconds) * 4);
      if (answer.kind !== 'unsound') break;
      tests.end();
    }
    done += 1;
    if (answer.kind === 'failed' || answer.kind === 'silent') noticed += 1;
    else
      survivors.push(
        `${mutant.fileName}:${mutant.location.start.line + 1} ${mutant.mutatorName}${chosen.length === 0 ? ' (no test)' : ''}: ${mutant.replacement.replaceAll(/\s+/g, ' ').slice(0, 90)}`,
      );
    if (done % 50 === 0) console.log(`${done} of ${sample.length}: ${noticed} noticed`);
  }
}
await Promise.all(children.map(work));
for (const child of children) child.end();
console.log(survivors.sort().join('\n'));
console.log(
  `${folder}: ${noticed} of ${sample.length} noticed, ${((100 * noticed) / sample.length).toFixed(0)} % (of ${mutants.length} changes, seed ${given.seed}, ${((Date.now() - began) / 1000).toFixed(0)} s)`,
);
