/** The page's side of its worker. */
import { proxy, wrap } from 'comlink';
import type { Remote } from 'comlink';
import { allCurves, byteLength } from '@kneader/core';
import type { Outcome, Selection, Shot } from '@kneader/core';
import type { Film } from '../worker/film.ts';
import type { Reading, Services } from '../worker/worker.ts';
import { SharedParts } from './shared-parts.ts';

/** Both sides start with empty tables once they hold so much more than the shot itself: old previews would fill them for ever. */
const MOST_BYTES = 64e6;
const TIMES_THE_SHOT = 2;

/** How a run is followed, and left. */
interface Run {
  readonly signal: AbortSignal;
  /** Told the share that is done, between slices. */
  readonly onCourse: (done: number) => void;
}

let tickets = 0;
let remote: Remote<Services> | null = null;
let parts = new SharedParts('page');

function services(): Remote<Services> {
  remote ??= wrap<Services>(new Worker(new URL('../worker/worker.ts', import.meta.url), { type: 'module' }));
  return remote;
}

/** The worker, and the table for one call to it: an answer is read with the table that the call was written with. */
function forShot(shot: Shot): { worker: Remote<Services>; table: SharedParts } {
  const worker = services();
  if (parts.bytes > Math.max(MOST_BYTES, TIMES_THE_SHOT * bytesOf(shot))) {
    parts = new SharedParts('page');
    // Calls are carried out in their order: whatever is packed from here on finds an empty table.
    void worker.forget();
  }
  return { worker, table: parts };
}

/** Bytes of a shot's curves on all layers. */
function bytesOf(shot: Shot): number {
  let bytes = 0;
  for (const { curve } of allCurves(shot)) bytes += byteLength(curve);
  return bytes;
}

export const bridge = {
  read: (name: string, bytes: Uint8Array): Promise<Reading> => services().read(name, bytes),
  demo: (id: string): Promise<Shot | null> => services().demo(id),
  film: (shot: Shot): Promise<Film> => services().film(shot),
  /** Runs an edit in slices; null when it was left meanwhile. */
  async run(
    shot: Shot,
    edit: string,
    selection: Selection,
    options: unknown,
    run: Run,
  ): Promise<Outcome | null> {
    const { worker, table } = forShot(shot);
    const ticket = (tickets += 1);
    const leave = () => void worker.leave(ticket);
    run.signal.addEventListener('abort', leave);
    const outcome = await worker
      .run(table.pack(shot), edit, selection, options, ticket, proxy(run.onCourse))
      .finally(() => run.signal.removeEventListener('abort', leave));
    return outcome && { ...outcome, shot: outcome.shot === null ? shot : table.unpack(outcome.shot) };
  },
  glb(shot: Shot): Promise<Uint8Array> {
    const { worker, table } = forShot(shot);
    return worker.glb(table.pack(shot));
  },
  shotFile(shot: Shot): Promise<string> {
    const { worker, table } = forShot(shot);
    return worker.shotFile(table.pack(shot));
  },
};
