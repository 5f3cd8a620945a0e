/**
 * The one way to keep a record that is no shot: noted at once as text, since the page may be gone before the storage has it, and done to what is stored then, under a lock: what another
 * tab has changed of other fields stays. A note that is still there when the page comes back is carried out then.
 */
import { changedFields, withFields } from './record-patch.ts';
import type { FieldChange } from './record-patch.ts';
import { actionStore, mappingStore, RecordGone, routineStore } from './storage.ts';

const PLACES = { actions: actionStore, routines: routineStore, mappings: mappingStore };
export type Place = keyof typeof PLACES;

const NOTE = 'kneader-kept ';
/** Longer ones would fill the place for notes; whoever leaves while one is stored is asked. */
const MOST_NOTED = 200_000;

interface Note {
  readonly place: Place;
  readonly key: string;
  readonly changes: readonly FieldChange[];
}

let storing = 0;
const ask = (event: BeforeUnloadEvent) => event.preventDefault();

/** @param base the record as it was when it was changed; left out, it is new or whole */
export async function keepRecord(place: Place, key: string, value: object, base?: object): Promise<void> {
  const note: Note = { place, key, changes: base ? changedFields(base, value) : [{ way: [], value }] };
  if (note.changes.length === 0) return;
  const name = `${NOTE}${crypto.randomUUID()}`;
  const isNoted = noted(name, note);
  if (!isNoted) hold();
  try {
    if (!(await carryOut(note))) throw new RecordGone();
  } finally {
    if (isNoted) localStorage.removeItem(name);
    else letGo();
  }
}

function noted(name: string, note: Note): boolean {
  try {
    const text = JSON.stringify(note, (_, value: unknown) => {
      if (ArrayBuffer.isView(value)) throw new Error('no text says numbers in columns');
      return value;
    });
    if (text.length > MOST_NOTED) return false;
    localStorage.setItem(name, text);
    return true;
  } catch {
    return false;
  }
}

function hold(): void {
  if (storing === 0) window.addEventListener('beforeunload', ask);
  storing += 1;
}
function letGo(): void {
  storing -= 1;
  if (storing === 0) window.removeEventListener('beforeunload', ask);
}

/** @returns whether there was a record to be changed */
const carryOut = ({ place, key, changes }: Note): Promise<boolean> =>
  navigator.locks.request(`kneader-kept-${place}-${key}`, async () => {
    const whole = changes.some(({ way }) => way.length === 0);
    const stored = await PLACES[place].getItem(key);
    // Gone meanwhile it stays gone: of what is not there no field can be another.
    if (stored === null && !whole) return false;
    await PLACES[place].setItem(key, withFields(stored, changes));
    return true;
  });

let finished: Promise<void> | null = null;

/** What was noted and not stored when the page was left is stored, once; whoever reads records waits for it. */
export const keptFinished = (): Promise<void> => (finished ??= finish());

async function finish(): Promise<void> {
  for (const name of Object.keys(localStorage).filter((one) => one.startsWith(NOTE))) {
    try {
      await carryOut(JSON.parse(localStorage.getItem(name) ?? '') as Note);
    } catch {
      // One that cannot be read, or not be stored, must not hold up the others.
      continue;
    }
    localStorage.removeItem(name);
  }
}
