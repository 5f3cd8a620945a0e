import { describe, expect, test } from '@jest/globals';
import { FLAG, SEGMENT, TANGENT } from '../../curve/curve.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { curveOf, withCurves } from '../../document/shot.ts';
import { choose, curve, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';
import { copyTangents } from './set-tangents.ts';

const smooth = curve([0, 0, 10, 8, 16, 5, 30, 9]);
const straight = rebuild(smooth, null, (columns) => columns.segments.fill(SEGMENT.linear));
const broken = rebuild(smooth, null, (columns) => {
  columns.flags[1] = FLAG.broken;
  columns.tangentsIn[1] = columns.tangentsOut[1] = TANGENT.free;
  columns.slopesIn[1] = 3;
  columns.slopesOut[1] = -1;
});
const run = (options: object, of = smooth, keys = [2]) => {
  const shot = withCurves(puppet(), null, new Map([['hips.ty', of]]));
  return runEdit('tangents.set', shot, choose({ keys: { 'hips.ty': keys } }), options);
};
const after = (options: object, of = smooth, keys = [2]) =>
  curveOf(run(options, of, keys).shot, null, 'hips.ty');

test('a side alone asks for nothing', () => {
  expect(run({ side: 'in' }).report.status).toBe('unchanged');
  expect(run({ kind: 'flat' }, smooth, [1, 2, 3]).report.measures[0]?.value).toBe(3);
});

describe('stepped', () => {
  test('holds from the key on; on the side in, from the key before', () => {
    const segments = (side: string, keys = [2]) => [
      ...after({ kind: 'stepped', side }, smooth, keys).segments,
    ];
    const { cubic, stepped } = SEGMENT;
    expect(segments('both')).toEqual([cubic, stepped, cubic, cubic]);
    expect(segments('out')).toEqual([cubic, stepped, cubic, cubic]);
    expect(segments('in')).toEqual([stepped, cubic, cubic, cubic]);
    expect(segments('in', [1])).toEqual([cubic, cubic, cubic, cubic]);
  });
});

describe('a kind on one side', () => {
  test('breaks the key and leaves the other side', () => {
    const one = after({ kind: 'flat', side: 'out' });
    expect([one.tangentsIn[1], one.tangentsOut[1]]).toEqual([TANGENT.smooth, TANGENT.flat]);
    expect([one.slopesIn[1], one.slopesOut[1]]).toEqual([smooth.slopesIn[1], 0]);
    expect(one.flags[1]! & FLAG.broken).toBe(FLAG.broken);
  });

  test('on both joins a broken key, but for kinds that give each side its own', () => {
    expect(after({ kind: 'smooth' }, broken).flags[1]! & FLAG.broken).toBe(0);
    expect(after({ kind: 'free' }, broken).flags[1]! & FLAG.broken).toBe(FLAG.broken);
    expect(after({ kind: 'linear' }, broken).flags[1]! & FLAG.broken).toBe(FLAG.broken);
  });

  test('makes straight segments beside it cubic without bending their far ends', () => {
    const one = after({ kind: 'flat', side: 'in' }, straight);
    expect([...one.segments]).toEqual([SEGMENT.cubic, SEGMENT.linear, SEGMENT.linear, SEGMENT.linear]);
    const out = after({ kind: 'flat', side: 'out' }, straight);
    expect([...out.segments]).toEqual([SEGMENT.linear, SEGMENT.cubic, SEGMENT.linear, SEGMENT.linear]);
    const free = rebuild(straight, null, (columns) => {
      columns.tangentsIn.fill(TANGENT.free);
      columns.tangentsOut.fill(TANGENT.free);
      columns.slopesIn.fill(0);
      columns.slopesOut.fill(0);
    });
    const bent = after({ kind: 'flat' }, free);
    expect(bent.slopesOut[0]).toBeCloseTo(0.8, 12);
    expect(bent.slopesIn[2]).toBeCloseTo(-0.5, 12);
  });
});

describe('joining and breaking', () => {
  test('joined, a broken key takes the mean direction; one that is even keeps it and its rule', () => {
    const one = after({ broken: false }, broken);
    expect([one.slopesIn[1], one.slopesOut[1], one.flags[1]! & FLAG.broken]).toEqual([1, 1, 0]);
    expect(after({ broken: true }).flags[1]! & FLAG.broken).toBe(FLAG.broken);
    expect(after({ broken: false }).tangentsIn[1]).toBe(TANGENT.smooth);
  });
});

describe('handles', () => {
  test('a length on one side is that side’s alone', () => {
    const one = after({ length: 4, side: 'in' });
    expect([one.lengthsIn[1], one.flags[1]]).toEqual([4, FLAG.weightedIn]);
    const two = after({ length: 1.5, side: 'out' });
    expect([two.lengthsOut[1], two.flags[1]]).toEqual([1.5, FLAG.weightedOut]);
    expect([...two.lengthsIn]).toEqual([...smooth.lengthsIn]);
  });

  test('weighted lets handles be as they are, a third takes their length away', () => {
    expect(after({ weighted: true }).flags[1]).toBe(FLAG.weightedIn | FLAG.weightedOut);
    const long = after({ length: 5 });
    const third = after({ weighted: false }, long);
    expect(third.flags[1]).toBe(0);
    expect([third.lengthsIn[1], third.lengthsOut[1]]).toEqual([smooth.lengthsIn[1], smooth.lengthsOut[1]]);
  });
});

describe('the tangents of another key', () => {
  const like = copyTangents(broken, 1);

  test('kinds, directions, lengths and broken are given; the lock is not', () => {
    const one = after({ like }, smooth, [3]);
    expect([one.slopesIn[2], one.slopesOut[2]]).toEqual([3, -1]);
    expect(one.flags[2]! & FLAG.broken).toBe(FLAG.broken);
    const locked = rebuild(broken, null, (columns) => (columns.flags[1]! |= FLAG.locked));
    expect(copyTangents(locked, 1).flags & FLAG.locked).toBe(0);
  });

  test('given to one side they break the key, and the other side stays', () => {
    const one = after({ like, side: 'out' }, smooth, [3]);
    expect([one.slopesIn[2], one.slopesOut[2]]).toEqual([smooth.slopesIn[2], -1]);
    expect(one.flags[2]! & FLAG.broken).toBe(FLAG.broken);
    const held = { ...like, segment: SEGMENT.stepped };
    expect(after({ like: held, side: 'in' }, smooth, [3]).segments[2]).toBe(SEGMENT.cubic);
    expect(after({ like: held, side: 'out' }, smooth, [3]).segments[2]).toBe(SEGMENT.stepped);
  });
});
