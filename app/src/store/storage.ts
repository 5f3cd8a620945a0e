/** The browser's storage: one place for the cards, one for the shots, one for the pantry. */
import localforage from 'localforage';

const options = { name: 'kneader', driver: localforage.INDEXEDDB };

/** What the cards are drawn from, and apart from it their moving pictures (`shot-index.ts`). */
export const headStore = localforage.createInstance({ ...options, storeName: 'heads' });
export const shotFilmStore = localforage.createInstance({ ...options, storeName: 'shot-films' });
/** Heads with their pictures in them, of the version before. */
export const entryStore = localforage.createInstance({ ...options, storeName: 'entries' });
export const recordStore = localforage.createInstance({ ...options, storeName: 'records' });
/** How the bench looked at each shot; nobody's work. */
export const viewStore = localforage.createInstance({ ...options, storeName: 'views' });
/** Small and written at once: what was done since a shot was stored (`journal.ts`). */
export const journalStore = localforage.createInstance({
  name: 'kneader',
  storeName: 'journal',
  driver: localforage.LOCALSTORAGE,
});
/** Parts of records, in lots (`record-store.ts`). */
export const lotStore = localforage.createInstance({ ...options, storeName: 'lots' });
/** Who stored a record last: a word that each writing changes (`record-store.ts`). */
export const stampStore = localforage.createInstance({ ...options, storeName: 'stamps' });
export const actionStore = localforage.createInstance({ ...options, storeName: 'actions' });
/** What the actions' pictures are drawn from (`film-store.ts`). */
export const filmStore = localforage.createInstance({ ...options, storeName: 'films' });
/** Which joint of one figure stands for which of another, where that was said by hand. */
export const mappingStore = localforage.createInstance({ ...options, storeName: 'mappings' });

/** The files that characters came in, each once, by their digest (`sources.ts`). */
export const sourceStore = localforage.createInstance({ ...options, storeName: 'sources' });
/** Films that shots are looked at beside, by shot (`references.ts`). */
export const referenceStore = localforage.createInstance({ ...options, storeName: 'references' });
/** Runs of edits, saved to be done again. */
export const routineStore = localforage.createInstance({ ...options, storeName: 'routines' });

/**
 * All are made at the beginning: a store that is made when it is first asked for has the database opened anew in a later version, for which every other tab must let go of it, in the
 * middle of what that may be storing.
 */
void Promise.allSettled(
  [
    ...[headStore, shotFilmStore, entryStore, recordStore, viewStore, lotStore, stampStore],
    ...[actionStore, filmStore, mappingStore, routineStore, sourceStore, referenceStore],
  ].map((store) => store.ready()),
);

/** Another tab has stored the shot since this one read it: nothing was written over that. */
export class StaleRecord extends Error {
  override readonly name = 'StaleRecord';
}

/** What was to be changed is not there any more: removed in another tab, or with the browser's data. */
export class RecordGone extends Error {
  override readonly name = 'RecordGone';
}

/** The browser said that it has stored something, and does not give it back. */
export class NotKept extends Error {
  override readonly name = 'NotKept';
}

/** A sentence for a failure to store: full, refused, or gone. */
export function storageProblem(error: unknown): string {
  if (error instanceof StaleRecord)
    return 'Another tab has changed this shot since it was read here, and nothing was written over that. Load the page again.';
  if (error instanceof RecordGone) return 'It has been cleared away in another tab meanwhile.';
  if (error instanceof NotKept)
    return 'The browser took the shot and does not give it back. Save it to a file (Export) before you close the tab.';
  const name = error instanceof DOMException ? error.name : '';
  if (name === 'QuotaExceededError')
    return 'The browser has no room left for this shot. Save it to a file (Export), then remove shots that you no longer need.';
  if (name === 'InvalidStateError' || name === 'SecurityError')
    return 'The browser refuses to store anything, as it does in private windows. Save the shot to a file (Export) before you close the tab.';
  return `The browser could not store the shot. Save it to a file (Export). It says: ${error instanceof Error ? error.message : String(error)}`;
}

/** Tells other tabs that something was stored. */
const channel = typeof BroadcastChannel === 'undefined' ? null : new BroadcastChannel('kneader');

export type StoreNote = { readonly kind: 'shot' | 'shot removed' | 'action'; readonly id: string };

export function tellOtherTabs(note: StoreNote): void {
  channel?.postMessage(note);
}

/** Calls back when another tab has stored something; returns how to stop. */
export function onOtherTabs(heard: (note: StoreNote) => void): () => void {
  const listen = (event: MessageEvent<StoreNote>) => heard(event.data);
  channel?.addEventListener('message', listen);
  return () => channel?.removeEventListener('message', listen);
}
