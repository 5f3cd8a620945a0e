/** What the edits on keys do: the transform box, pasting, values, deleting with the shape kept. */
import { describe, expect, test } from '@jest/globals';
import { FLAG, SEGMENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { differenceOf } from '../../curve/difference.ts';
import { evaluate } from '../../curve/evaluate.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { copyKeys } from '../../shot/clip.ts';
import type { Selection } from '../../shot/selection.ts';
import { curveOf } from '../../shot/shot.ts';
import type { Shot } from '../../shot/shot.ts';
import { choose, curve, keysOf, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

const swing = curve([0, 10, 4, 12, 8, -6, 12, 3, 24, 10]);
const base = puppet({ 'hips.ty': swing, 'arm_l.rz': curve([2, 5, 8, 25, 20, -5]) });
const hips = choose({ channels: ['hips.ty'] });
const after = (id: string, options: object, selection: Selection = hips, shot: Shot = base) =>
  runEdit(id, shot, selection, options).shot;
const ty = (shot: Shot) => curveOf(shot, null, 'hips.ty');

describe('the transform box', () => {
  test('flipped twice in value, and twice in time: the same columns', () => {
    const mixed: Curve = rebuild(swing, null, (columns) => {
      columns.segments[1] = SEGMENT.stepped;
      columns.segments[2] = SEGMENT.linear;
      columns.flags[3] = FLAG.weightedOut;
      columns.lengthsOut[3] = 2.5;
    });
    const shot = puppet({ 'hips.ty': mixed });
    for (const flip of [{ scaleValue: -1 }, { scaleTime: -1, timePivot: 'centre' }]) {
      const back = ty(after('keys.transform', flip, hips, after('keys.transform', flip, hips, shot)));
      for (const name of ['times', 'values', 'slopesIn', 'slopesOut', 'lengthsIn', 'lengthsOut'] as const)
        back[name].forEach((value, row) => expect(value).toBeCloseTo(mixed[name][row]!, 12));
      expect([...back.tangentsIn, ...back.flags]).toEqual([...mixed.tangentsIn, ...mixed.flags]);
    }
  });

  test('turned round in time the curve runs backward', () => {
    const turned = ty(after('keys.transform', { scaleTime: -1, timePivot: 'centre' }));
    for (let frame = 0; frame <= 24; frame += 0.5)
      expect(evaluate(turned, 24 - frame)).toBeCloseTo(evaluate(swing, frame), 9);
  });

  test('stretched and scaled about pivots, several curves at once', () => {
    const both = choose({ channels: ['hips.ty', 'arm_l.rz'] });
    const shot = after('keys.transform', { scaleTime: 2, scaleValue: 0.5, valuePivot: 'zero' }, both);
    expect(keysOf(ty(shot))).toBe('0:5 8:6 16:-3 24:1.5 48:5');
    expect(keysOf(curveOf(shot, null, 'arm_l.rz'))).toBe('4:2.5 16:12.5 40:-2.5');
    for (let frame = 0; frame <= 24; frame += 0.5)
      expect(evaluate(ty(shot), frame * 2)).toBeCloseTo(evaluate(swing, frame) / 2, 9);
  });

  test('pivots: centre, first, last, typed', () => {
    const values = (valuePivot: string, pivotValue = 0) => [
      ...ty(after('keys.transform', { scaleValue: 2, valuePivot, pivotValue })).values,
    ];
    expect(values('centre')).toEqual([17, 21, -15, 3, 17]);
    expect(values('first')).toEqual([10, 14, -22, -4, 10]);
    expect(values('typed', 12)).toEqual([8, 12, -24, -6, 8]);
  });

  test('a taper holds fully at one end and fades to the other', () => {
    const end = ty(after('keys.transform', { scaleValue: 3, taper: 'end', valuePivot: 'zero' }));
    expect([...end.values].map((value) => Math.round(value * 1e6) / 1e6)).toEqual([10, 16, -10, 6, 30]);
  });

  test('a sign flip of one channel about zero', () => {
    expect(keysOf(ty(after('keys.transform', { scaleValue: -1, valuePivot: 'zero' })))).toBe(
      '0:-10 4:-12 8:6 12:-3 24:-10',
    );
  });
});

describe('copy and paste', () => {
  const hop = puppet({ 'hips.tz': curve([0, 0, 6, 10, 12, 60]), 'hips.ty': curve([0, 90, 6, 120, 12, 90]) });
  const both = choose({ channels: ['hips.tz', 'hips.ty'] });

  test('a forward hop pasted twice carries on: what travels goes on, what does not stays', () => {
    const clip = copyKeys(hop, { ...both, range: { start: 0, end: 12 } });
    let shot = hop;
    for (const frame of [12, 24])
      shot = runEdit('keys.paste', shot, choose({}), { clip, frame, value: 'carryOn' }).shot;
    expect(keysOf(curveOf(shot, null, 'hips.tz'))).toBe('0:0 6:10 12:60 18:70 24:120 30:130 36:180');
    expect(keysOf(curveOf(shot, null, 'hips.ty'))).toBe('0:90 6:120 12:90 18:120 24:90 30:120 36:90');
    expect(shot.range.end).toBe(36);
    const { report } = runEdit('keys.paste', hop, choose({}), { clip, frame: 12, value: 'carryOn' });
    expect(
      report.measures
        .filter(({ name }) => name === 'carried on')
        .map(({ where, value }) => [where!.channel, value]),
    ).toEqual([['hips.tz', 60]]);
  });

  test('ends of the copied range are keyed first, so that nothing drifts', () => {
    const clip = copyKeys(base, { ...hips, range: { start: 6, end: 10 } })!;
    expect(clip.curves['hips.ty']!.times).toEqual([0, 2, 4]);
    const pasted = ty(runEdit('keys.paste', puppet(), choose({}), { clip, frame: 6 }).shot);
    expect(differenceOf(pasted, swing, { start: 6, end: 10 }).greatest).toBeLessThan(1e-9);
  });

  test('replace, merge, insert', () => {
    const clip = copyKeys(puppet({ 'hips.ty': curve([0, 1, 4, 2]) }), hips);
    const way = (mode: string) =>
      keysOf(ty(runEdit('keys.paste', base, choose({}), { clip, frame: 6, mode }).shot));
    expect(way('replace')).toBe('0:10 4:12 6:1 10:2 12:3 24:10');
    expect(way('merge')).toBe('0:10 4:12 6:1 8:-6 10:2 12:3 24:10');
    expect(way('insert')).toBe('0:10 4:12 6:1 10:2 12:-6 16:3 28:10');
  });

  test('relative: added to the curve that is there', () => {
    const level = puppet({ 'hips.ty': curve([0, 50, 24, 50]) });
    const clip = copyKeys(puppet({ 'hips.ty': curve([0, 7, 4, 9, 8, 7]) }), hips);
    expect(
      keysOf(ty(runEdit('keys.paste', level, choose({}), { clip, frame: 8, value: 'relative' }).shot)),
    ).toBe('0:50 8:50 12:52 16:50 24:50');
  });

  test('one onto many, many onto many by name and kind; what finds no place is named', () => {
    const clip = copyKeys(base, choose({ channels: ['arm_l.rz'] }));
    const many = runEdit('keys.paste', base, choose({ channels: ['arm_r.rx', 'hand_r.ry'] }), { clip });
    expect(many.report.touched).toEqual(['arm_r.rx', 'hand_r.ry']);
    const two = copyKeys(base, choose({ channels: ['arm_l.rz', 'hips.ty'] }));
    const other = runEdit('keys.paste', base, choose({ channels: ['hand_r.rx', 'hand_r.rz'] }), {
      clip: two,
    });
    expect(other.report.touched).toEqual(['hand_r.rz']);
    expect(other.report.findings[0]!.sentence).toContain('hips.ty');
  });

  test('whole curves land where they were; keys at the frame; what is foreign is refused', () => {
    const whole = copyKeys(base, hips)!;
    expect([whole.whole, whole.start]).toEqual([true, 0]);
    const keys = copyKeys(base, choose({ keys: { 'hips.ty': [2, 3] } }))!;
    expect([keys.whole, keys.start, keys.length]).toEqual([false, 4, 4]);
    expect(runEdit('keys.paste', base, hips, { clip: { format: 'text' } }).report.findings[0]!.code).toBe(
      'badOption',
    );
    expect(copyKeys(base, choose({}))).toBeNull();
  });
});

test('set value: typed, and added', () => {
  const keys = choose({ keys: { 'hips.ty': [2, 4] } });
  expect(keysOf(ty(after('keys.setValue', { value: 7 }, keys)))).toBe('0:10 4:7 8:-6 12:7 24:10');
  expect(keysOf(ty(after('keys.setValue', { value: -2, relative: true }, keys)))).toBe(
    '0:10 4:10 8:-6 12:1 24:10',
  );
});

test('delete keeping the shape: nearer than deleting alone, ends stay, an added key leaves no trace', () => {
  const added = after('keys.add', { frame: 6 });
  const id = ty(added).ids[ty(added).times.indexOf(6)]!;
  const removed = ty(after('keys.deleteKeepingShape', {}, choose({ keys: { 'hips.ty': [id] } }), added));
  expect(differenceOf(removed, swing, { start: 0, end: 24 }).greatest).toBeLessThan(1e-6);
  const one = choose({ keys: { 'hips.ty': [2] } });
  const keeping = differenceOf(ty(after('keys.deleteKeepingShape', {}, one)), swing, {
    start: 0,
    end: 24,
  }).greatest;
  const plain = differenceOf(ty(after('keys.delete', {}, one)), swing, { start: 0, end: 24 }).greatest;
  expect(keeping).toBeLessThan(plain);
});
