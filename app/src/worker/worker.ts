/** The worker: parses and writes files and runs edits, away from the page's own thread. */
import '../zod-setup.ts';
import { expose } from 'comlink';
import {
  actionAlone,
  backIntoSource,
  SHEETS,
  spacingOf,
  bramInOneSkin,
  DEMO_SHOTS,
  finding,
  InputError,
  readAction,
  readFile,
  runRoutine,
  shelf,
  shotOfAction,
  startEdit,
  wave,
  formatOf,
  loopPoints,
  NOTHING,
  rigOf,
  runEdit,
  sourcesOf,
} from '@kneader/core';
import type {
  ActionJson,
  AnimationInFile,
  BackInto,
  Differences,
  Finding,
  Page,
  SheetOptions,
  LoopPoint,
  LoopSearch,
  ReadResult,
  Routine,
  RoutineRun,
  Shot,
  SourceFile,
  SourceFiles,
  WrittenSource,
} from '@kneader/core';
import { packOutcome } from '../bridge/packed-outcome.ts';
import type { PackedOutcome } from '../bridge/packed-outcome.ts';
import { packSelection, unpackSelection } from '../bridge/packed-selection.ts';
import type { PackedSelection } from '../bridge/packed-selection.ts';
import { SharedParts } from '../bridge/shared-parts.ts';
import type { PackedShot } from '../bridge/shared-parts.ts';
import { openActionFile, printsOf, zipOf } from '../pantry/action-files.ts';
import type { OnShare, OpenedAction } from '../pantry/action-files.ts';
import type { WrittenPdf } from '@kneader/core/pdf';
import { comparedShots } from './compared-shots.ts';
import type { Compared, CompareHow } from './compared-shots.ts';
import { filmOf, NO_FILM } from './film.ts';
import type { Film } from './film.ts';
import { Heard } from './heard.ts';
import { inSlices } from './in-slices.ts';

let parts = new SharedParts('worker');
const heard = new Heard();
/** Runs that nobody waits for any more, by their tickets. */
const left = new Set<number>();

/** What reading gives: a shot and what was noticed, or the one reason why not. */
export type Reading<S = Shot> =
  ({ readonly shot: S; readonly film: Film } & Omit<ReadResult, 'shot'>) | { readonly refusal: Finding };

/** A shot that was made here: the page learns its parts, and need not send them when it asks something of it. */
export interface Made<S = Shot> {
  readonly shot: S;
  readonly film: Film;
}

/** What goes into a character's file beside the shot. */
export interface BackIntoFile extends Omit<BackInto, 'also'> {
  /** Mapped onto the character, each an animation of its name. */
  readonly actions: readonly ActionJson[];
}

/** A routine's run; where it was refused its steps say how far it came. */
export interface PackedRun extends Pick<RoutineRun, 'refusal' | 'made'> {
  readonly steps: readonly (Omit<RoutineRun['steps'][number], 'selection' | 'outcome'> & {
    readonly selection: PackedSelection;
    /** Against the shot that the step before left. */
    readonly outcome: PackedOutcome;
  })[];
}

const services = {
  async read(
    name: string,
    bytes: Uint8Array,
    beside: Readonly<Record<string, Uint8Array>>,
    animation?: number,
  ): Promise<Reading<PackedShot>> {
    const table = parts;
    try {
      const neighbour = (uri: string) => Promise.resolve(Object.hasOwn(beside, uri) ? beside[uri]! : null);
      const options = { neighbour, ...(animation !== undefined && { animation }) };
      const { shot, ...more } = await readFile(name, bytes, options);
      return { ...more, shot: table.pack(shot), film: filmOf(shot) };
    } catch (error) {
      if (error instanceof InputError) return { refusal: error.finding };
      throw error;
    }
  },
  openActions: (name: string, bytes: Uint8Array, onShare: OnShare) => openActionFile(name, bytes, onShare),
  prints: printsOf,
  packActions: (actions: readonly OpenedAction[]) => zipOf(actions),
  /** Animations of a file as actions of its character. */
  async actionsIn(
    name: string,
    bytes: Uint8Array,
    beside: Readonly<Record<string, Uint8Array>>,
    animations: readonly AnimationInFile[],
  ): Promise<{ readonly action: ActionJson; readonly film: Film }[]> {
    const neighbour = (uri: string) => Promise.resolve(Object.hasOwn(beside, uri) ? beside[uri]! : null);
    return Promise.all(
      animations.map(async ({ index, name: title }) => {
        const { shot } = await readFile(name, bytes, { neighbour, animation: index });
        const channels = rigOf(shot).channels.map(({ id }) => id);
        const { made } = runEdit(
          'actions.save',
          shot,
          { ...NOTHING, channels },
          { name: title.slice(0, 80) },
        );
        return { action: made as ActionJson, film: filmOf(shot) };
      }),
    );
  },
  /** A shot back into a character's file. @param which of the shot's sources */
  backInto(
    packed: PackedShot,
    which: number,
    files: readonly SourceFile[],
    how: BackIntoFile,
  ): WrittenSource {
    const shot = parts.unpack(packed);
    const also: Shot[] = [];
    const left: Finding[] = [];
    for (const action of how.actions) {
      const alone = actionAlone(shot, action);
      if ('shot' in alone) also.push(alone.shot);
      else left.push(finding('actionNotOnFile', {}, action.name, alone.refusal.sentence));
    }
    const written = backIntoSource(shot, sourcesOf(shot)[which]!, files, { ...how, also });
    return { ...written, findings: [...left, ...written.findings] };
  },
  /** A character file that is made here. */
  demoFile: (): Promise<Uint8Array> => bramInOneSkin(),
  /** What its card shows, without making it. */
  demoFileFilm: (): Film => filmOf(wave()),
  demo(id: string): Made<PackedShot> | null {
    const shot = DEMO_SHOTS.find((demo) => demo.id === id)?.make();
    return shot ? { shot: parts.pack(shot), film: filmOf(shot) } : null;
  },
  /** Holds the lock of this name from here on, for as long as this worker lives. */
  hello(lock: string): Promise<void> {
    return new Promise((resolve) => {
      void navigator.locks.request(lock, () => {
        resolve();
        return new Promise(() => undefined);
      });
    });
  },
  /** The actions of the demo's shelf. */
  shelf(): { readonly action: ActionJson; readonly film: Film }[] {
    return shelf().map(({ action, shot }) => ({ action, film: filmOf(shot) }));
  },
  /** What an action is drawn from where there is nothing but its file. */
  actionFilm(action: ActionJson): Film {
    const shot = shotOfAction(readAction(action));
    return shot ? filmOf(shot) : NO_FILM;
  },
  film(packed: PackedShot): Film {
    return filmOf(parts.unpack(packed));
  },
  /** Null when the run was left. @param ticket names the run for `leave` */
  async run(
    packed: PackedShot,
    edit: string,
    packedSelection: PackedSelection,
    options: unknown,
    ticket: number,
    onCourse: (done: number, soFar?: PackedShot, costs?: readonly number[]) => void | Promise<void>,
  ): Promise<PackedOutcome | null> {
    // The page may have both sides forget while this runs: it answers with the table that it was asked with.
    const table = parts;
    const shot = table.unpack(packed);
    const selection = unpackSelection(packedSelection);
    let looking = false;
    const outcome = await inSlices(startEdit(edit, shot, selection, options), {
      onCourse: (done, soFar, costs) => {
        const told = onCourse(done, soFar && table.pack(soFar), costs);
        if (!soFar) return;
        looking = true;
        heard.note(Promise.resolve(told).finally(() => (looking = false)));
      },
      isLeft: () => left.has(ticket),
      isSeen: () => !looking,
    });
    left.delete(ticket);
    // What was shown on the way may have taught parts that this answer names.
    await heard.all();
    return outcome && packOutcome(outcome, shot, selection, table);
  },
  /** The steps of a routine, each with its shot; null when the run was left. @param ticket as above */
  async routine(
    packed: PackedShot,
    routine: Routine,
    packedSelection: PackedSelection,
    ticket: number,
    onCourse: (done: number) => void,
  ): Promise<PackedRun | null> {
    const table = parts;
    const shot = table.unpack(packed);
    const run = await inSlices(runRoutine(routine, shot, unpackSelection(packedSelection)), {
      onCourse,
      isLeft: () => left.has(ticket),
    });
    left.delete(ticket);
    return (
      run && {
        refusal: run.refusal,
        made: run.made,
        steps: run.steps.map(({ outcome, selection, ...step }, i) => ({
          ...step,
          selection: packSelection(selection),
          outcome: packOutcome(outcome, run.steps[i - 1]?.outcome.shot ?? shot, selection, table),
        })),
      }
    );
  },
  /** The run with this ticket ends at its next slice. */
  leave(ticket: number): void {
    left.add(ticket);
  },
  async file(packed: PackedShot, ending: string, files: SourceFiles): Promise<string | Uint8Array> {
    return formatOf(ending)!.write(parts.unpack(packed), files);
  },
  loopPoints(packed: PackedShot, character: string | null, search: LoopSearch): LoopPoint[] {
    const shot = parts.unpack(packed);
    return loopPoints(shot, character, shot.range, search);
  },
  /** Two shots beside each other. */
  compared(a: PackedShot, b: PackedShot, how: CompareHow): Compared | { readonly refusal: Finding } {
    try {
      return comparedShots(parts.unpack(a), parts.unpack(b), how);
    } catch (error) {
      if (error instanceof InputError) return { refusal: error.finding };
      throw error;
    }
  },
  /** How far a joint of each goes from frame to frame, mm. @param rows in the two shots */
  spacing(
    a: PackedShot,
    b: PackedShot,
    rows: readonly [number, number],
    { frames, beside }: Pick<Differences, 'frames' | 'beside'>,
    [unit, scale]: readonly [number, number],
  ): readonly [Float32Array, Float32Array] {
    return [
      spacingOf(parts.unpack(a), rows[0], frames, unit),
      spacingOf(parts.unpack(b), rows[1], beside, unit * scale),
    ];
  },
  /** The shot's characters with nothing but an action. */
  actionOn(
    packed: PackedShot,
    action: ActionJson,
  ): { readonly shot: PackedShot } | { readonly refusal: Finding } {
    const alone = actionAlone(parts.unpack(packed), action);
    return 'shot' in alone ? { shot: parts.pack(alone.shot) } : alone;
  },
  /** Pages of a sheet. */
  sheet(
    packed: PackedShot,
    kind: string,
    options: SheetOptions,
  ): readonly Page[] | { readonly refusal: Finding } {
    try {
      return SHEETS.find((one) => one.kind === kind)!.pages(parts.unpack(packed), options);
    } catch (error) {
      if (error instanceof InputError) return { refusal: error.finding };
      throw error;
    }
  },
  async pdf(pages: readonly Page[], title: string): Promise<WrittenPdf> {
    const { pdfOf } = await import('@kneader/core/pdf');
    return pdfOf(pages, title, new Date());
  },
  lostIn(packed: PackedShot, ending: string, files: SourceFiles): readonly Finding[] {
    return formatOf(ending)!.lost(parts.unpack(packed), files);
  },
  /** Forgets all parts; the page does so at the same time. */
  forget(): void {
    parts = new SharedParts('worker');
  },
};
export type Services = typeof services;

expose(services);
