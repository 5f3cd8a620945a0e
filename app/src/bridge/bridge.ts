/** The page's side of its worker. */
import { proxy, wrap } from 'comlink';
import type { Remote } from 'comlink';
import { bytesOf, NO_FILES } from '@kneader/core';
import type {
  ActionJson,
  AnimationInFile,
  Differences,
  Finding,
  Page,
  Paired,
  SheetOptions,
  LoopPoint,
  LoopSearch,
  Outcome,
  Routine,
  RoutineRun,
  Selection,
  Shot,
  SourceFile,
  SourceFiles,
  WrittenSource,
} from '@kneader/core';
import type { OpenedAction, OpenedFiles } from '../pantry/action-files.ts';
import type { WrittenPdf } from '@kneader/core/pdf';
import type { Compared, CompareHow } from '../worker/compared-shots.ts';
import type { Film } from '../worker/film.ts';
import type { BackIntoFile, Made, Reading, Services } from '../worker/worker.ts';
import { unpackOutcome } from './packed-outcome.ts';
import { packSelection, unpackSelection } from './packed-selection.ts';
import { SharedParts } from './shared-parts.ts';
import type { PackedShot } from './shared-parts.ts';
import { WorkerHost } from './worker-host.ts';
import type { Started } from './worker-host.ts';

/** What a routine did, step by step. */
export type RoutineSteps = Pick<RoutineRun, 'refusal' | 'made' | 'steps'>;

/** Both sides start with empty tables once they hold so much more than the shot itself: old previews would fill them for ever. */
const MOST_BYTES = 16e6;
const TIMES_THE_SHOT = 2;

/** How a run is followed, and left. */
interface Run {
  readonly signal: AbortSignal;
  /** Told between slices the share that is done, and now and then the shot as far as it stands, with what each step came to. */
  readonly onCourse: (done: number, soFar: Shot | null, costs?: readonly number[]) => void;
}

let tickets = 0;
let parts = new SharedParts('page');
const lossListeners = new Set<() => void>();

/** Calls back when a worker was lost and another takes its place; returns how to stop. */
export function onWorkerLost(listener: () => void): () => void {
  lossListeners.add(listener);
  return () => lossListeners.delete(listener);
}

/** A worker holds a lock for as long as it lives: who gets the lock after it knows that it has ended, whatever ended it. */
function startWorker(): Started<Remote<Services>> {
  const worker = new Worker(new URL('../worker/worker.ts', import.meta.url), { type: 'module' });
  const services = wrap<Services>(worker);
  const lock = `kneader-worker-${crypto.randomUUID()}`;
  const ended = new Promise<void>((resolve) => {
    // One that cannot even be loaded says so here; later on errors are answers to calls.
    const unloadable = () => resolve();
    worker.addEventListener('error', unloadable);
    void services.hello(lock).then(() => {
      worker.removeEventListener('error', unloadable);
      return navigator.locks.request(lock, () => resolve());
    });
  });
  return { services, ended, stop: () => worker.terminate() };
}

const host = new WorkerHost<Remote<Services>>({
  start: startWorker,
  onLost: () => {
    // The next one knows nothing of what was sent.
    parts = new SharedParts('page');
    lossListeners.forEach((listener) => listener());
  },
});

/** The table for one call: an answer is read with the table that the call was written with. @param shot what is asked about; null where it comes with the answer */
function tableFor(worker: Remote<Services>, shot: Shot | null): SharedParts {
  if (parts.bytes > Math.max(MOST_BYTES, shot ? TIMES_THE_SHOT * bytesOf(shot) : 0)) {
    parts = new SharedParts('page');
    // Calls are carried out in their order: whatever is packed from here on finds an empty table.
    void worker.forget();
  }
  return parts;
}

export const bridge = {
  /**
   * @param beside what was chosen together with the file, by name
   * @param animation which of several
   */
  read: (
    name: string,
    bytes: Uint8Array,
    beside: Readonly<Record<string, Uint8Array>>,
    animation?: number,
  ): Promise<Reading> =>
    host.ask(async (worker): Promise<Reading> => {
      const table = tableFor(worker, null);
      const reading = await worker.read(name, bytes, beside, animation);
      return 'refusal' in reading ? reading : { ...reading, shot: table.unpack(reading.shot) };
    }),
  /** A file of actions opened, or a zip of many; what `onShare` answers says whether it goes on. */
  openActions: (name: string, bytes: Uint8Array, onShare: (share: number) => boolean): Promise<OpenedFiles> =>
    host.ask((worker, alive) =>
      worker.openActions(
        name,
        bytes,
        proxy((share: number) => {
          alive();
          return onShare(share);
        }),
      ),
    ),
  /** A digest of what each does. */
  prints: (actions: readonly ActionJson[]): Promise<string[]> => host.ask((worker) => worker.prints(actions)),
  packActions: (actions: readonly OpenedAction[]): Promise<Uint8Array> =>
    host.ask((worker) => worker.packActions(actions)),
  actionsIn: (
    name: string,
    bytes: Uint8Array,
    beside: Readonly<Record<string, Uint8Array>>,
    animations: readonly AnimationInFile[],
  ) => host.ask((worker) => worker.actionsIn(name, bytes, beside, animations)),
  /** A shot back into a character's file. @param which of the shot's sources */
  backInto: (
    shot: Shot,
    which: number,
    files: readonly SourceFile[],
    how: BackIntoFile,
  ): Promise<WrittenSource> =>
    host.ask((worker) => worker.backInto(tableFor(worker, shot).pack(shot), which, files, how)),
  demoFileFilm: (): Promise<Film> => host.ask((worker) => worker.demoFileFilm()),
  demoFile: (): Promise<Uint8Array> => host.ask((worker) => worker.demoFile()),
  demo: (id: string): Promise<Made | null> =>
    host.ask(async (worker) => {
      const table = tableFor(worker, null);
      const made = await worker.demo(id);
      return made && { ...made, shot: table.unpack(made.shot) };
    }),
  shelf: () => host.ask((worker) => worker.shelf()),
  actionFilm: (action: ActionJson): Promise<Film> => host.ask((worker) => worker.actionFilm(action)),
  film: (shot: Shot): Promise<Film> => host.ask((worker) => worker.film(tableFor(worker, shot).pack(shot))),
  /** Runs an edit in slices; null when it was left meanwhile. */
  run(shot: Shot, edit: string, selection: Selection, options: unknown, run: Run): Promise<Outcome | null> {
    return host.ask(async (worker, alive) => {
      const table = tableFor(worker, shot);
      const ticket = (tickets += 1);
      const leave = () => void worker.leave(ticket);
      run.signal.addEventListener('abort', leave);
      const onCourse = (done: number, soFar?: PackedShot, costs?: readonly number[]) => {
        alive();
        run.onCourse(done, soFar ? table.unpack(soFar) : null, costs);
      };
      const outcome = await worker
        .run(table.pack(shot), edit, packSelection(selection), options, ticket, proxy(onCourse))
        .finally(() => run.signal.removeEventListener('abort', leave));
      return outcome && unpackOutcome(outcome, shot, selection, table);
    });
  },
  /** Runs a routine in slices; null when it was left meanwhile. */
  routine(shot: Shot, routine: Routine, selection: Selection, run: Run): Promise<RoutineSteps | null> {
    return host.ask(async (worker, alive) => {
      const table = tableFor(worker, shot);
      const ticket = (tickets += 1);
      const leave = () => void worker.leave(ticket);
      run.signal.addEventListener('abort', leave);
      const onCourse = (done: number) => {
        alive();
        run.onCourse(done, null);
      };
      const done = await worker
        .routine(table.pack(shot), routine, packSelection(selection), ticket, proxy(onCourse))
        .finally(() => run.signal.removeEventListener('abort', leave));
      if (!done) return null;
      let before = shot;
      const steps = done.steps.map((step) => {
        const on = unpackSelection(step.selection);
        const outcome = unpackOutcome(step.outcome, before, on, table);
        before = outcome.shot;
        return { ...step, selection: on, outcome };
      });
      return { ...done, steps };
    });
  },
  /** A shot as a file of a kind. @param ending of `FORMATS` @param files of its characters that it goes back into, or that go along */
  file: (shot: Shot, ending: string, files: SourceFiles = NO_FILES): Promise<string | Uint8Array> =>
    host.ask<string | Uint8Array>((worker) => worker.file(tableFor(worker, shot).pack(shot), ending, files)),
  /** Where a figure’s motion comes back to itself. */
  loopPoints: (shot: Shot, character: string | null, search: LoopSearch): Promise<LoopPoint[]> =>
    host.ask((worker) => worker.loopPoints(tableFor(worker, shot).pack(shot), character, search)),
  compared: (a: Shot, b: Shot, how: CompareHow): Promise<Compared | { readonly refusal: Finding }> =>
    host.ask<Compared | { readonly refusal: Finding }>((worker) => {
      const table = tableFor(worker, a);
      return worker.compared(table.pack(a), table.pack(b), how);
    }),
  /** How far a joint of each goes from frame to frame, mm. */
  spacing: (
    a: Shot,
    b: Shot,
    { a: rowA, b: rowB, unit, scale }: Paired['pairs'][number],
    { frames, beside }: Differences,
  ): Promise<readonly [Float32Array, Float32Array]> =>
    host.ask((worker) => {
      const table = tableFor(worker, a);
      return worker.spacing(table.pack(a), table.pack(b), [rowA, rowB], { frames, beside }, [unit, scale]);
    }),
  /** The shot's characters with nothing but an action. */
  actionOn: (
    shot: Shot,
    action: ActionJson,
  ): Promise<{ readonly shot: Shot } | { readonly refusal: Finding }> =>
    host.ask(async (worker): Promise<{ readonly shot: Shot } | { readonly refusal: Finding }> => {
      const table = tableFor(worker, shot);
      const made = await worker.actionOn(table.pack(shot), action);
      return 'shot' in made ? { shot: table.unpack(made.shot) } : made;
    }),
  sheet: (shot: Shot, kind: string, options: SheetOptions) =>
    host.ask<readonly Page[] | { readonly refusal: Finding }>((worker) =>
      worker.sheet(tableFor(worker, shot).pack(shot), kind, options),
    ),
  pdf: (pages: readonly Page[], title: string): Promise<WrittenPdf> =>
    host.ask((worker) => worker.pdf(pages, title)),
  /** What such a file cannot hold of it. */
  lostIn: (shot: Shot, ending: string, files: SourceFiles = NO_FILES): Promise<readonly Finding[]> =>
    host.ask((worker) => worker.lostIn(tableFor(worker, shot).pack(shot), ending, files)),
};
