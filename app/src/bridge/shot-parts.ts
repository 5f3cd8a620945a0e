/** What of a shot is sent and stored once, under a number: its curves, and parts that are large and seldom changed. */
import { EVERY_PART } from '@kneader/core';
import type { Curve } from '@kneader/core';

/** Names of the parts that go as one thing; the core's list says which. */
const WHOLE: ReadonlySet<string> = new Set(
  EVERY_PART.filter(([, part]) => part.sentWhole).map(([name]) => name),
);

export const isCurve = (value: object): value is Curve =>
  'times' in value && value.times instanceof Float64Array;

/** The value with each object in it replaced where `replace` gives another; what holds none of those is made anew. */
export function replaced(value: unknown, replace: (found: object) => unknown): unknown {
  if (typeof value !== 'object' || value === null || ArrayBuffer.isView(value)) return value;
  const other = replace(value);
  if (other !== undefined) return other;
  // Holes in a table stay holes.
  if (Array.isArray(value)) return Array.from(value, (one: unknown) => replaced(one, replace));
  return Object.fromEntries(Object.entries(value).map(([name, one]) => [name, replaced(one, replace)]));
}

/** The fields of a shot with names in place of its parts. */
export const withNamedParts = (shot: object, name: (part: object) => object): Record<string, unknown> =>
  Object.fromEntries(
    Object.entries(shot).map(([field, value]: [string, unknown]) => [
      field,
      WHOLE.has(field)
        ? name(value as object)
        : replaced(value, (found) => (isCurve(found) ? name(found) : undefined)),
    ]),
  );
