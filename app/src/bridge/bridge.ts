/** The page's side of its worker. */
import { wrap } from 'comlink';
import type { Remote } from 'comlink';
import type { Outcome, Selection, Shot } from '@kneader/core';
import type { Film } from '../worker/film.ts';
import type { Reading, Services } from '../worker/worker.ts';
import { SharedParts } from './shared-parts.ts';

/** Parts after which both sides start with empty tables; old previews would fill them for ever. */
const MOST_PARTS = 20000;

let remote: Remote<Services> | null = null;
let parts = new SharedParts('page');

function services(): Remote<Services> {
  remote ??= wrap<Services>(new Worker(new URL('../worker/worker.ts', import.meta.url), { type: 'module' }));
  if (parts.size > MOST_PARTS) {
    parts = new SharedParts('page');
    // Calls are carried out in their order: whatever is packed from here on finds an empty table.
    void remote.forget();
  }
  return remote;
}

export const bridge = {
  read: (name: string, bytes: Uint8Array): Promise<Reading> => services().read(name, bytes),
  demo: (id: string): Promise<Shot | null> => services().demo(id),
  film: (shot: Shot): Promise<Film> => services().film(shot),
  async run(shot: Shot, edit: string, selection: Selection, options: unknown): Promise<Outcome> {
    const worker = services();
    const outcome = await worker.run(parts.pack(shot), edit, selection, options);
    return { ...outcome, shot: outcome.shot === null ? shot : parts.unpack(outcome.shot) };
  },
  glb: (shot: Shot): Promise<Uint8Array> => services().glb(parts.pack(shot)),
  shotFile: (shot: Shot): Promise<string> => services().shotFile(parts.pack(shot)),
};
