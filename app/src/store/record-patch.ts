/** What somebody changed of a record, as its fields, so that it can be done to the record as it has become meanwhile. */
import { dequal } from 'dequal/lite';

/** A field by its way from the outside; without a value it is gone. */
export interface FieldChange {
  readonly way: readonly string[];
  readonly value?: unknown;
}
type Fields = Readonly<Record<string, unknown>>;

const isFields = (value: unknown): value is Fields =>
  typeof value === 'object' && value !== null && Object.getPrototypeOf(value) === Object.prototype;

/** The fields in which two differ; objects are looked into, lists are taken whole. */
export function changedFields(before: unknown, after: unknown, way: readonly string[] = []): FieldChange[] {
  if (dequal(before, after)) return [];
  if (!isFields(before) || !isFields(after)) return [{ way, value: after }];
  return [...new Set([...Object.keys(before), ...Object.keys(after)])].flatMap((name) =>
    name in after ? changedFields(before[name], after[name], [...way, name]) : [{ way: [...way, name] }],
  );
}

/** The record with those fields so, and all others as they are. */
export function withFields(record: unknown, changes: readonly FieldChange[]): unknown {
  return changes.reduce((now, change) => withField(now, change.way, change), record);
}

function withField(record: unknown, [name, ...rest]: readonly string[], change: FieldChange): unknown {
  if (name === undefined) return change.value;
  const fields = isFields(record) ? record : {};
  if (rest.length === 0 && !('value' in change)) {
    const { [name]: _, ...others } = fields;
    return others;
  }
  return { ...fields, [name]: withField(fields[name], rest, change) };
}
