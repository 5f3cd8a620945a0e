/** What a part of the document is: how it is checked, written, read, counted and sent. The list of parts is in `parts.ts`. */
import { z } from 'zod';
import { COLUMN_NAMES, COLUMNS } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { brokenRule } from '../../curve/validate.ts';
import type { Node } from '../../rig/node.ts';
import type { PlacedCurve } from '../shot.ts';
import type { Going } from './going.ts';

/** What the other parts of a file say, for the one that is read or written. */
export interface Around {
  /** In the order of the file; curves stand in tables beside them. */
  readonly nodes: readonly Node[];
  /** The row of a node in them; −1 where there is none. */
  readonly indexOf: (node: string) => number;
}

/** How a part stood in earlier versions. */
interface OlderForm {
  /** The last version in which it stood so. */
  readonly until: number;
  /** Under which name, a list. */
  readonly field: string;
  /** What it is in the next version, in a file and in memory alike. */
  readonly becomes: (old: readonly never[]) => unknown;
}

export interface Part<Held, Json> {
  /** Each earlier form of it, or that there was none. */
  readonly older: 'as ever' | readonly OlderForm[];
  /** Its form in a file. */
  readonly json: z.ZodType<Json>;
  /** Its form in memory: what comes back from the browser's storage is checked with it. */
  readonly held: z.ZodType;
  /**
   * How it goes through a change of time: 'none' holds no frames; 'edit' is carried by the edit itself, as the curves that are keyed are; else what it is
   * then.
   */
  readonly time: 'none' | 'edit' | ((held: Held, going: Going) => Held);
  /** What a schema cannot say: names that point nowhere, ids that stand twice. */
  readonly check?: (json: Json, around: Around, wrong: Wrong) => void;
  readonly read: (json: Json, around: Around) => Held;
  readonly write: (held: Held, around: Around) => Json;
  /** The curves in it. */
  readonly curves?: (held: Held, around: Pick<Around, 'nodes'>) => Iterable<PlacedCurve>;
  /** Whether the frames of its curves are their own and not the shot's. */
  readonly ownTime?: boolean;
  /** Large and seldom changed: sent to the worker once, as one thing. */
  readonly sentWhole?: boolean;
}

/** What a part holds after a change of time. */
export const throughTime = <Held>(
  { time }: Pick<Part<Held, never>, 'time'>,
  held: Held,
  going: Going,
): Held => (typeof time === 'string' ? held : time(held, going));

/** Refuses, naming the place. */
export type Wrong = (path: string, problem: string) => never;

/** A part that is the same in memory and in a file. */
export function plainPart<Json>(
  json: z.ZodType<Json>,
  more: Partial<Pick<Part<Json, Json>, 'check' | 'sentWhole' | 'older'>> & Pick<Part<Json, Json>, 'time'>,
): Part<Json, Json> {
  return { older: 'as ever', json, held: json, read: (value) => value, write: (value) => value, ...more };
}

/** A form that looks at each object once: the steps of a history share most of what they hold. */
export function once<Value>(isRight: (value: object) => boolean, words: string): z.ZodType<Value> {
  const seen = new WeakSet<object>();
  return z.custom<Value>((value) => {
    if (typeof value !== 'object' || value === null) return false;
    if (seen.has(value)) return true;
    if (!isRight(value)) return false;
    seen.add(value);
    return true;
  }, words);
}

/** A curve in memory. */
export const heldCurve = once<Curve>((value) => {
  const curve = value as Curve;
  const columns = COLUMN_NAMES.every((name) => curve[name] instanceof COLUMNS[name]);
  return columns && brokenRule(curve) === null;
}, 'a curve whose columns do not fit together');
