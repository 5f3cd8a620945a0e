/** Some keys of a curve, which keep the shape that they had. */
import type { Columns, Curve } from './curve.ts';
import { rebuild } from './rebuild.ts';
import { freeze } from './split.ts';

/** The keys of some rows, with the slopes that they had: a rule that lost a neighbour becomes a free tangent. @param rows rising */
export function rowsOf(curve: Curve, rows: readonly number[], write?: (columns: Columns) => void): Curve {
  const kept = new Set(rows);
  const last = curve.times.length - 1;
  return rebuild(curve, rows, (columns) => {
    rows.forEach((row, i) => {
      if ((row > 0 && !kept.has(row - 1)) || (row < last && !kept.has(row + 1))) freeze(columns, i);
    });
    write?.(columns);
  });
}
