import { describe, expect, test } from '@jest/globals';
import { seededRandom } from '../base/random.ts';
import { COLUMN_NAMES, FLAG, SEGMENT, TANGENT } from './curve.ts';
import type { Curve } from './curve.ts';
import { evaluate } from './evaluate.ts';
import { buildCurve } from './rebuild.ts';
import { reverseRange } from './reverse.ts';

/** A curve of all segment and tangent kinds from a seed, keys at both ends of 0…40. */
function anyCurve(seed: number): Curve {
  const random = seededRandom(seed);
  const frames = [...new Set([0, 40, ...Array.from({ length: 7 }, () => random.whole(1, 39))])].sort(
    (a, b) => a - b,
  );
  return buildCurve(frames.length, (columns) => {
    frames.forEach((frame, i) => {
      columns.times[i] = frame;
      columns.values[i] = random.gaussian() * 10;
      columns.segments[i] = random.whole(0, 2);
      columns.tangentsIn[i] = random.whole(0, 4);
      columns.tangentsOut[i] = random.whole(0, 4);
      columns.slopesIn[i] = random.gaussian();
      columns.slopesOut[i] = random.gaussian();
      columns.lengthsIn[i] = columns.lengthsOut[i] = 1;
      columns.flags[i] =
        random.whole(0, 1) * FLAG.weightedIn + random.whole(0, 1) * FLAG.weightedOut + FLAG.broken;
    });
  });
}

const columnsOf = (curve: Curve) => COLUMN_NAMES.map((name) => [name, [...curve[name]]]);

describe('a range played backward', () => {
  const seeds = Array.from({ length: 80 }, (_, i) => i + 1);

  test.each(seeds)('is the curve mirrored on every frame, seed %i', (seed) => {
    const before = anyCurve(seed);
    const after = reverseRange(before, 0, 40);
    for (let frame = 0; frame <= 40; frame += 1)
      expect(evaluate(after, 40 - frame)).toBeCloseTo(evaluate(before, frame), 9);
  });

  test.each(seeds)('reversed twice gives the same columns to the bit, seed %i', (seed) => {
    const before = anyCurve(seed);
    expect(columnsOf(reverseRange(reverseRange(before, 0, 40), 0, 40))).toEqual(columnsOf(before));
  });

  test('stepped poses keep their frames and none is lost', () => {
    const blocked = buildCurve(4, (columns) => {
      columns.times.set([0, 8, 16, 24]);
      columns.values.set([1, 2, 3, 4]);
      columns.segments.fill(SEGMENT.stepped);
      columns.tangentsIn.fill(TANGENT.steady);
    });
    const after = reverseRange(blocked, 0, 24);
    expect([...after.times]).toEqual([0, 1, 9, 17]);
    expect([...after.values]).toEqual([4, 3, 2, 1]);
  });

  test('what lies outside the range keeps its keys', () => {
    const before = anyCurve(5);
    const after = reverseRange(before, 10, 30);
    const outside = (curve: Curve) =>
      [...curve.times].flatMap((time, row) => (time < 10 || time > 30 ? [[time, curve.values[row]]] : []));
    expect(outside(after)).toEqual(outside(before));
  });
});
