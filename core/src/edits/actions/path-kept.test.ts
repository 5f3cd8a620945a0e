/** A flipped walk on the way that it went: the body is mirrored, where it goes is not. */
import { expect, test } from '@jest/globals';
import { rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { placeIn, worldAt } from '../../evaluation/evaluation.ts';
import { actionOf, run } from '../../testing/placed-actions.ts';
import { curve, puppet } from '../../testing/shot-literals.ts';

const [LAST, RADIUS, SWAY] = [192, 300, 5];
/** Degrees along a circle that it walks, facing along it. */
const bearing = (frame: number) => (180 * frame) / LAST;
const wave = (frame: number) => SWAY * Math.sin((2 * Math.PI * frame) / 24);
const RADIANS = Math.PI / 180;
const along = (value: (frame: number) => number) =>
  curve(Array.from({ length: LAST + 1 }, (_, frame) => [frame, value(frame)]).flat());
/** Round to its left, about (RADIUS, 0), at that distance from the middle. */
const round = (frame: number, radius: number) => [
  RADIUS - radius * Math.cos(bearing(frame) * RADIANS),
  radius * Math.sin(bearing(frame) * RADIANS),
];
const action = actionOf(
  {
    'hips.tx': along((frame) => round(frame, RADIUS + wave(frame))[0]!),
    'hips.tz': along((frame) => round(frame, RADIUS + wave(frame))[1]!),
    'hips.ry': along(bearing),
    'arm_l.rz': curve([0, 0, 40, 30, 96, -10]),
  },
  LAST,
);
const empty = { ...puppet(), range: { start: 0, end: LAST } };
const apply = (more: object) => run(empty, 'actions.apply', { action, frame: 0, ...more }).shot;
const placeOf = (shot: Shot, frame: number) => placeIn(worldAt(shot, frame), rigOf(shot).indexOf('hips'));
/** How far out it is on that circle. */
const out = (shot: Shot, frame: number) => {
  const [x, , z] = placeOf(shot, frame);
  return Math.hypot(x - RADIUS, z) - RADIUS;
};
const headingOf = (shot: Shot, frame: number) => {
  const { matrices } = worldAt(shot, frame);
  const row = rigOf(shot).indexOf('hips');
  return Math.atan2(matrices[row * 16 + 8]!, matrices[row * 16 + 10]!) / RADIANS;
};

test('it goes where it went and sways to the other side; mirrored it goes to the other side', () => {
  const [kept, mirrored] = [apply({ flipped: true, path: 'kept' }), apply({ flipped: true })];
  for (const frame of [30, 66, 78, 102.5, 126, 160]) {
    // Near its ends less is known of where it goes.
    expect(Math.abs(out(kept, frame) + wave(frame))).toBeLessThan(frame > 50 && frame < 140 ? 0.8 : 2.5);
    expect(Math.abs(headingOf(kept, frame) - bearing(frame))).toBeLessThan(1);
  }
  expect(placeOf(mirrored, LAST)[0]).toBeLessThan(-RADIUS / 2);
  expect(placeOf(kept, LAST)[0]).toBeGreaterThan(RADIUS / 2);
  for (const id of ['arm_r.rz'] as const)
    expect(kept.curves[rigOf(kept).indexOf('arm_r')]![id.slice(6)]).toEqual(
      mirrored.curves[rigOf(mirrored).indexOf('arm_r')]![id.slice(6)],
    );
});

test('a block and what is renewed go that way too; of what is not flipped nothing changes', () => {
  const keys = apply({ flipped: true, path: 'kept' });
  const kept = { id: 'walk', print: 'a' };
  const block = run(empty, 'actions.place', {
    ...{ action, frame: 0, flipped: true, path: 'kept', kept, rampIn: 0, rampOut: 0 },
  }).shot;
  const renewed = run(block, 'actions.renew', {
    ...{
      stored: block.actions![0]!.id,
      action: { ...action, notes: 'again' },
      kept: { ...kept, print: 'b' },
      asPlaced: true,
    },
  }).shot;
  for (const frame of [10, 37.5, 80])
    for (const shot of [block, renewed])
      placeOf(keys, frame).forEach((value, axis) =>
        expect(placeOf(shot, frame)[axis]!).toBeCloseTo(value, 6),
      );
  expect(apply({ path: 'kept' }).curves).toEqual(apply({}).curves);
});
