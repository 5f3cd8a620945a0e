/**
 * A session in parts: each curve, and whatever else is large and seldom changed, is stored once under a number, and named by its number in
 * every step of the history. Storing an edit on a shot of millions of keys then costs what the edit changed.
 *
 * Parts are stored in lots of a few megabytes, so that no single writing holds the page, and before the record that names them: a
 * record never names what is not there. What no record names any more is removed after the next one is stored.
 */
import { byteLength } from '@kneader/core';
import type { Session, Shot } from '@kneader/core';
import { isCurve, replaced, withNamedParts } from '../bridge/shot-parts.ts';

/** In place of a part. */
interface PartName {
  readonly storedPart: number;
}
export type StoredLot = readonly (readonly [number: number, part: object])[];

export interface PackedSession {
  /** The session with names in place of its parts. */
  readonly session: unknown;
  /** The lots in which the parts are that it names, by their first numbers. */
  readonly lots: readonly number[];
}

const LOT_BYTES = 4e6;
const isName = (value: object): value is PartName => 'storedPart' in value;
const isShot = (value: object): value is Shot => 'nodes' in value && 'curves' in value && 'range' in value;

/** What is known of one shot's parts: which are stored, under which numbers, in which lots. */
export class PartsRecord {
  private numbers = new WeakMap<object, number>();
  private readonly lotOf = new Map<number, number>();
  private shots = new WeakMap<Shot, { packed: unknown; parts: readonly number[] }>();
  private next = 1;

  /** Knows the parts of a session that was read from lots. */
  learn(lots: readonly StoredLot[]): void {
    for (const lot of lots) {
      const first = lot[0]?.[0] ?? 0;
      for (const [number, part] of lot) {
        this.numbers.set(part, number);
        this.lotOf.set(number, first);
        this.next = Math.max(this.next, number + 1);
      }
    }
  }

  /** The session in parts, and the lots of those that are not stored yet: to be stored before it. */
  pack(session: Session): { readonly record: PackedSession; readonly fresh: readonly StoredLot[] } {
    const fresh: [number, object][][] = [];
    let bytes = Infinity;
    const used = new Set<number>();
    const name = (part: object): PartName => {
      let number = this.numbers.get(part);
      if (number === undefined) {
        number = this.next;
        this.next += 1;
        this.numbers.set(part, number);
        if (bytes >= LOT_BYTES) {
          fresh.push([]);
          bytes = 0;
        }
        const lot = fresh[fresh.length - 1]!;
        lot.push([number, part]);
        this.lotOf.set(number, lot[0]![0]);
        bytes += isCurve(part) ? byteLength(part) : 10_000;
      }
      used.add(number);
      return { storedPart: number };
    };
    const packShot = (shot: Shot): unknown => {
      const known = this.shots.get(shot);
      if (known) {
        for (const number of known.parts) used.add(number);
        return known.packed;
      }
      const own: number[] = [];
      const named = (part: object) => {
        const made = name(part);
        own.push(made.storedPart);
        return made;
      };
      const packed = withNamedParts(shot, named);
      this.shots.set(shot, { packed, parts: own });
      return packed;
    };
    const packed = replaced(session, (found) => (isShot(found) ? packShot(found) : undefined));
    const lots = new Set([...used].map((number) => this.lotOf.get(number)!));
    return { record: { session: packed, lots: [...lots] }, fresh };
  }

  /** Whatever was packed is packed anew, under other numbers: it is not known how much of it was stored. */
  startAgain(): void {
    this.numbers = new WeakMap();
    this.shots = new WeakMap();
  }

  /** Stored lots that a record no longer names. */
  unused(stored: readonly number[], { lots }: PackedSession): number[] {
    const named = new Set(lots);
    return stored.filter((lot) => !named.has(lot));
  }
}

/** The session of a record, all that was shared in it shared again; a part that is not there stays a name, and does not read. */
export function unpacked({ session }: Pick<PackedSession, 'session'>, lots: readonly StoredLot[]): unknown {
  const parts = new Map(lots.flat());
  /** Steps of the history name the same shots: they stay the same. */
  const made = new Map<object, unknown>();
  const whole = (value: unknown): unknown => {
    if (typeof value !== 'object' || value === null || ArrayBuffer.isView(value)) return value;
    if (isName(value)) return parts.get(value.storedPart) ?? value;
    if (made.has(value)) return made.get(value);
    const result: unknown = Array.isArray(value)
      ? Array.from(value, whole)
      : Object.fromEntries(Object.entries(value).map(([name, one]) => [name, whole(one)]));
    made.set(value, result);
    return result;
  };
  return whole(session);
}
