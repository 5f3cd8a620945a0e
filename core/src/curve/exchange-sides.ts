/** Time turned round at one key: its two tangents change places. */
import { FLAG } from './curve.ts';
import type { Columns } from './curve.ts';

const SIDES = [
  ['slopesIn', 'slopesOut'],
  ['lengthsIn', 'lengthsOut'],
  ['tangentsIn', 'tangentsOut'],
] as const;

/** Exchanges the sides of the key at a row; slopes keep their signs. */
export function exchangeSides(columns: Columns, row: number): void {
  for (const [a, b] of SIDES) [columns[a][row], columns[b][row]] = [columns[b][row]!, columns[a][row]!];
  const flags = columns.flags[row]!;
  const weights =
    ((flags & FLAG.weightedIn) !== 0 ? FLAG.weightedOut : 0) |
    ((flags & FLAG.weightedOut) !== 0 ? FLAG.weightedIn : 0);
  columns.flags[row] = (flags & ~(FLAG.weightedIn | FLAG.weightedOut)) | weights;
}
