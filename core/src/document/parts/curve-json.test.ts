/** A file says no more of a curve than it must, and nothing is lost by that. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { COLUMN_NAMES, FLAG, SEGMENT, TANGENT } from '../../curve/curve.ts';
import type { Columns } from '../../curve/curve.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { anyCurve } from '../../testing/arbitrary-curves.ts';
import { curve } from '../../testing/shot-literals.ts';
import { curveFromJson, curveSchema, curveToJson } from './curve-json.ts';

const plain = curve([0, 1, 8, 5, 20, 2]);
const changed = (change: (columns: Columns) => void) => rebuild(plain, null, change);
const fieldsOf = (of: typeof plain) => Object.keys(curveToJson(of)).sort();

describe('what is written', () => {
  test('smooth cubics with ids in order: times and values alone', () => {
    expect(curveToJson(plain)).toEqual({ times: [0, 8, 20], values: [1, 5, 2] });
  });

  test('tangents of another rule as one number, and no slopes, which the rule gives', () => {
    expect(curveToJson(curve([0, 1, 8, 5], 'flat'))).toEqual({
      times: [0, 8],
      values: [1, 5],
      tangentsIn: TANGENT.flat,
      tangentsOut: TANGENT.flat,
    });
  });

  test.each(['tangentsIn', 'tangentsOut'] as const)('one free tangent in %s: slopes too', (side) => {
    const free = changed((columns) => {
      columns[side][1] = TANGENT.free;
      columns.slopesIn[1] = columns.slopesOut[1] = 3;
    });
    expect(fieldsOf(free)).toEqual(['slopesIn', 'slopesOut', side, 'times', 'values'].sort());
    expect(curveToJson(free)[side]).toHaveLength(3);
  });

  test('a locked key keeps its slopes', () => {
    const locked = changed((columns) => (columns.flags[1] = FLAG.locked));
    expect(fieldsOf(locked)).toEqual(['flags', 'slopesIn', 'slopesOut', 'times', 'values']);
  });

  test.each([
    ['in', FLAG.weightedIn],
    ['out', FLAG.weightedOut],
  ])('a handle with a length of its own on the side %s: lengths too', (_, flag) => {
    const weighted = changed((columns) => (columns.flags[1] = flag));
    expect(fieldsOf(weighted)).toEqual(['flags', 'lengthsIn', 'lengthsOut', 'times', 'values']);
  });

  test('segments that differ as a column, that agree as one number', () => {
    const some = changed((columns) => (columns.segments[0] = SEGMENT.linear));
    expect(curveToJson(some).segments).toEqual([SEGMENT.linear, SEGMENT.cubic, SEGMENT.cubic]);
    const all = changed((columns) => columns.segments.fill(SEGMENT.stepped));
    expect(curveToJson(all).segments).toBe(SEGMENT.stepped);
  });

  test('ids out of their order, leads and counts', () => {
    const ids = changed((columns) => columns.ids.set([1, 7, 3]));
    expect(curveToJson(ids).ids).toEqual([1, 7, 3]);
    const led = { ...plain, leadIn: 'slope', leadOut: 'loop', leadInCount: 0, leadOutCount: 4 } as const;
    expect(curveToJson(led)).toMatchObject({ leadIn: 'slope', leadOut: 'loop', leadOutCount: 4 });
    expect(fieldsOf(led)).not.toContain('leadInCount');
    expect(curveToJson({ ...led, leadInCount: 2 }).leadInCount).toBe(2);
  });
});

test('whatever a curve is, it comes back to the bit', () => {
  fc.assert(
    fc.property(anyCurve(), (before) => {
      const text = JSON.stringify(curveToJson(before));
      const after = curveFromJson(curveSchema.parse(JSON.parse(text)), 'it');
      // A file knows no −0.
      for (const name of COLUMN_NAMES)
        expect([name, ...after[name]]).toEqual([name, ...before[name].map((value) => value + 0)]);
      expect([after.leadIn, after.leadOut, after.leadInCount, after.leadOutCount]).toEqual([
        before.leadIn,
        before.leadOut,
        before.leadInCount,
        before.leadOutCount,
      ]);
    }),
  );
});

describe('what is refused', () => {
  const read = (json: object) => () => curveFromJson(curveSchema.parse(json), 'it');
  test.each<[object, RegExp]>([
    [{ times: [0, 1], values: [0] }, /“values” has 1 numbers for 2 keys/],
    [{ times: [0, 4, 4], values: [0, 1, 2] }, /times\[2\] does not come after times\[1\]/],
    [{ times: [0, 4, 3], values: [0, 1, 2] }, /times\[2\] does not come after times\[1\]/],
    [{ times: [0, 4], values: [0, 1], ids: [5, 5] }, /share an id/],
    [{ times: [0, 4], values: [0, 1], segments: [2] }, /“segments” has 1 numbers/],
  ])('%j', (json, words) => {
    expect(read(json)).toThrow(words);
  });
});
