/** Time through everything that holds frames: all layers, weights, bookends, columns, ranges; and cycles that go on. */
import { describe, expect, test } from '@jest/globals';
import type { Curve } from '../../curve/curve.ts';
import { SEGMENT } from '../../curve/curve.ts';
import { differenceOf } from '../../curve/difference.ts';
import { evaluate, slopeAt } from '../../curve/evaluate.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { DEMO_SHOTS } from '../../demo/bakery.ts';
import { weightOf } from '../../layers/weight.ts';
import { placeIn, valuesAt, worldAt } from '../../evaluation/evaluation.ts';
import { poseColumns } from '../../document/pose-columns.ts';
import { NOTHING } from '../../document/selection.ts';
import { curveOf, curvesIn, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { choose, curve, pass, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

const run = (shot: Shot, id: string, options: object = {}, selection = NOTHING) => {
  const result = runEdit(id, shot, selection, options);
  expect(result.report.findings.map(({ code }) => code).filter((code) => code.startsWith('bad'))).toEqual([]);
  return result;
};
const codes = (shot: Shot, id: string, options: object, selection = NOTHING) =>
  runEdit(id, shot, selection, options).report.findings.map(({ code }) => code);
const everywhere = (shot: Shot, frames: readonly number[]) =>
  frames.map((frame) => [...valuesAt(shot, frame)]);
const range = (start: number, end: number) => choose({ range: { start, end } });

/** A base, a pass with a keyed weight and bookends, columns set by hand; keys on no frame in common. */
function layered(): Shot {
  const base = puppet({
    'hips.tx': curve([0, 0, 7, 9, 13, -4, 24, 6]),
    'arm_l.rz': curve([2, 10, 11, 80, 19, -30]),
  });
  const over = withCurves(
    { ...base, layers: [pass('p', { range: { start: 3, end: 20 } })] },
    'p',
    new Map([['hips.tx', curve([3, 0, 10, 5, 20, 0])]]),
  );
  return {
    ...over,
    layers: [{ ...over.layers[0]!, weight: curve([0, 0.2, 12, 1, 24, 0.4]) }],
    poseColumns: { share: 0.5, added: [5, 16], removed: [13] },
  };
}

describe('what shows goes where its time goes, passes and weights with it', () => {
  const shot = layered();
  const frames = (from: number, to: number) =>
    Array.from({ length: (to - from) * 4 + 1 }, (_, i) => from + i / 4);
  const same = (a: number[][], b: number[][]) =>
    a.forEach((row, i) => row.forEach((value, c) => expect(value).toBeCloseTo(b[i]![c]!, 7)));

  test('a hold between keys', () => {
    const after = run(shot, 'timing.addHold', { frame: 9, frames: 5 }).shot;
    same(everywhere(after, frames(0, 9)), everywhere(shot, frames(0, 9)));
    same(
      everywhere(after, frames(9, 14)),
      frames(9, 14).map(() => [...valuesAt(shot, 9)]),
    );
    same(everywhere(after, frames(14, 29)), everywhere(shot, frames(9, 24)));
    expect(after.layers[0]!.range).toMatchObject({ start: 3, end: 25 });
    expect(after.poseColumns).toEqual({ share: 0.5, added: [5, 21], removed: [18] });
    expect(after.range.end).toBe(29);
  });

  test('a moving hold drifts on the base alone, and what follows is exact from its next keys on', () => {
    const after = run(shot, 'timing.movingHold', { frame: 11, frames: 4, drift: 0.1 }).shot;
    expect(evaluate(curveOf(after, null, 'arm_l.rz'), 15)).toBeCloseTo(80 + 7, 9);
    expect(evaluate(curveOf(after, 'p', 'hips.tx'), 15)).toBeCloseTo(
      evaluate(curveOf(shot, 'p', 'hips.tx'), 11),
      9,
    );
  });

  test('a part is stretched, pulled together about its end, or taken out', () => {
    const wide = run(shot, 'timing.stretch', { factor: 1.5 }, range(6, 14)).shot;
    same(everywhere(wide, frames(0, 6)), everywhere(shot, frames(0, 6)));
    same(everywhere(wide, frames(18, 28)), everywhere(shot, frames(14, 24)));
    const exact = run(shot, 'timing.stretch', { factor: 1.37, wholeFrames: false }, range(6, 14)).shot;
    for (const time of frames(6, 14))
      same([[...valuesAt(exact, 6 + 1.37 * (time - 6))]], [[...valuesAt(shot, time)]]);
    const short = run(
      shot,
      'timing.stretch',
      { factor: 0.5, pivot: 'end', ripple: false },
      range(6, 14),
    ).shot;
    same(everywhere(short, frames(0, 6)), everywhere(shot, frames(0, 6)));
    same(everywhere(short, frames(14, 24)), everywhere(shot, frames(14, 24)));
    const cut = run(shot, 'timing.removeTime', {}, range(8, 12)).shot;
    same(everywhere(cut, frames(0, 7)), everywhere(shot, frames(0, 7)));
    same(everywhere(cut, frames(8, 20)), everywhere(shot, frames(12, 24)));
    expect(cut.layers[0]!.range).toMatchObject({ start: 3, end: 16 });
  });

  test('stretched about its middle or end a range never runs over other poses, nor ahead of the shot', () => {
    expect(codes(shot, 'timing.stretch', { factor: 2, pivot: 'end' }, range(6, 14))).toEqual([
      'stretchOverlaps',
    ]);
    expect(codes(shot, 'timing.stretch', { factor: 2, pivot: 'middle' }, range(0, 14))).toEqual([
      'stretchOverlaps',
    ]);
    expect(codes(shot, 'timing.stretch', { factor: 2, ripple: false }, range(6, 14))).toEqual([
      'stretchOverlaps',
    ]);
    const apart = puppet({ 'hips.tx': curve([10, 0, 14, 8]) });
    const after = run(apart, 'timing.stretch', { factor: 2, pivot: 'end' }, range(10, 14)).shot;
    expect([...curveOf(after, null, 'hips.tx').times]).toEqual([6, 14]);
  });

  test('reversed in part and back again it is what it was; weights, bookends and columns turn with it', () => {
    const part = range(4, 18);
    const once = run(shot, 'timing.reverse', {}, part).shot;
    // The poses do not meet at the ends: over the frame beside each the curves run straight.
    same(everywhere(once, frames(0, 3)), everywhere(shot, frames(0, 3)));
    same(everywhere(once, frames(19, 24)), everywhere(shot, frames(19, 24)));
    for (const frame of frames(4, 18)) same([[...valuesAt(once, 22 - frame)]], [[...valuesAt(shot, frame)]]);
    expect(once.layers[0]!.range).toMatchObject({ start: 3, end: 20 });
    expect(once.poseColumns).toEqual({ share: 0.5, added: [6, 17], removed: [9] });
    const twice = run(once, 'timing.reverse', {}, part).shot;
    for (const [a, b] of [
      [0, 3],
      [4, 18],
      [19, 24],
    ] as const)
      same(everywhere(twice, frames(a, b)), everywhere(shot, frames(a, b)));
    const inside = {
      ...shot,
      layers: [{ ...shot.layers[0]!, range: { start: 6, end: 9, rampIn: 1, rampOut: 0 } }],
    };
    expect(run(inside, 'timing.reverse', {}, part).shot.layers[0]!.range).toEqual({
      start: 13,
      end: 16,
      rampIn: 0,
      rampOut: 1,
    });
  });

  test('there and back: the pass and its weight come back too', () => {
    const after = run(shot, 'timing.reverse', { append: true }, range(6, 24)).shot;
    for (const frame of frames(6, 24)) same([[...valuesAt(after, 48 - frame)]], [[...valuesAt(shot, frame)]]);
    expect(after.layers[0]!.range).toMatchObject({ start: 3, end: 42 });
    expect(after.poseColumns!.added).toEqual([5, 16, 32]);
  });

  test('looped, weights, bookends and columns are there on every turn, and an offset is not doubled', () => {
    const ramp = withCurves(shot, 'p', new Map([['hips.tx', curve([0, 0, 24, 10])]]));
    const after = run(ramp, 'timing.loop', { times: 3, winner: 'first' }, range(0, 24)).shot;
    const offset = curveOf(after, 'p', 'hips.tx');
    expect(Math.max(...offset.values)).toBeLessThanOrEqual(10 + 1e-9);
    for (let frame = 0; frame < 24; frame += 1) {
      expect(evaluate(offset, frame + 24)).toBeCloseTo(evaluate(offset, frame), 9);
      // Within its range it counts as it did, and between the turns not at all.
      const counts = weightOf(after.layers[0]!).at(frame + 48);
      if (frame >= 3 && frame <= 20) expect(counts).toBeCloseTo(weightOf(after.layers[0]!).at(frame), 6);
      else expect(counts).toBe(0);
    }
    expect(after.layers[0]!.range).toMatchObject({ start: 3, end: 68 });
    expect(after.poseColumns!.added).toEqual([5, 16, 29, 40, 53, 64]);
  });

  test('the chosen range goes along, and never reaches past the shot', () => {
    expect(run(shot, 'timing.addHold', { frame: 9, frames: 5 }, range(4, 12)).selection.range).toEqual({
      start: 4,
      end: 17,
    });
    expect(run(shot, 'timing.setGap', { frame: 5, gap: 3 }, range(20, 24)).selection.range).toEqual({
      start: 21,
      end: 25,
    });
    for (const id of [
      'timing.loop',
      'timing.reverse',
      'timing.stretch',
      'timing.removeTime',
      'poses.flipRange',
    ])
      expect(codes(shot, id, {}, range(7, 7))).toEqual(['badRange']);
  });
});

describe('repeats are not broken by time', () => {
  const loop: Curve = { ...curve([0, 0, 3, 9, 8, 0]), leadOut: 'loop' };
  const shot = puppet({ 'hips.ty': loop, 'arm_l.rz': curve([0, 0, 24, 30]) });

  test('a hold past the keys leaves a loop a loop and says so; baked it holds', () => {
    const kept = run(shot, 'timing.addHold', { frame: 13, frames: 4 });
    expect(curveOf(kept.shot, null, 'hips.ty')).toBe(loop);
    expect(kept.report.findings.map(({ code }) => code)).toContain('repeatsGoOn');
    const baked = run(shot, 'timing.addHold', { frame: 13, frames: 4, repeats: 'bake' });
    const one = curveOf(baked.shot, null, 'hips.ty');
    for (const frame of [13, 15, 17]) expect(evaluate(one, frame)).toBeCloseTo(evaluate(loop, 13), 9);
    for (const frame of [18, 21, 28]) expect(evaluate(one, frame)).toBeCloseTo(evaluate(loop, frame - 4), 9);
  });

  test('a hold where the repeats begin adds no key to the cycle; one inside the cycle is repeated with it, and that is said', () => {
    const at = run(shot, 'timing.addHold', { frame: 8, frames: 4 });
    expect(curveOf(at.shot, null, 'hips.ty')).toBe(loop);
    expect(at.report.findings.map(({ code }) => code)).toContain('repeatsGoOn');
    const ahead = { ...shot, range: { start: -10, end: 24 } };
    const early = withCurves(
      ahead,
      null,
      new Map([['hips.ty', { ...loop, leadIn: 'loop' as const, leadOut: 'hold' as const }]]),
    );
    const moved = curveOf(run(early, 'timing.addHold', { frame: 0, frames: 4 }).shot, null, 'hips.ty');
    expect([...moved.times]).toEqual([4, 7, 12]);
    const inside = run(shot, 'timing.addHold', { frame: 3, frames: 4 });
    expect([...curveOf(inside.shot, null, 'hips.ty').times]).toEqual([0, 3, 7, 12]);
    expect(inside.report.findings.map(({ code }) => code)).toContain('cycleChanged');
  });

  test('reversed as a whole the loop runs ahead of its keys; in part the repeats become keys', () => {
    const whole = run(shot, 'timing.reverse').shot;
    const turned = curveOf(whole, null, 'hips.ty');
    expect([turned.leadIn, turned.leadOut]).toEqual(['loop', 'hold']);
    for (let frame = 0; frame <= 24; frame += 0.5)
      expect(evaluate(turned, 24 - frame)).toBeCloseTo(evaluate(loop, frame), 9);
    const part = run(shot, 'timing.reverse', {}, range(10, 20));
    expect(part.report.findings.map(({ code }) => code)).toContain('repeatsBaked');
    for (const frame of [0, 4.5, 9, 21, 24])
      expect(evaluate(curveOf(part.shot, null, 'hips.ty'), frame)).toBeCloseTo(evaluate(loop, frame), 9);
    expect(evaluate(curveOf(part.shot, null, 'hips.ty'), 12)).toBeCloseTo(evaluate(loop, 18), 9);
  });
});

describe('warp', () => {
  const shot = puppet({ 'hips.tx': curve([0, 0, 24, 24], 'linear') });

  test('where time runs backward, what shows runs backward', () => {
    const points = [
      [0, 0],
      [16, 8],
      [4, 20],
    ];
    const after = run(shot, 'timing.warp', { points, mode: 'resample', backward: true }).shot;
    const one = curveOf(after, null, 'hips.tx');
    expect([0, 8, 20].map((frame) => evaluate(one, frame))).toEqual([0, 16, 4]);
    for (let frame = 9; frame <= 20; frame += 1)
      expect(evaluate(one, frame)).toBeLessThan(evaluate(one, frame - 1));
    expect(codes(shot, 'timing.warp', { points, mode: 'keys', backward: true })).toEqual(['warpFolds']);
  });

  test('on every frame it shows what the keys show that moved with it', () => {
    const made = puppet({ 'hips.tx': curve([0, 0, 6, 9, 13, -4, 24, 6]) });
    const points = [
      [0, 0],
      [10, 14],
      [24, 24],
    ];
    const sampled = run(made, 'timing.warp', { points, mode: 'resample' }).shot;
    const keys = run(made, 'timing.warp', { points, wholeFrames: false }).shot;
    const [one, other] = [sampled, keys].map((of) => curveOf(of, null, 'hips.tx')) as [Curve, Curve];
    // Keys do not land on frames here: samples are straight between theirs.
    other.times.forEach((time, row) =>
      expect(Math.abs(evaluate(one, time) - other.values[row]!)).toBeLessThan(0.4),
    );
    expect(evaluate(one, 14)).toBeCloseTo(evaluate(curveOf(made, null, 'hips.tx'), 10), 6);
  });
});

describe('stepped and back', () => {
  test('spline to stepped and back gives the same curves; switches stay stepped', () => {
    for (const make of DEMO_SHOTS.slice(0, 2)) {
      const shot = make.make();
      const stepped = run(shot, 'timing.toStepped').shot;
      const back = run(stepped, 'timing.toSpline', { complete: false }).shot;
      for (const [id, was] of curvesIn(shot.curves, shot.nodes)) {
        const now = curveOf(back, null, id);
        // The last key has no segment: what it would be is all that may differ.
        expect([...now.segments].slice(0, -1)).toEqual([...was.segments].slice(0, -1));
        expect(differenceOf(was, now, shot.range).greatest).toBeLessThan(1e-12);
        expect([...now.tangentsOut]).toEqual([...was.tangentsOut]);
      }
    }
  });

  test('an IK switch is no motion to be smoothed', () => {
    const shot = DEMO_SHOTS[1]!.make();
    const id = 'hand_goal_l.ik';
    const keyed = rebuild(curve([0, 0, 12, 1, 20, 0]), null, (columns) =>
      columns.segments.fill(SEGMENT.stepped),
    );
    const before = withCurves(shot, null, new Map([[id, keyed]]));
    expect(curveOf(run(before, 'timing.toSpline', { complete: false }).shot, null, id)).toBe(keyed);
  });
});

describe('cycles that travel', () => {
  const walk = (more: Record<string, Curve> = {}) =>
    puppet({ 'hips.tz': curve([0, 0, 12, 31, 24, 60]), 'hips.ty': curve([0, 90, 6, 95, 24, 96.7]), ...more });

  test('a rise is not travel: heights are the same on every turn, unless it is a stair', () => {
    const flat = run(walk(), 'timing.loop', { times: 3 }).shot;
    expect(evaluate(curveOf(flat, null, 'hips.ty'), 72)).toBeCloseTo(
      evaluate(curveOf(flat, null, 'hips.ty'), 0),
      9,
    );
    expect(evaluate(curveOf(flat, null, 'hips.tz'), 72)).toBeCloseTo(180, 9);
    const stair = run(walk(), 'timing.loop', { times: 3, rise: true }).shot;
    expect(evaluate(curveOf(stair, null, 'hips.ty'), 72)).toBeCloseTo(90 + 3 * 6.7, 9);
  });

  test.each(['yxz', 'xyz'] as const)('a walk that turns goes on in place and heading, order %s', (order) => {
    const made = walk({
      'hips.tx': curve([0, 5, 24, 22]),
      'hips.ry': curve([0, 10, 10, 30, 24, 50]),
      'hips.rx': curve([0, 4, 9, -3, 24, 4]),
    });
    const shot = {
      ...made,
      nodes: made.nodes.map((node) => (node.id === 'hips' ? { ...node, order } : node)),
    };
    const { shot: after, report } = run(shot, 'timing.loop', { times: 3, winner: 'first', blend: 1 });
    expect(report.findings.map(({ code }) => code)).toContain('headingCarried');
    const row = after.nodes.findIndex(({ id }) => id === 'hand_l');
    const hips = after.nodes.findIndex(({ id }) => id === 'hips');
    // Every turn is the turn before, moved as a rigid body: distances between where a joint is on frames a cycle apart agree.
    for (let frame = 0; frame <= 23; frame += 1) {
      const [a, b, c] = [0, 24, 48].map((shift) => worldAt(after, frame + shift));
      const seen = (pose: typeof a) => {
        const [p, q] = [placeIn(pose!, hips), placeIn(pose!, row)];
        return q.map((value, axis) => value - p[axis]!);
      };
      const [u, v, w] = [seen(a), seen(b), seen(c)];
      const turn = (from: number[], to: number[]) =>
        (Math.atan2(from[2]! * to[0]! - from[0]! * to[2]!, from[0]! * to[0]! + from[2]! * to[2]!) * 180) /
        Math.PI;
      expect(turn(u, v)).toBeCloseTo(turn(v, w), 4);
      expect(v[1]).toBeCloseTo(u[1]!, 4);
    }
    const place = (frame: number) => placeIn(worldAt(after, frame), hips);
    const step = (frame: number) =>
      Math.hypot(place(frame + 1)[0] - place(frame)[0], place(frame + 1)[2] - place(frame)[2]);
    for (let frame = 1; frame < 22; frame += 1) expect(step(frame + 24)).toBeCloseTo(step(frame), 5);
  });

  test('at the seam the velocity steps by less than a twentieth of the greatest inside, keys or samples; what is left is said', () => {
    const sparse = curve([0, 0, 5, 22, 13, -9, 24, 6], 'flat');
    const dense = curve(
      Array.from({ length: 25 }, (_, i) => [i, 20 * Math.sin(i / 4 + 1) + i / 3]).flat(),
      'linear',
    );
    for (const source of [sparse, curve([0, 0, 5, 22, 13, -9, 24, 6], 'linear'), dense]) {
      const shot = puppet({ 'arm_l.rz': source });
      const { shot: after, report } = run(shot, 'timing.loop', { times: 2, blend: 8 });
      const one = curveOf(after, null, 'arm_l.rz');
      const velocities = Array.from({ length: 24 * 50 }, (_, i) => Math.abs(slopeAt(one, i / 50)));
      const step = Math.abs(slopeAt(one, 24 - 1e-6) - slopeAt(one, 24));
      expect(step).toBeLessThanOrEqual(0.05 * Math.max(...velocities) + 1e-6);
      expect(report.measures.some(({ name }) => name === 'step in velocity at the seam, rotation')).toBe(
        true,
      );
    }
  });
});

describe('pose columns', () => {
  const two = (): Shot => {
    const shot = puppet();
    const twin = shot.nodes.map((node) => ({
      ...node,
      id: `${node.id}_2`,
      parent: node.parent && `${node.parent}_2`,
      pair: node.pair && `${node.pair}_2`,
      character: 'twin',
    }));
    const both = {
      ...shot,
      nodes: [...shot.nodes, ...twin],
      characters: [...shot.characters, { id: 'twin', name: 'Twin' }],
    };
    return withCurves(
      both,
      null,
      new Map([
        ['hips.tx', curve([0, 0, 8, 3, 16, 1])],
        ['arm_l.rz', curve([0, 0, 8, 3, 16, 1])],
        ['hips_2.tx', curve([0, 0, 5, 3, 11, 1])],
        ['arm_l_2.rz', curve([0, 0, 11, 1])],
      ]),
    );
  };

  test('each character has its own, and is completed on its own', () => {
    const shot = two();
    const { byCharacter, frames } = poseColumns(shot);
    expect([byCharacter.get('puppet'), byCharacter.get('twin'), frames]).toEqual([
      [0, 8, 16],
      [0, 5, 11],
      [0, 5, 8, 11, 16],
    ]);
    const after = run(shot, 'timing.completeColumns').shot;
    expect([...curveOf(after, null, 'hips.tx').times]).toEqual([0, 8, 16]);
    expect([...curveOf(after, null, 'arm_l_2.rz').times]).toEqual([0, 5, 11]);
  });

  test('of what is selected only the selected counts', () => {
    const shot = two();
    const after = run(
      shot,
      'timing.completeColumns',
      { scope: 'selected' },
      choose({ channels: ['arm_l_2.rz'] }),
    );
    expect(after.report.status).toBe('unchanged');
  });

  test('a longer shot may be dense no more: the columns are looked for again', () => {
    const keys = Array.from({ length: 20 }, (_, i) => [i, i % 3]).flat();
    const shot = { ...puppet({ 'hips.tx': curve(keys) }), range: { start: 0, end: 24 } };
    expect(poseColumns(shot).dense).toBe(true);
    expect(poseColumns({ ...shot, range: { start: 0, end: 200 } }).dense).toBe(false);
  });
});
