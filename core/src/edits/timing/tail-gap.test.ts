/** The last pose has a gap too: to the end of the shot. */
import { expect, test } from '@jest/globals';
import { choose, curve, keysOf, puppet } from '../../testing/shot-literals.ts';
import { curveOf } from '../../document/shot.ts';
import { runEdit } from '../run-edit.ts';

const shot = puppet({ 'hips.ty': curve([0, 1, 8, 5, 20, 2]), 'arm_l.rz': curve([0, 0, 8, 30, 20, 9]) });
const run = (options: object) => runEdit('timing.setGap', shot, choose({}), options);

test('longer or shorter, it moves the end of the shot and no key', () => {
  for (const [options, end] of [
    [{ frame: 20, gap: 10 }, 30],
    [{ frame: 22, by: -2 }, 22],
    [{ frame: 24, by: 1 }, 25],
  ] as const) {
    const { shot: after } = run(options);
    expect(after.range).toEqual({ start: 0, end });
    expect(keysOf(curveOf(after, null, 'hips.ty'))).toBe('0:1 8:5 20:2');
  }
});

test('it is never shorter than a frame; the gaps before it are as they were', () => {
  expect(run({ frame: 20, by: -4 }).report.findings[0]?.code).toBe('gapTooShort');
  expect(keysOf(curveOf(run({ frame: 10, gap: 3 }).shot, null, 'hips.ty'))).toBe('0:1 8:5 11:2');
  expect(run({ frame: 40, by: 1 }).report.findings[0]?.code).toBe('noGapHere');
});

test('without ripple the pose slides between its neighbours; everything else is as it was', () => {
  const slid = run({ frame: 0, gap: 11, ripples: false }).shot;
  expect(keysOf(curveOf(slid, null, 'hips.ty'))).toBe('0:1 11:5 20:2');
  expect(keysOf(curveOf(slid, null, 'arm_l.rz'))).toBe('0:0 11:30 20:9');
  expect(slid.range).toEqual(shot.range);
  // The last but the end of the shot slides in its tail.
  expect(keysOf(curveOf(run({ frame: 8, by: 2, ripples: false }).shot, null, 'hips.ty'))).toBe(
    '0:1 8:5 22:2',
  );
  const far = run({ frame: 0, gap: 20, ripples: false }).report.findings[0]!;
  expect([far.code, far.sentence]).toEqual(['slidesTooFar', expect.stringMatching(/at most 19 stay/)]);
  const tail = run({ frame: 20, gap: 3, ripples: false }).report.findings[0]!;
  expect([tail.code, tail.sentence]).toEqual(['nothingToSlide', expect.stringMatching(/at frame 24/)]);
});
