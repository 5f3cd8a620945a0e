/**
 * The child of `mutants.ts`: loads the suites named on its command line once, with Jest's own collector, and then answers: which test
 * reaches which change, and whether one of some tests fails with a change turned on.
 */
import { describe as circusDescribe, getState, test as circusTest } from 'jest-circus';

export type Question =
  | { readonly kind: 'coverage' }
  | { readonly kind: 'try'; readonly mutant: string; readonly tests: readonly number[] };
export type Answer =
  | {
      readonly kind: 'coverage';
      readonly tests: readonly {
        readonly test: number;
        readonly ms: number;
        readonly mutants: readonly string[];
      }[];
      readonly whileLoading: readonly string[];
      readonly failing: readonly string[];
    }
  | { readonly kind: 'passed' | 'failed' | 'silent' }
  /** A test fails without the change too: something was left over by an earlier one. */
  | { readonly kind: 'unsound' };

/** What the instrumented code reads and writes; the names are Stryker's. */
const switches = globalThis as unknown as {
  __stryker__: {
    activeMutant?: string | undefined;
    currentTestId?: string | undefined;
    mutantCoverage?: { static: Record<string, number>; perTest: Record<string, Record<string, number>> };
    hitCount?: number | undefined;
    hitLimit?: number;
  };
};
switches.__stryker__ = { mutantCoverage: { static: {}, perTest: {} } };
const stryker = switches.__stryker__;

if (process.argv.some((path) => path.startsWith('app/'))) await import('./browser-globals.ts');
await import('../../src/testing/seeded-properties.ts');
Object.assign(globalThis, { describe: circusDescribe, test: circusTest });

for (const suite of process.argv.slice(2)) await import(`${process.cwd()}/${suite}`);

type Block = ReturnType<typeof getState>['rootDescribeBlock'];
type Hook = Block['hooks'][number];
interface Loaded {
  readonly name: string;
  readonly run: () => Promise<void>;
}
const call = (hook: Pick<Hook, 'fn'>) => (hook.fn as (this: object) => unknown).call({});
function collect(block: Block, before: readonly Hook[], path: string): Loaded[] {
  const hooks = [...before, ...block.hooks.filter(({ type }) => type === 'beforeEach')];
  return block.children.flatMap((child) =>
    child.type === 'describeBlock'
      ? collect(child, hooks, `${path} ${child.name}`)
      : [
          {
            name: `${path} ${child.name}`,
            run: async () => {
              for (const hook of hooks) await call(hook);
              await call(child);
            },
          },
        ],
  );
}
const tests = collect(getState().rootDescribeBlock, [], '');

async function fails(test: Loaded): Promise<boolean> {
  try {
    await test.run();
    return false;
  } catch {
    return true;
  }
}

async function coverage(): Promise<Answer> {
  const whileLoading = Object.keys(stryker.mutantCoverage!.static);
  const found = [];
  const failing = [];
  for (const [index, test] of tests.entries()) {
    stryker.currentTestId = String(index);
    const began = performance.now();
    if (await fails(test)) failing.push(test.name);
    const mutants = Object.keys(stryker.mutantCoverage!.perTest[index] ?? {});
    if (mutants.length > 0 && failing.at(-1) !== test.name)
      found.push({ test: index, ms: performance.now() - began, mutants });
  }
  stryker.currentTestId = undefined;
  return { kind: 'coverage', tests: found, whileLoading, failing };
}

async function attempt(mutant: string, chosen: readonly number[]): Promise<Answer> {
  for (const index of chosen) {
    stryker.activeMutant = mutant;
    const failed = await fails(tests[index]!);
    stryker.activeMutant = undefined;
    if (failed) return { kind: (await fails(tests[index]!)) ? 'unsound' : 'failed' };
  }
  return { kind: 'passed' };
}

process.on('message', (question: Question) => {
  void (question.kind === 'coverage' ? coverage() : attempt(question.mutant, question.tests)).then((answer) =>
    process.send!(answer),
  );
});
process.send!({ kind: 'passed' } satisfies Answer);
