/** Curves laid one after another. */
import { COLUMN_NAMES, FLAG } from './curve.ts';
import type { Columns, Curve } from './curve.ts';
import { rebuild } from './rebuild.ts';
import { freeze } from './split.ts';

/**
 * Curves one after another: where one ends and the next begins is one key, which comes in as the first does and leaves as the
 * second. Frames and values are those that the parts have; a value that does not meet is that of the part which ends.
 * @param parts each of two keys or more, each beginning where the one before ends
 */
export function joinedParts(source: Curve, parts: readonly Curve[]): Curve {
  const starts: number[] = [0];
  for (const part of parts) starts.push(starts[starts.length - 1]! + part.times.length - 1);
  const count = starts[parts.length]! + 1;
  return rebuild(source, new Int32Array(count).fill(-1), (columns) => {
    parts.forEach((part, k) => {
      const at = starts[k]!;
      for (const name of COLUMN_NAMES) {
        if (name === 'ids') continue;
        // The first key was written by the part before, but for what leaves it.
        columns[name].set(k === 0 ? part[name] : part[name].subarray(1), k === 0 ? 0 : at + 1);
      }
      if (k > 0) leaveAs(columns, at, part);
    });
  });
}

/** The key at a row leaves as the first key of a curve does. */
function leaveAs(columns: Columns, row: number, part: Curve): void {
  columns.segments[row] = part.segments[0]!;
  columns.slopesOut[row] = part.slopesOut[0]!;
  columns.lengthsOut[row] = part.lengthsOut[0]!;
  columns.tangentsOut[row] = part.tangentsOut[0]!;
  columns.flags[row] = (columns.flags[row]! & ~FLAG.weightedOut) | (part.flags[0]! & FLAG.weightedOut);
  freeze(columns, row);
}
