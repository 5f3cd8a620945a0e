/** What the edits on keys do: the transform box, pasting, values, deleting with the shape kept. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { FLAG, SEGMENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { differenceOf } from '../../curve/difference.ts';
import { evaluate } from '../../curve/evaluate.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { addKeysKeepingShape } from '../../curve/split.ts';
import { copyKeys } from '../../evaluation/clip.ts';
import type { Selection } from '../../document/selection.ts';
import { curveOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { anyCurve } from '../../testing/arbitrary-curves.ts';
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
    expect(way('insert')).toBe('0:10 4:12 5:8.273438 6:1 10:2 11:2.5625 13:-6 17:3 29:10');
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

describe('keys that cannot go where they are sent', () => {
  const locked = (keys: readonly number[], row: number) =>
    rebuild(curve(keys), null, (columns) => (columns.flags[row] = FLAG.locked));

  test.each([
    ['keys.move', { frames: 4 }],
    ['keys.transform', { moveFrames: 4 }],
    ['timing.offset', { order: 'selection', step: -4 }],
  ])(
    '%s: a key before a locked one stays, and so does the key that would land on it; no key is lost',
    (id, options) => {
      // Down the selection the second control moves by the step, so hips.ty goes by −4 there.
      const keys = id === 'timing.offset' ? [4, 9, 8, 7, 12, 5, 20, 1] : [0, 1, 4, 5, 8, 7, 12, 9];
      const row = id === 'timing.offset' ? 0 : 3;
      const other = { 'arm_l.rx': curve([0, 1, 5, 2]) };
      const shot = puppet({ ...other, 'hips.ty': locked(keys, row) });
      const selection = choose({ channels: id === 'timing.offset' ? ['arm_l.rx', 'hips.ty'] : ['hips.ty'] });
      const { shot: after, report } = runEdit(id, shot, selection, options);
      expect(curveOf(after, null, 'hips.ty').times).toHaveLength(4);
      expect(report.findings.map(({ code }) => code)).toEqual(['lockedKeys', 'blockedByLocked']);
    },
  );

  test('numbers beyond what can be computed with are refused with a sentence', () => {
    const huge = puppet({ 'hips.ty': curve([0, 1e306, 8, -1e306]) });
    const by = { scaleValue: 1000 };
    const { report, shot } = runEdit('keys.transform', huge, choose({ nodes: ['hips'] }), by);
    expect([report.status, report.findings[0]!.code, shot === huge]).toEqual([
      'refused',
      'valuesTooLarge',
      true,
    ]);
    for (const given of [{ moveByChannel: { 'hips.ty': 1e308 } }, { pivotByChannel: { 'hips.ty': 1e300 } }])
      expect(
        runEdit('keys.transform', huge, choose({ nodes: ['hips'] }), given).report.findings[0]!.code,
      ).toBe('badOption');
    const clip = {
      ...copyKeys(puppet({ 'hips.ty': curve([0, 1, 4, 2]) }), choose({ nodes: ['hips'] }))!,
      start: 1e300,
    };
    expect(runEdit('keys.paste', huge, choose({}), { clip }).report.status).toBe('refused');
  });
});

test('flipped in time over a part, stepped and straight kinds go along and what lies outside stays', () => {
  fc.assert(
    fc.property(anyCurve({ whole: true, fewest: 5 }), (source) => {
      const last = source.times.length - 1;
      const range = { start: source.times[1]!, end: source.times[last - 1]! };
      const { shot } = runEdit(
        'keys.transform',
        puppet({ 'hips.ty': source }),
        choose({ channels: ['hips.ty'], range }),
        {
          scaleTime: -1,
          timePivot: 'centre',
          wholeFrames: false,
        },
      );
      const after = curveOf(shot, null, 'hips.ty');
      const kinds = [...source.segments.subarray(1, last - 1)].reverse();
      expect([...after.segments]).toEqual([
        source.segments[0],
        ...kinds,
        source.segments[last - 1],
        source.segments[last],
      ]);
      const middle = range.start + range.end;
      const ruled = (row: number) => source.tangentsIn[row] !== 0 || source.tangentsOut[row] !== 0;
      for (let row = 2; row + 2 < last; row += 1) {
        // Keys beside the cut have other neighbours now, and rules look at those.
        if (
          source.segments[row] === SEGMENT.stepped ||
          (row === 2 && ruled(1)) ||
          (row + 3 === last && ruled(last - 1))
        )
          continue;
        for (const share of [0.2, 0.5, 0.9]) {
          const time = source.times[row]! + share * (source.times[row + 1]! - source.times[row]!);
          expect(evaluate(after, middle - time)).toBeCloseTo(evaluate(source, time), 8);
        }
      }
    }),
    { numRuns: 60 },
  );
});

describe('delete keeping the shape', () => {
  const deleted = (source: Curve, ids: readonly number[]) =>
    curveOf(
      runEdit(
        'keys.deleteKeepingShape',
        puppet({ 'hips.ty': source }),
        choose({ keys: { 'hips.ty': ids } }),
        {},
      ).shot,
      null,
      'hips.ty',
    );

  test('keys that were added to a smooth curve go again, and every key left is joined', () => {
    const source = curve([0, 3, 9, 20, 17, -4, 30, 8]);
    const added = addKeysKeepingShape(source, [2, 4.5, 12, 13, 25]);
    const known = new Set(source.ids);
    const after = deleted(
      added,
      [...added.ids].filter((id) => !known.has(id)),
    );
    expect(keysOf(after)).toBe(keysOf(source));
    expect(differenceOf(source, after, { start: -5, end: 40 }).greatest).toBeLessThan(1e-9 * 24);
    expect([...after.flags]).toEqual([0, 0, 0, 0]);
  });

  test('a slope that would cost is not shared: it comes as near as slopes of its own', () => {
    const source = rebuild(curve([0, 0, 6, 0, 12, 9, 18, 0, 24, 0], 'linear'), null, (columns) => {
      columns.slopesIn.set([0, 3, 1, 0, 2]);
      columns.slopesOut.set([0, -3, 1, 1, 2]);
    });
    const after = deleted(source, [source.ids[1]!, source.ids[3]!]);
    const alone = [0, 12].map((start) => {
      // Least squares over both slopes, found by a search that shares no code with the edit.
      const times = Array.from({ length: 63 }, (_, k) => start + (12 * (k + 1)) / 64);
      let best = Infinity;
      for (let a = -6; a <= 6; a += 0.05)
        for (let b = -6; b <= 6; b += 0.05) {
          const [v0, v1] = [evaluate(source, start), evaluate(source, start + 12)];
          let squares = 0;
          for (const time of times) {
            const u = (time - start) / 12;
            const value =
              v0 * (1 + 2 * u) * (1 - u) ** 2 +
              v1 * u * u * (3 - 2 * u) +
              12 * (a * u * (1 - u) ** 2 + b * u * u * (u - 1));
            squares += (value - evaluate(source, time)) ** 2;
          }
          best = Math.min(best, squares);
        }
      return { times, best };
    });
    for (const { times, best } of alone) {
      const squares = times.reduce(
        (sum, time) => sum + (evaluate(after, time) - evaluate(source, time)) ** 2,
        0,
      );
      expect(squares).toBeLessThan(best * 1.05 + 1e-9);
    }
  });

  test('beside segments that stay nothing changes outside, and a joined key keeps its slope where that is no worse', () => {
    fc.assert(
      fc.property(anyCurve({ flowing: true, fewest: 5 }), (source) => {
        const after = deleted(source, [source.ids[2]!]);
        const outside = [
          { start: -9, end: source.times[1]! },
          { start: source.times[3]!, end: source.times[source.times.length - 1]! + 5 },
        ];
        for (const range of outside)
          expect(differenceOf(source, after, range).greatest).toBeLessThan(1e-9 * 80);
      }),
      { numRuns: 60 },
    );
  });
});
