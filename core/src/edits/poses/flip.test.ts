/** Flipping poses and ranges: a true reflection in space, and a full walk out of half a cycle. */
import { describe, expect, test } from '@jest/globals';
import { COLUMN_NAMES } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { evaluate } from '../../curve/evaluate.ts';
import { DEMO_SHOTS } from '../../demo/bakery.ts';
import { ovenDoor } from '../../demo/oven-door.ts';
import { nightRound } from '../../demo/night-round.ts';
import { readBvh } from '../../interchange/bvh/read-bvh.ts';
import { angleBetween, conjugate, mirrorX, multiply } from '../../math/quaternion.ts';
import { placeIn, valuesAt, worldAt } from '../../evaluation/evaluation.ts';
import { flipTest } from '../../mirror/flip-test.ts';
import { NOTHING } from '../../document/selection.ts';
import { curveOf, curvesIn, rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { openData } from '../../testing/open-data.ts';
import { choose, curve, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

const run = (shot: Shot, edit: string, options: object, selection = NOTHING) => {
  const outcome = runEdit(edit, shot, selection, options);
  expect(outcome.report.status).toBe('changed');
  return outcome;
};
const columnsOf = (shot: Shot) =>
  [...curvesIn(shot.curves, shot.nodes)].map(([id, one]) => [
    id,
    ...COLUMN_NAMES.map((name) => [...one[name]]),
  ]);

/** How far the body in `b` at frame q is from the mirror image of `a` at frame p: cm, degrees. */
function mirrorGap(a: Shot, p: number, b: Shot, q: number, left: ReadonlySet<string>, travel = 0) {
  const rig = rigOf(a);
  const [was, now] = [worldAt(a, p), worldAt(b, q)];
  let [distance, angle] = [0, 0];
  rig.nodes.forEach((node, i) => {
    if (node.pair === null || left.has(node.id) || left.has(node.pair)) return;
    const j = rig.indexOf(node.pair);
    const [x, y, z] = placeIn(was, i);
    const [u, v, w] = placeIn(now, j);
    distance = Math.max(distance, Math.hypot(u + x, v - y, w - z - travel));
    const turn = (pose: typeof was, k: number) =>
      multiply(pose.turns.subarray(k * 4, k * 4 + 4), conjugate(rig.restTurns[k]!));
    angle = Math.max(angle, angleBetween(turn(now, j), mirrorX(turn(was, i))));
  });
  return { distance, angle };
}

test('a part of a range: inside it the mirror image, outside it nothing moves, wherever the keys are', () => {
  // Keys on, ahead of, beyond and all outside of the range; a partner without any, and one that leaves its rest.
  const shot = puppet({
    'arm_l.rz': curve([0, 10, 9, 40, 24, -20]),
    'arm_r.rz': curve([0, -35]),
    'arm_l.ry': curve([11, 0, 15, 30]),
    'hand_r.rx': curve([20, 25, 24, 5]),
    'hand_l.rx': curve([2, 7, 4, 12]),
    'hips.tx': curve([1, 2, 13, 8, 22, -3]),
  });
  const range = { start: 8, end: 16 };
  const flipped = run(shot, 'poses.flipRange', { plane: 'world' }, choose({ range })).shot;
  for (const frame of [8, 9, 12.4, 15, 16]) {
    const gap = mirrorGap(shot, frame, flipped, frame, new Set());
    expect([frame, gap.distance < 1e-6, gap.angle < 1e-4]).toEqual([frame, true, true]);
  }
  for (const frame of [0, 2, 5.5, 7, 17, 19, 21.3, 24])
    valuesAt(flipped, frame).forEach((value, c) => expect(value).toBeCloseTo(valuesAt(shot, frame)[c]!, 9));
});

describe('a pose', () => {
  test('flipped, the body is its mirror image to 1e-6; flipped twice, it is what it was', () => {
    const shot = DEMO_SHOTS[0]!.make();
    const body = choose({
      nodes: shot.nodes.filter(({ character }) => character === 'bram').map(({ id }) => id),
    });
    const once = run(shot, 'poses.flip', { frame: 58, props: false, plane: 'world' }, body).shot;
    const gap = mirrorGap(shot, 58, once, 58, new Set(['dough', 'camera']));
    expect(gap.distance).toBeLessThan(1e-6);
    expect(gap.angle).toBeLessThan(1e-4);
    const twice = run(once, 'poses.flip', { frame: 58, props: false, plane: 'world' }, body).shot;
    valuesAt(twice, 58).forEach((value, c) => expect(value).toBeCloseTo(valuesAt(shot, 58)[c]!, 8));
  });

  test('mirrored, the right becomes the image of the left, and the left stays', () => {
    const shot = puppet({ 'arm_l.rz': curve([0, 30]), 'arm_r.rz': curve([0, 5]), 'hips.ry': curve([0, 9]) });
    const { shot: after } = run(shot, 'poses.mirror', { frame: 0, from: 'left' });
    expect(evaluate(curveOf(after, null, 'arm_r.rz'), 0)).toBeCloseTo(-30, 9);
    expect(evaluate(curveOf(after, null, 'arm_l.rz'), 0)).toBe(30);
    expect(evaluate(curveOf(after, null, 'hips.ry'), 0)).toBe(9);
  });

  test('blended half way to the column before, and beyond 100 %', () => {
    const shot = puppet({ 'hips.ty': curve([0, 10, 8, 30, 16, 0]) });
    const at = (amount: number) =>
      evaluate(
        curveOf(run(shot, 'poses.blend', { frame: 8, toward: 'previous', amount }).shot, null, 'hips.ty'),
        8,
      );
    expect(at(0.5)).toBeCloseTo(20, 9);
    expect(at(1.5)).toBeCloseTo(0, 9);
    const rest = run(shot, 'poses.rest', { frame: 8 }).shot;
    expect(evaluate(curveOf(rest, null, 'hips.ty'), 8)).toBe(0);
    expect(
      runEdit('poses.blend', shot, NOTHING, { frame: 16, toward: 'next' }).report.findings[0]!.code,
    ).toBe('noNeighbour');
  });
});

test.each([...Array.from({ length: 8 }, (_, i) => 3 + 11 * i)])(
  'Oven door: flipped on frame %i, the tray lies where its mirror image lay, whoever carries it',
  (frame) => {
    const shot = ovenDoor();
    const { shot: after, report } = run(shot, 'poses.flip', { frame, plane: 'world' });
    // What nobody moves stands where it stands.
    const seen = new Set(['tray', 'hand_l', 'hand_r', 'head']);
    const others = new Set(shot.nodes.map(({ id }) => id).filter((id) => !seen.has(id)));
    const gap = mirrorGap(shot, frame, after, frame, others);
    expect(gap.distance).toBeLessThan(1e-6);
    expect(gap.angle).toBeLessThan(1e-4);
    expect(report.findings.map(({ code }) => code)).toContain('carriedAsBefore');
  },
);

describe('Night round: half a cycle becomes a walk', () => {
  const half = nightRound();
  const left = new Set(['hand_goal_l', 'hand_goal_r', 'elbow_pole_l', 'elbow_pole_r', 'tray', 'camera']);
  // The arms hang on the goals that are left out, and so do not mirror.
  const arms = half.nodes.filter(({ part }) => part === 'hand' || part === 'arm').map(({ id }) => id);
  const apart = new Set([...left, ...arms]);
  const options = { append: true, hands: false, props: false };
  const whole = run(half, 'poses.flipRange', options);

  test('the second half is the reflection of the first, to 1e-6 in space, travel carried on', () => {
    expect(whole.shot.range.end).toBe(32);
    for (let frame = 0.5; frame <= 16; frame += 0.5) {
      const gap = mirrorGap(half, frame, whole.shot, frame + 16, apart, 34);
      expect(gap.distance).toBeLessThan(1e-6);
      expect(gap.angle).toBeLessThan(1e-4);
      // And the first half is what it was.
      const [was, now] = [worldAt(half, frame), worldAt(whole.shot, frame)];
      was.matrices.forEach((value, k) => expect(Math.abs(now.matrices[k]! - value)).toBeLessThan(1e-9));
    }
  });

  test('hands and tray go on as they are', () => {
    const { shot } = whole;
    for (const frame of [4, 9, 12]) {
      const grip = (at: number) => evaluate(curveOf(shot, null, 'hand_goal_l.ty'), at);
      expect(grip(frame + 16)).toBeCloseTo(grip(frame), 1);
      const tray = (at: number) =>
        evaluate(curveOf(shot, null, 'tray.tz'), at) - evaluate(curveOf(shot, null, 'root.tz'), at);
      expect(tray(frame + 16)).toBeCloseTo(tray(frame), 6);
    }
    expect(whole.report.findings.map(({ code }) => code)).toContain('excluded');
  });

  test('looped four times, nothing pops at a seam: no joint steps farther there than inside the cycle', () => {
    const { shot } = run(whole.shot, 'timing.loop', { times: 4 });
    expect(shot.range).toEqual({ start: 0, end: 127 });
    expect(evaluate(curveOf(shot, null, 'root.tz'), 128)).toBeCloseTo(4 * 68, 6);
    const step = (frame: number) => {
      const [a, b] = [worldAt(shot, frame), worldAt(shot, frame + 1)];
      return Math.max(
        ...shot.nodes.map((_, i) => Math.hypot(...placeIn(a, i).map((v, k) => v - placeIn(b, i)[k]!))),
      );
    };
    const inside = Math.max(...Array.from({ length: 28 }, (_, i) => step(i + 2)));
    for (const seam of [32, 64, 96])
      expect(Math.max(step(seam - 1), step(seam))).toBeLessThanOrEqual(inside + 1e-6);
  });

  test('flipped twice in place: identical columns', () => {
    const twice = run(run(half, 'poses.flipRange', {}).shot, 'poses.flipRange', {}).shot;
    // All columns but the ids: keys that went to the other side are new keys there.
    const shapes = (shot: Shot) => columnsOf(shot).map((row) => row.slice(0, -1));
    expect(shapes(twice)).toEqual(shapes(half));
  });

  test('a range outside the shot, and a rig without pairs, are refused with a sentence', () => {
    const outside = runEdit('poses.flipRange', half, choose({ range: { start: 4, end: 40 } }), {});
    expect(outside.report.findings[0]!.code).toBe('rangeOutsideShot');
    const alone = { ...half, nodes: half.nodes.map((node) => ({ ...node, pair: null })) };
    expect(runEdit('poses.flipRange', alone, NOTHING, {}).report.findings[0]!.code).toBe('noPairs');
  });
});

describe('the flip test', () => {
  test('Bram mirrors himself', () => {
    expect(
      flipTest(nightRound()).filter(({ state, node }) => state !== 'mirror' && node !== 'camera'),
    ).toEqual([]);
  });

  test('01_01.bvh (Debian, assimp-testmodels): pairs from its names; every joint turns as its mirror image', () => {
    const { shot } = readBvh(new TextDecoder().decode(openData('BVH/01_01.bvh')), '01_01');
    const results = flipTest(shot);
    const pair = results.find(({ node }) => node === 'LeftForeArm')!;
    expect(pair.pair).toBe('RightForeArm');
    for (const { angle, twice, state } of results) {
      expect(['mirror', 'uneven']).toContain(state);
      expect(angle).toBeLessThan(1e-4);
      expect(twice).toBeLessThan(1e-6);
    }
    // Captured skeletons are not quite the same on both sides: the test says by how much.
    expect(Math.max(...results.map(({ distanceMm }) => distanceMm))).toBeLessThan(30);
  });

  test('wrong signs by hand are found, and taken back', () => {
    const shot = nightRound();
    const wrong = run(shot, 'poses.setFlipSigns', { node: 'thigh_l', signs: { rx: 1, ry: 1, rz: 1 } }).shot;
    const result = flipTest(wrong).find(({ node }) => node === 'thigh_l')!;
    expect(result.state).toBe('off');
    expect(result.angle).toBeGreaterThan(10);
    const { report } = run(wrong, 'poses.flip', { frame: 4 });
    expect(report.findings.map(({ code }) => code)).toContain('notAMirror');
    const mended = run(wrong, 'poses.setFlipSigns', { node: 'thigh_l', signs: null }).shot;
    expect(flipTest(mended).find(({ node }) => node === 'thigh_l')!.state).toBe('mirror');
  });

  test('a partner that is not mutual is said, and setting it mends both', () => {
    const shot = puppet({ 'arm_l.rz': curve([0, 4]) });
    const odd = {
      ...shot,
      nodes: shot.nodes.map((node) => (node.id === 'arm_l' ? { ...node, pair: 'hand_r' } : node)),
    };
    expect(flipTest(odd).find(({ node }) => node === 'arm_l')!.state).toBe('not mutual');
    const set = run(odd, 'poses.setPair', { node: 'arm_l', pair: 'arm_r', side: 'left' }).shot;
    expect(flipTest(set).find(({ node }) => node === 'arm_l')!.state).toBe('mirror');
  });
});

describe('a range and repeats', () => {
  const loop = (keys: readonly number[]): Curve => ({ ...curve(keys), leadOut: 'loop' });
  const shot = {
    ...puppet({ 'arm_l.rz': loop([0, 10, 6, 40, 12, 10]), 'arm_r.rz': loop([0, -5, 4, -60, 12, -5]) }),
    range: { start: 0, end: 48 },
  };
  const at = (of: Shot, id: string, frame: number) => evaluate(curveOf(of, null, id), frame);

  test('a part that lies in the repeats is flipped there, and what lies outside stays', () => {
    const { shot: after, report } = runEdit(
      'poses.flipRange',
      shot,
      choose({ nodes: ['arm_l'], range: { start: 18, end: 30 } }),
      {},
    );
    expect(report.findings.map(({ code }) => code)).toContain('repeatsBaked');
    for (let frame = 0; frame <= 48; frame += 1) {
      const inside = frame >= 18 && frame <= 30;
      if (frame === 17 || frame === 31) continue;
      expect([frame, at(after, 'arm_l.rz', frame)]).toEqual([
        frame,
        expect.closeTo(inside ? -at(shot, 'arm_r.rz', frame) : at(shot, 'arm_l.rz', frame), 6),
      ]);
    }
  });

  test('the whole shot is flipped with its loops, which stay loops', () => {
    const { shot: after } = runEdit('poses.flipRange', shot, choose({ nodes: ['arm_l'] }), {});
    expect(curveOf(after, null, 'arm_l.rz').leadOut).toBe('loop');
    for (let frame = 0; frame <= 48; frame += 3)
      expect(at(after, 'arm_l.rz', frame)).toBeCloseTo(-at(shot, 'arm_r.rz', frame), 6);
  });
});
