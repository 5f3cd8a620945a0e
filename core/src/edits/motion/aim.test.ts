/** Throws and catches: parabolas by the textbook's formula (y = v t − g t² / 2), worked out here from the world alone. */
import { describe, expect, test } from '@jest/globals';
import { doughToss } from '../../demo/dough-toss.ts';
import { ovenDoor } from '../../demo/oven-door.ts';
import { curveOf, rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { NOTHING } from '../../document/selection.ts';
import { placeIn, worldAt } from '../../evaluation/evaluation.ts';
import { placeInSpace } from '../../rig/pose.ts';
import { curve, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';
import { drawnThrow } from './aim.ts';

const toss = doughToss();
const HANDS = { control: 'dough', from: 'hand_r', to: 'hand_l', release: 50, catch: 69 };
const threw = (shot: Shot, options: object = {}) =>
  runEdit('motion.aim', shot, NOTHING, { ...HANDS, ...options });
const codes = (told: ReturnType<typeof threw>) => told.report.findings.map(({ code }) => code);
const measure = (told: ReturnType<typeof threw>, of: string) =>
  told.report.measures.find(({ name }) => name === of)!;
const at = (shot: Shot, node: string, frame: number) =>
  placeIn(worldAt(shot, frame), rigOf(shot).indexOf(node));
const inHand = (shot: Shot, hand: string, frame: number) =>
  placeInSpace(worldAt(shot, frame), rigOf(shot).indexOf(hand), at(shot, 'dough', frame));
const near = (place: readonly number[], digits = 6) => place.map((value) => expect.closeTo(value, digits));
const apart = (a: readonly number[], b: readonly number[]) =>
  Math.hypot(...a.map((value, axis) => value - b[axis]!));

describe('from hand to hand', () => {
  const told = threw(toss);
  const { shot } = told;

  test('it leaves where the hand is, and lies in the other as it lay in the first, across the body', () => {
    expect(told.report.status).toBe('changed');
    for (const frame of [0, 17.5, 40, 49])
      expect(at(shot, 'dough', frame)).toEqual(near(at(toss, 'dough', frame), 2));
    expect(at(shot, 'dough', 50)).toEqual(near(at(toss, 'dough', 50)));
    // Both hands of Bram are at rest turned alike, but for their sides.
    const [left, right] = [inHand(shot, 'hand_l', 69), inHand(toss, 'hand_r', 50)];
    expect(left).toEqual(near([-right[0], right[1], right[2]]));
    for (const frame of [70, 101.3, 200, 240]) expect(inHand(shot, 'hand_l', frame)).toEqual(near(left));
    expect(measure(told, 'off the catch').value).toBeLessThan(1e-6);
  });

  test('in the air it is on the parabola of two keys', () => {
    const [from, to] = [at(shot, 'dough', 50), at(shot, 'dough', 69)];
    const seconds = 19 / 24;
    // Its turn is fitted to its keys in the first; where it does not turn two keys say all of it.
    const still = threw(toss, { turn: 'still' }).shot;
    for (let frame = 50; frame <= 68; frame += 0.25) {
      const t = (frame - 50) / 24;
      const straight = from.map((value, axis) => value + ((to[axis]! - value) * t) / seconds);
      straight[1]! += (980.665 / 2) * t * (seconds - t);
      expect(apart(at(shot, 'dough', frame), straight)).toBeLessThan(1e-5);
      expect(apart(at(still, 'dough', frame), straight)).toBeLessThan(1e-7);
    }
    for (const axis of ['tx', 'ty', 'tz']) {
      const inAir = curveOf(shot, null, `dough.${axis}`).times.filter((time) => time >= 50 && time < 69);
      expect([...inAir]).toEqual([50, 68]);
    }
    expect(codes(told)).not.toContain('flightStrays');
  });

  test('release and catch are switches; its turn in the air is as its keys say', () => {
    const [relation] = shot.relations.filter(({ node }) => node === 'dough');
    const spaces = curveOf(shot, null, relation!.switch!);
    const names = [...spaces.values].map((target) => relation!.targets[target]!.node);
    expect([[...spaces.times], names]).toEqual([
      [0, 50, 69],
      ['hand_r', null, 'hand_l'],
    ]);
    const row = rigOf(shot).indexOf('dough');
    for (const frame of [52, 58.5, 67]) {
      const [now, was] = [shot, toss].map((one) => worldAt(one, frame).turns.subarray(row * 4, row * 4 + 4));
      const cosine = Math.abs(now!.reduce((sum, value, k) => sum + value * was![k]!, 0));
      expect((2 * Math.acos(Math.min(1, cosine)) * 180) / Math.PI).toBeLessThan(0.1);
    }
  });

  test('what was written over is said, and the speed beside that of the hand', () => {
    const overwritten = told.report.findings.find(({ code }) => code === 'keysOverwritten')!;
    // Nine channels, keyed on each of the frames 50 to 240.
    expect(overwritten.sentence).toContain((9 * 191).toLocaleString('en-US'));
    const speed = measure(told, 'speed');
    const [a, b] = [at(shot, 'dough', 50), at(shot, 'dough', 50.001)];
    expect(speed.value).toBeCloseTo((apart(a, b) * 24_000) / 100, 2);
    const palm = [49.999, 50].map((frame) => {
      const pose = worldAt(toss, frame).matrices.subarray(rigOf(toss).indexOf('hand_r') * 16);
      const [x, y, z] = inHand(toss, 'hand_r', 50);
      return [0, 1, 2].map((k) => pose[k]! * x + pose[4 + k]! * y + pose[8 + k]! * z + pose[12 + k]!);
    });
    expect(speed.before).toBeCloseTo((apart(palm[0]!, palm[1]!) * 24_000) / 100, 1);
  });

  test('again, on what it made: the same', () => {
    const again = threw(shot);
    for (const frame of [20, 50, 60.5, 69, 200])
      expect(at(again.shot, 'dough', frame)).toEqual(near(at(shot, 'dough', frame)));
    expect(again.shot.relations).toHaveLength(shot.relations.length);
  });

  test('what it does in the hand that has it already stays, when it is aimed again', () => {
    const lifted = runEdit('keys.add', shot, { ...NOTHING, channels: ['dough.ty'] }, { frame: 90 }).shot;
    const moved = runEdit(
      'keys.move',
      lifted,
      { ...NOTHING, nodes: ['dough'], range: { start: 89, end: 91 } },
      { value: 4 },
    ).shot;
    const again = threw(moved).shot;
    for (const frame of [69, 80, 90, 120])
      expect(at(again, 'dough', frame)).toEqual(near(at(moved, 'dough', frame)));
    expect(at(again, 'dough', 90)).not.toEqual(near(at(shot, 'dough', 90), 1));
  });

  test('told not to turn it stays turned as it was let go', () => {
    const still = threw(toss, { turn: 'still' }).shot;
    const row = rigOf(still).indexOf('dough');
    const turnAt = (of: Shot, frame: number) => [...worldAt(of, frame).turns.subarray(row * 4, row * 4 + 4)];
    for (const frame of [51, 58.5, 68]) expect(turnAt(still, frame)).toEqual(near(turnAt(still, 50), 5));
    expect(turnAt(shot, 58.5)).not.toEqual(near(turnAt(shot, 50), 1));
  });

  test('the hand that catches moved: aimed again it meets it where it lies in it', () => {
    const later = runEdit('keys.move', shot, { ...NOTHING, nodes: ['upperarm_l'] }, { value: 15 }).shot;
    const hand = inHand(later, 'hand_l', 69);
    const told2 = threw(later);
    expect(inHand(told2.shot, 'hand_l', 69)).toEqual(near(hand));
    expect(at(told2.shot, 'dough', 68)).not.toEqual(near(at(shot, 'dough', 68), 1));
    expect(measure(told2, 'off the catch').value).toBeLessThan(1e-6);
  });
});

test('with the speed of the hand it misses, and how far is said', () => {
  const told = threw(toss, { speed: 'hand', turn: 'still' });
  const miss = measure(told, 'off the catch').value;
  const aimed = threw(toss).shot;
  expect(miss).toBeCloseTo(10 * apart(at(told.shot, 'dough', 69), at(aimed, 'dough', 69)), 4);
  expect(miss).toBeGreaterThan(100);
  const said = told.report.findings.find(({ code }) => code === 'catchMissed')!;
  expect(said.sentence).toMatch(/hand_l at 69 .*\d mm/);
  expect(measure(told, 'speed').value).toBeCloseTo(measure(told, 'speed').before!, 9);
});

test('held until a frame: what comes after it is as it was', () => {
  const { shot } = threw(toss, { until: 120 });
  for (const frame of [121, 140, 153.5, 240])
    expect(at(shot, 'dough', frame)).toEqual(near(at(toss, 'dough', frame), 2));
});

test('what hangs on something else moves as it did before it is let go, and after it was held', () => {
  const swinging = puppet({
    'arm_r.rz': curve([0, 0, 12, 40, 24, -10]),
    'arm_l.rz': curve([0, 10, 24, 60]),
    'hips.tx': curve([0, 0, 24, 50]),
  });
  const told = runEdit('motion.aim', swinging, NOTHING, {
    ...{ control: 'hand_r', from: 'hips', to: 'hand_l', release: 5, catch: 11, until: 15 },
  });
  expect(told.report.status).toBe('changed');
  for (const frame of [0, 3, 4, 5, 16, 18, 21, 24])
    expect(at(told.shot, 'hand_r', frame)).toEqual(near(at(swinging, 'hand_r', frame), 2));
  expect(measure(told, 'off the catch').value).toBeLessThan(1e-6);
});

test('a tray that has its switch: thrown to the other hand under the moon’s gravity, without a second relation', () => {
  const door = ovenDoor();
  const told = runEdit('motion.aim', door, NOTHING, {
    ...{ control: 'tray', from: 'hand_l', to: 'hand_r', release: 33, catch: 46, gravity: 0.1654 },
  });
  expect(told.report.status).toBe('changed');
  const { shot } = told;
  expect(shot.relations).toHaveLength(door.relations.length);
  const [relation] = shot.relations.filter(({ node }) => node === 'tray');
  expect(relation!.targets.map(({ node }) => node)).toEqual(['hand_l', 'hand_r', 'shelf', null]);
  for (const frame of [0, 20.5, 32])
    expect(at(shot, 'tray', frame)).toEqual(near(at(door, 'tray', frame), 9));
  const [a, b, c] = [36, 40, 44].map((frame) => at(shot, 'tray', frame)[1]);
  expect(((2 * b! - a! - c!) * 24 * 24) / 16).toBeCloseTo(0.1654 * 980.665, 4);
  expect(measure(told, 'off the catch').value).toBeLessThan(1e-6);
});

test('what is drawn ahead is what comes to be', () => {
  const drawn = drawnThrow(toss, HANDS)!;
  const { shot } = threw(toss);
  drawn.wanted.forEach((place, k) => expect(place).toEqual(near(at(shot, 'dough', 50 + k), 5)));
  expect(drawn.present[7]).toEqual(near(at(toss, 'dough', 57)));
  expect(drawnThrow(toss, { ...HANDS, catch: 40 })).toBeNull();
});

test.each([
  [{ catch: 50 }, /cannot be caught at 50 when it is let go at 50/],
  [{ until: 60 }, /cannot be held until 60/],
  [{ control: 'nobody' }, /nobody/],
  [{ from: 'nobody' }, /nobody/],
  [{ to: 'dough' }, /./],
  [{ control: 'eye_l' }, /eye_l cannot be moved/],
  [{ release: 49.5 }, /49.5/],
  [{ catch: 300 }, /300/],
])('%j is refused with a sentence', (options, sentence) => {
  const told = threw(toss, options);
  expect([told.report.status, told.shot === toss]).toEqual(['refused', true]);
  expect(told.report.findings[0]!.sentence).toMatch(sentence);
});
