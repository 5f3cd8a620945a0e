/**
 * Records of shots in the browser's storage: what is large in parts, each stored once (`parts-record.ts`).
 *
 * Several tabs may have read a record. Reading and writing one happens under a lock, and each writing changes the record's stamp: who read
 * another stamp than stands there is refused before anything is written, so that no tab writes over another's parts.
 */
import { PartsRecord, unpacked } from './parts-record.ts';
import type { StoredLot } from './parts-record.ts';
import { readRecord, RECORD_VERSION } from './shot-record.ts';
import type { ShotRecord } from './shot-record.ts';
import { lotStore, NotKept, recordStore, RecordGone, StaleRecord, stampStore } from './storage.ts';

interface RecordInStore {
  readonly parts: PartsRecord;
  /** The first numbers of the lots that are stored. */
  stored: readonly number[];
  /** As it was when this tab last read or wrote the record. */
  stamp: string | null;
}
const kept = new Map<string, RecordInStore>();

const lotKey = (id: string, first: number) => `${id}/${first}`;
const underLock = <Result>(id: string, act: () => Promise<Result>): Promise<Result> =>
  navigator.locks.request(`kneader-record-${id}`, act);

/** The record of a shot, or null; throws an `InputError` where it no longer reads. */
export const loadRecord = (id: string): Promise<ShotRecord | null> =>
  underLock(id, async () => {
    const stored = await recordStore.getItem<{ version?: unknown; lots?: unknown; session?: unknown }>(id);
    if (stored === null) return null;
    const stamp = await stampStore.getItem<string>(id);
    const parts = new PartsRecord();
    // The first version held the session whole.
    if (stored.version !== RECORD_VERSION || !Array.isArray(stored.lots)) {
      kept.set(id, { parts, stored: [], stamp });
      return readRecord(stored);
    }
    const firsts = stored.lots.filter((one): one is number => typeof one === 'number');
    const read = await Promise.all(firsts.map((first) => lotStore.getItem<StoredLot>(lotKey(id, first))));
    const lots = read.filter((lot) => lot !== null);
    const record = readRecord({ ...stored, session: unpacked({ session: stored.session }, lots) });
    parts.learn(lots);
    kept.set(id, { parts, stored: firsts, stamp });
    return record;
  });

/** Whether the browser still has all of a record that was stored. */
async function isThere(id: string, { stored, stamp }: RecordInStore): Promise<boolean> {
  const [now, records, lots] = await Promise.all([
    stampStore.getItem<string>(id),
    recordStore.keys(),
    lotStore.keys(),
  ]);
  const known = new Set(lots);
  return now === stamp && records.includes(id) && stored.every((first) => known.has(lotKey(id, first)));
}

/** Whether a record that this tab has read or stored was taken away meanwhile, by another tab or with the browser's data. */
export async function isRecordGone(id: string): Promise<boolean> {
  return kept.get(id)?.stamp !== undefined && !(await recordStore.keys()).includes(id);
}

/**
 * Stores a record: first the parts that are new, then what names them, then away with what nobody names. It is looked for afterwards: what the browser has lost of it is stored again.
 * Throws `StaleRecord` where another tab has stored it meanwhile and `RecordGone` where it was taken away, and nothing is written then; `NotKept` where what was stored is not there.
 */
export const storeRecord = (record: ShotRecord): Promise<void> =>
  underLock(record.id, async () => {
    const { id } = record;
    const known = kept.get(id) ?? { parts: new PartsRecord(), stored: [], stamp: null };
    const stamp = await stampStore.getItem<string>(id);
    if (stamp !== known.stamp) throw stamp === null ? new RecordGone() : new StaleRecord();
    kept.set(id, known);
    await write(record, known);
    if (await isThere(id, known)) return;
    known.parts.startAgain();
    await write(record, known);
    if (!(await isThere(id, known))) throw new NotKept();
  });

async function write(record: ShotRecord, known: RecordInStore): Promise<void> {
  const { id } = record;
  const { record: packed, fresh } = known.parts.pack(record.session);
  try {
    for (const lot of fresh) {
      await lotStore.setItem(lotKey(id, lot[0]![0]), lot);
      known.stored = [...known.stored, lot[0]![0]];
    }
    await recordStore.setItem(id, { ...record, ...packed });
    const stamp = crypto.randomUUID();
    await stampStore.setItem(id, stamp);
    known.stamp = stamp;
  } catch (error) {
    known.parts.startAgain();
    throw error;
  }
  const unused = known.parts.unused(known.stored, packed);
  known.stored = packed.lots;
  for (const first of unused) await lotStore.removeItem(lotKey(id, first));
}

/** Removes a record with all its lots; a tab that still has it open is refused when it stores it. */
export const removeRecord = (id: string): Promise<void> =>
  underLock(id, async () => {
    kept.delete(id);
    await recordStore.removeItem(id);
    await stampStore.removeItem(id);
    for (const key of await lotStore.keys()) if (key.startsWith(`${id}/`)) await lotStore.removeItem(key);
  });
