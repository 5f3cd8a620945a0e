/**
 * A range of a curve played backward: on every frame f(t) becomes f(start + end − t).
 *
 * Flowing segments (cubic, straight) are mirrored: times, and the two sides of each key. A stepped segment is a pose that holds
 * from its key to the frame ahead of the next one; turned round it begins one frame after where that next key comes to lie, with
 * its own value, so that every pose lasts as long as it did and none is lost. Three ways of a key k, with S = start + end:
 *
 *   flows out                    a point at S − t(k)
 *   holds, came out of a hold    the hold's beginning at S − t(k+1) + 1
 *   holds, flowed in             both: the key itself is the point, and a new key marked `turned` begins the hold
 *
 * Turned round again a `turned` key goes, so that reversing twice gives back the same columns.
 */
import { FLAG, SEGMENT } from './curve.ts';
import type { Columns, Curve } from './curve.ts';
import { exchangeSides } from './exchange-sides.ts';
import { allRows, rebuild } from './rebuild.ts';
import { bisectRight } from '../base/bisect.ts';

const HAIR = 1e-6;

interface Placed {
  readonly row: number;
  readonly time: number;
  readonly segment: number;
  /** A hold's beginning that a key which flowed in needs beside itself. */
  readonly added: boolean;
}

/** The reversed curve; keys from `start` to `end` belong to the range. Leads stay as they are. */
export function reverseRange(curve: Curve, start: number, end: number): Curve {
  const first = bisectRight(curve.times, start - HAIR);
  const last = bisectRight(curve.times, end + HAIR) - 1;
  if (last < first) return curve;
  const placed: Placed[] = [];
  for (let row = first; row <= last; row += 1) {
    if (isSpare(curve, row, last)) continue;
    placed.push(...placesOf(curve, row, first, last, start, end));
  }
  const outside = allRows(curve).filter((row) => row < first || row > last);
  const rows = [...outside, ...placed.map(({ row, added }) => (added ? -1 : row))];
  return rebuild(curve, rows, (columns) => {
    placed.forEach(({ row, time, segment, added }, k) => {
      const i = outside.length + k;
      if (added) {
        columns.values[i] = curve.values[row]!;
        columns.flags[i] = FLAG.turned;
      } else turnKey(columns, i);
      columns.times[i] = time;
      columns.segments[i] = segment;
    });
  });
}

/** Where a key comes to lie, and what runs on from it there. */
function placesOf(
  curve: Curve,
  row: number,
  first: number,
  last: number,
  start: number,
  end: number,
): Placed[] {
  const { times, segments } = curve;
  const holdsIn = row > first && segments[row - 1] === SEGMENT.stepped;
  const flowsIn = row > first && !holdsIn;
  // The last key holds to the end of the range when it came out of a hold.
  const holds =
    row < last ? segments[row] === SEGMENT.stepped : holdsIn || (row === first && isStepped(curve, row));
  const next = row < last ? times[row + 1]! : end + 1;
  const atHold = start + end - next + 1;
  const atPoint = start + end - times[row]!;
  // The key that comes to lie last leads on into what follows the range.
  const onward = row === first ? segments[last]! : segments[row - 1]!;
  if (!holds) return [{ row, time: atPoint, segment: onward, added: false }];
  if (!flowsIn)
    return [{ row, time: atHold, segment: row === first ? segments[last]! : SEGMENT.stepped, added: false }];
  const point: Placed = { row, time: atPoint, segment: onward, added: false };
  return [{ row, time: atHold, segment: SEGMENT.stepped, added: true }, point];
}

/** The beginning of a hold that an earlier reversal added: turned round again its neighbour says it all. */
function isSpare({ flags, segments, values }: Curve, row: number, last: number): boolean {
  return (
    row < last &&
    (flags[row]! & FLAG.turned) !== 0 &&
    segments[row] === SEGMENT.stepped &&
    segments[row + 1] !== SEGMENT.stepped &&
    values[row] === values[row + 1]
  );
}

const isStepped = ({ segments }: Curve, row: number) => segments[row] === SEGMENT.stepped;

/** Exchanges the two sides of a key; slopes run the other way. */
function turnKey(columns: Columns, i: number): void {
  exchangeSides(columns, i);
  // Never −0: turned twice it must be the same to the bit.
  for (const name of ['slopesIn', 'slopesOut'] as const)
    columns[name][i] = columns[name][i] === 0 ? 0 : -columns[name][i]!;
}
