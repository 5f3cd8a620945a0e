/** What must hold for every curve; checked after each edit and on whatever comes from outside. */
import { COLUMN_NAMES } from './curve.ts';
import type { Curve } from './curve.ts';

const NUMBERS = ['times', 'values', 'slopesIn', 'slopesOut', 'lengthsIn', 'lengthsOut'] as const;

/** Whether all of the curve's numbers are numbers. */
export const isFinite = (curve: Curve): boolean =>
  NUMBERS.every((name) => curve[name].every((value) => Number.isFinite(value)));

/** The first row that holds no finite number; −1 where all do. Nought times what is not finite is no number: one sum asks all. */
function firstUncounted(column: Float64Array): number {
  let sum = 0;
  for (let row = 0; row < column.length; row += 1) sum += column[row]! * 0;
  return sum === 0 ? -1 : column.findIndex((value) => !Number.isFinite(value));
}

function rises(ids: Uint32Array): boolean {
  for (let row = 1; row < ids.length; row += 1) if (ids[row]! <= ids[row - 1]!) return false;
  return true;
}

/** The rule that the curve breaks, in words, or null. */
export function brokenRule(curve: Curve): string | null {
  const count = curve.times.length;
  for (const name of COLUMN_NAMES) {
    if (curve[name].length !== count)
      return `the column “${name}” has ${curve[name].length} rows, not ${count}`;
  }
  for (const name of NUMBERS) {
    const row = firstUncounted(curve[name]);
    if (row >= 0) return `${name}[${row}] is not a finite number`;
  }
  for (let i = 1; i < count; i += 1) {
    if (!(curve.times[i]! > curve.times[i - 1]!)) return `times[${i}] does not come after times[${i - 1}]`;
  }
  for (let i = 0; i < count; i += 1) {
    if (curve.segments[i]! > 2) return `segments[${i}] is of no known kind`;
    if (curve.tangentsIn[i]! > 4 || curve.tangentsOut[i]! > 4)
      return `the tangent of key ${i} is of no known kind`;
    if (curve.lengthsIn[i]! < 0 || curve.lengthsOut[i]! < 0)
      return `a handle of key ${i} is shorter than nothing`;
  }
  // Ids that rise, as those of most curves do, are all different: no set is needed to know.
  return rises(curve.ids) || new Set(curve.ids).size === count ? null : 'two keys share an id';
}
