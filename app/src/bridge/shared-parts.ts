/**
 * Sending shots between the page and its worker without sending what the other side has.
 *
 * Curves and rigs are immutable, so each is sent once, under a number, and named by its number from then on. Both sides
 * keep the same table; the page owns even numbers, the worker odd ones. Nothing is transferred: the document keeps its buffers.
 * What a shot is made of says the core's list of parts: whatever holds curves, or is sent whole, is found here without its name.
 */
import { byteLength, EVERY_PART } from '@kneader/core';
import type { Curve, Shot } from '@kneader/core';

/** In place of a curve, or of a part that is sent whole. */
interface Reference {
  readonly sharedPart: number;
}

/** A shot with numbers in place of what is shared, and what of that is new to the other side. */
export interface PackedShot {
  readonly fields: Readonly<Record<string, unknown>>;
  readonly fresh: readonly (readonly [number, object])[];
}

const WHOLE: ReadonlySet<string> = new Set(
  EVERY_PART.filter(([, part]) => part.sentWhole).map(([name]) => name),
);

const isCurve = (value: object): value is Curve => 'times' in value && value.times instanceof Float64Array;
const isReference = (value: object): value is Reference => 'sharedPart' in value;

/** The value with each object in it replaced where `replace` gives another; what holds none of those is made anew. */
function replaced(value: unknown, replace: (found: object) => object | null): unknown {
  if (typeof value !== 'object' || value === null) return value;
  const other = replace(value);
  if (other) return other;
  // Holes in a table stay holes.
  if (Array.isArray(value)) return Array.from(value, (one: unknown) => replaced(one, replace));
  return Object.fromEntries(Object.entries(value).map(([name, one]) => [name, replaced(one, replace)]));
}

export class SharedParts {
  private readonly numbers = new WeakMap<object, number>();
  private readonly parts = new Map<number, object>();
  private next: number;
  /** Bytes of the curves that the table holds; when they are too many both sides start again. */
  bytes = 0;

  constructor(side: 'page' | 'worker') {
    this.next = side === 'page' ? 2 : 1;
  }

  pack(shot: Shot): PackedShot {
    const fresh: [number, object][] = [];
    const refer = (part: object): Reference => {
      let number = this.numbers.get(part);
      if (number === undefined) {
        number = this.next;
        this.next += 2;
        this.learn(number, part);
        fresh.push([number, part]);
      }
      return { sharedPart: number };
    };
    const fields = Object.entries(shot).map(([name, value]: [string, unknown]) => [
      name,
      WHOLE.has(name)
        ? refer(value as object)
        : replaced(value, (found) => (isCurve(found) ? refer(found) : null)),
    ]);
    return { fields: Object.fromEntries(fields) as PackedShot['fields'], fresh };
  }

  unpack({ fields, fresh }: PackedShot): Shot {
    for (const [number, part] of fresh) this.learn(number, part);
    return replaced(fields, (found) => (isReference(found) ? this.find(found) : null)) as Shot;
  }

  private find({ sharedPart }: Reference): object {
    const found = this.parts.get(sharedPart);
    if (!found) throw new Error(`The page and its worker disagree about part ${sharedPart}`);
    return found;
  }

  private learn(number: number, part: object): void {
    this.numbers.set(part, number);
    this.parts.set(number, part);
    if (isCurve(part)) this.bytes += byteLength(part);
  }
}
