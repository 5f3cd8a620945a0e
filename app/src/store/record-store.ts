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
import { lotStore, recordStore, StaleRecord, stampStore } from './storage.ts';

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

/**
 * Stores a record: first the parts that are new, then what names them, then away with what nobody names.
 * Throws `StaleRecord` where another tab has stored it meanwhile; nothing is written then.
 */
export const storeRecord = (record: ShotRecord): Promise<void> =>
  underLock(record.id, async () => {
    const { id } = record;
    const known = kept.get(id) ?? { parts: new PartsRecord(), stored: [], stamp: null };
    if ((await stampStore.getItem<string>(id)) !== known.stamp) throw new StaleRecord();
    kept.set(id, known);
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
  });

/** Removes a record with all its lots; a tab that still has it open is refused when it stores it. */
export const removeRecord = (id: string): Promise<void> =>
  underLock(id, async () => {
    kept.delete(id);
    await recordStore.removeItem(id);
    await stampStore.removeItem(id);
    for (const key of await lotStore.keys()) if (key.startsWith(`${id}/`)) await lotStore.removeItem(key);
  });
