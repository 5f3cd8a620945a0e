/**
 * Sending shots between the page and its worker without sending what the other side has.
 *
 * Curves and rigs are immutable, so each is sent once, under a number, and named by its number from then on. Both sides
 * keep the same table; the page owns even numbers, the worker odd ones. Nothing is transferred: the document keeps its buffers.
 * What a shot is made of says the core's list of parts: whatever holds curves, or is sent whole, is found here without its name.
 */
import { byteLength } from '@kneader/core';
import type { Shot } from '@kneader/core';
import { isCurve, replaced, withNamedParts } from './shot-parts.ts';

/** In place of a curve, or of a part that is sent whole. */
interface Reference {
  readonly sharedPart: number;
}

/** A shot with numbers in place of what is shared, and what of that is new to the other side. */
export interface PackedShot {
  readonly fields: Readonly<Record<string, unknown>>;
  readonly fresh: readonly (readonly [number, object])[];
}

const isReference = (value: object): value is Reference => 'sharedPart' in value;

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
    return { fields: withNamedParts(shot, refer), fresh };
  }

  unpack({ fields, fresh }: PackedShot): Shot {
    for (const [number, part] of fresh) this.learn(number, part);
    return replaced(fields, (found) => (isReference(found) ? this.find(found) : undefined)) as Shot;
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
