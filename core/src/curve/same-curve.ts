/** Whether two curves are the same in every column, the ids of their keys too. */
import { COLUMN_NAMES } from './curve.ts';
import type { Curve } from './curve.ts';

export function sameCurve(a: Curve, b: Curve): boolean {
  if (a === b) return true;
  if (a.times.length !== b.times.length) return false;
  return COLUMN_NAMES.every((name) => {
    const other = b[name];
    return a[name].every((value, row) => value === other[row]);
  });
}
