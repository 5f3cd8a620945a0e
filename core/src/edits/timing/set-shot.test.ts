import { describe, expect, test } from '@jest/globals';
import { curveOf, framesPerSecond } from '../../document/shot.ts';
import { choose, curve, keysOf, pass, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

const shot = {
  ...puppet({ 'hips.ty': curve([0, 1, 10, 5, 24, 2]), 'arm_l.rz': curve([4, 30, 20, 12]) }),
  layers: [pass('lift', { members: ['hips'], weight: curve([4, 0, 16, 1]), range: { start: 2, end: 20 } })],
  poseColumns: { share: 0.5, added: [8], removed: [] },
};
const run = (options: object) => runEdit('timing.setShot', shot, choose({}), options);
const codes = (options: object) => run(options).report.findings.map(({ code }) => code);
const keys = (options: object, channel = 'hips.ty') => keysOf(curveOf(run(options).shot, null, channel));

describe('first and last frame', () => {
  test('are set, the other stays; no key moves', () => {
    expect(run({ end: 40 }).shot.range).toEqual({ start: 0, end: 40 });
    expect(run({ start: -6 }).shot.range).toEqual({ start: -6, end: 24 });
    expect(run({ start: 3, end: 30 }).shot.curves).toBe(shot.curves);
    expect(run({ end: 24 }).report.status).toBe('unchanged');
  });

  test('a shorter shot keeps what lies beyond, and says how many keys', () => {
    const { report, shot: after } = run({ start: 5, end: 20 });
    expect(report.findings.map(({ sentence }) => sentence).join()).toMatch(/3 keys lie outside/);
    expect(after.curves).toBe(shot.curves);
    expect(codes({ end: 30 })).toEqual([]);
  });

  test('a shot that ends before it starts is refused', () => {
    expect(run({ start: 30 }).report.status).toBe('refused');
    expect(run({ start: 5, end: 5 }).report.status).toBe('refused');
  });
});

describe('another rate', () => {
  test('keys keep their seconds: at twice the rate they stand on twice the frames, weights and columns too', () => {
    const { shot: after, time } = run({ rate: 48 });
    expect(framesPerSecond(after.rate)).toBe(48);
    expect(keys({ rate: 48 })).toBe('0:1 20:5 48:2');
    expect(keys({ rate: 48 }, 'arm_l.rz')).toBe('8:30 40:12');
    expect(after.range).toEqual({ start: 0, end: 48 });
    expect([...after.layers[0]!.weight.times]).toEqual([8, 32]);
    expect(after.layers[0]!.range).toMatchObject({ start: 4, end: 40 });
    expect(after.poseColumns?.added).toEqual([16]);
    expect(time).toBeDefined();
  });

  test('on whole frames by default, exact where that is asked', () => {
    expect(keys({ rate: 30 }).split(' ')[1]).toMatch(/^1[23]:5$/);
    expect(keys({ rate: 30, wholeFrames: false }).split(' ')[1]).toBe('12.5:5');
  });

  test('or keep their frames, and that it plays faster or slower is said', () => {
    const faster = run({ rate: 30, keep: 'frames' });
    expect(faster.shot.curves).toBe(shot.curves);
    expect(faster.report.findings[0]?.sentence).toMatch(/at 30 frames per second instead of 24.*faster/);
    expect(run({ rate: 12, keep: 'frames' }).report.findings[0]?.sentence).toMatch(/slower/);
    expect(faster.time).toBeUndefined();
  });

  test('rates of film and video are fractions of 1001, others of 1000; the same rate is no change', () => {
    expect(run({ rate: 29.97, keep: 'frames' }).shot.rate).toEqual({ numerator: 30000, denominator: 1001 });
    expect(run({ rate: 23.976, keep: 'frames' }).shot.rate).toEqual({ numerator: 24000, denominator: 1001 });
    expect(run({ rate: 12.5, keep: 'frames' }).shot.rate).toEqual({ numerator: 12500, denominator: 1000 });
    expect(run({ rate: 24 }).report.status).toBe('unchanged');
  });

  test('seconds and frames are reported', () => {
    expect(run({ end: 47 }).report.measures).toEqual([
      { name: 'seconds', before: 25 / 24, value: 2, unit: 's' },
      { name: 'frames', before: 25, value: 48, unit: '' },
    ]);
  });
});

test('rates apart by their exact ratio: 24 to 29.97 is × 1.24875, to 23.976 × 0.999, keys outside the shot too', () => {
  const long = { ...puppet({ 'hips.tx': curve([-80, 0, 0, 4, 1000, 7]) }), range: { start: 0, end: 1000 } };
  for (const [rate, ratio] of [
    [29.97, 30000 / 1001 / 24],
    [23.976, 1000 / 1001],
  ] as const) {
    const { shot } = runEdit('timing.setShot', long, choose({}), { rate, wholeFrames: false });
    const times = [...curveOf(shot, null, 'hips.tx').times];
    [-80, 0, 1000].forEach((time, i) => expect(times[i]).toBeCloseTo(time * ratio, 9));
    expect(shot.range.end).toBe(Math.round(1000 * ratio));
  }
});
