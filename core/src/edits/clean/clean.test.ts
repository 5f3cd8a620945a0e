/** What the edits that clean curves do, beside the contract. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { seededRandom } from '../../base/random.ts';
import { FLAG, rowAtTime, rowOfId, SEGMENT, TANGENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { differenceOf } from '../../curve/difference.ts';
import { evaluate, slopeAt } from '../../curve/evaluate.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { withoutRedundant } from '../../curve/redundant.ts';
import { addKeysKeepingShape } from '../../curve/split.ts';
import { DEMO_SHOTS } from '../../demo/bakery.ts';
import { EULER_ORDERS, quatFromEuler } from '../../math/euler.ts';
import type { Quaternion } from '../../math/euler.ts';
import { angleBetween } from '../../math/quaternion.ts';
import { placeIn, worldAt } from '../../evaluation/evaluation.ts';
import { curveOf, rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { anyCurve } from '../../testing/arbitrary-curves.ts';
import { choose, curve, keysOf, puppet } from '../../testing/shot-literals.ts';
import { runEdit, startEdit } from '../run-edit.ts';

const turnAt = (shot: Shot, node: string, frame: number) => {
  const row = rigOf(shot).indexOf(node);
  return [...worldAt(shot, frame).turns.subarray(row * 4, row * 4 + 4)] as Quaternion;
};

describe('unwrap', () => {
  test('no step of more than 180°, every key the same orientation; seeded angles', () => {
    for (const seed of [1, 2, 3, 4]) {
      const random = seededRandom(seed);
      const keys = Array.from({ length: 30 }, (_, i) => [i, Math.round(random.gaussian() * 500)]).flat();
      const before = puppet({ 'arm_l.rz': curve(keys, 'linear') });
      const { shot } = runEdit('clean.unwrap', before, choose({ nodes: ['arm_l'] }), {});
      const { values } = curveOf(shot, null, 'arm_l.rz');
      for (let i = 1; i < values.length; i += 1)
        expect(Math.abs(values[i]! - values[i - 1]!)).toBeLessThanOrEqual(180);
      for (let frame = 0; frame < 30; frame += 1)
        expect(angleBetween(turnAt(before, 'arm_l', frame), turnAt(shot, 'arm_l', frame))).toBeLessThan(1e-5);
    }
  });

  test('the 360° flip on a wrist of Dough toss goes in one step', () => {
    const shot = DEMO_SHOTS[0]!.make();
    const { report } = runEdit('clean.unwrap', shot, choose({ nodes: ['hand_r', 'hand_l'] }), {});
    expect(report.measures[0]).toMatchObject({ name: 'steps taken out', value: 1 });
  });
});

test.each(EULER_ORDERS)('rotation order %s: the orientation is what it was, on every frame', (order) => {
  const before = puppet({
    'arm_l.rx': curve([0, 10, 24, 80]),
    'arm_l.ry': curve([0, -30, 12, 60, 24, 5]),
    'arm_l.rz': curve([0, 0, 24, 200]),
  });
  const { shot, report } = runEdit('clean.rotationOrder', before, choose({ nodes: ['arm_l'] }), { order });
  expect(shot.nodes.find(({ id }) => id === 'arm_l')!.order).toBe(order);
  for (let frame = 0; frame <= 24; frame += 1)
    expect(angleBetween(turnAt(before, 'arm_l', frame), turnAt(shot, 'arm_l', frame))).toBeLessThan(1e-5);
  if (report.status === 'changed') expect(report.measures[1]!.value).toBeLessThan(1e-5);
  // Shoemake, Graphics Gems IV (recomputed): Euler zxy, x 10°, y 20°, z 30°.
  const q: Quaternion = [0, 0, 0, 1];
  quatFromEuler(q, 0, 10, 20, 30, 'zxy');
  expect(q.map((part) => Number(part.toFixed(10)))).toEqual([
    0.0381345765, 0.1893078574, 0.2685358228, 0.9437143641,
  ]);
});

test('what thinning has so far is a part of what it gives in the end, and nothing else', () => {
  const toss = DEMO_SHOTS.find(({ id }) => id === 'dough-toss')!.make();
  const [lowest, highest] = [toss.range.start, toss.range.start + 40];
  const selection = choose({
    nodes: toss.nodes.slice(0, 8).map(({ id }) => id),
    range: { start: lowest, end: highest },
  });
  const options = { measureSpace: false };
  const work = startEdit('clean.thin', toss, selection, options);
  const seen: Shot[] = [];
  let step = work.next();
  for (; !step.done; step = work.next()) if (step.value.soFar) seen.push(step.value.soFar());
  const { shot, report } = step.value;
  expect(seen.length).toBeGreaterThan(3);
  const differing = (a: Shot, b: Shot) =>
    report.touched.filter((id) => curveOf(a, null, id) !== curveOf(b, null, id)).length;
  for (const part of seen) expect(differing(part, toss) + differing(part, shot)).toBe(report.touched.length);
  const course = seen.map((part) => differing(part, toss));
  expect(course).toEqual([...course].sort((a, b) => a - b));
  expect(course.at(-1)).toBeGreaterThan(0);
});

describe('drop redundant', () => {
  test('keys that were added without changing the shape go again, and the curve is the same', () => {
    const source = curve([0, 3, 8, 20, 20, -4]);
    let shot = puppet({ 'hips.ty': source });
    for (const frame of [3, 5, 11, 14.5, 19])
      shot = runEdit('keys.add', shot, choose({ channels: ['hips.ty'] }), { frame }).shot;
    const after = runEdit('clean.dropRedundant', shot, choose({ channels: ['hips.ty'] }), {}).shot;
    expect(keysOf(curveOf(after, null, 'hips.ty'))).toBe('0:3 8:20 20:-4');
    expect(
      differenceOf(source, curveOf(after, null, 'hips.ty'), { start: 0, end: 20 }).greatest,
    ).toBeLessThan(1e-9);
  });

  test('straight and stepped stretches keep their corners only', () => {
    const steps = rebuild(curve([0, 1, 2, 1, 4, 1, 6, 5, 8, 5, 10, 2]), null, (columns) =>
      columns.segments.fill(SEGMENT.stepped),
    );
    const shot = puppet({ 'hips.ty': steps, 'hips.tx': curve([0, 0, 4, 4, 8, 8, 12, 0], 'linear') });
    const after = runEdit('clean.dropRedundant', shot, choose({ nodes: ['hips'] }), {}).shot;
    expect(keysOf(curveOf(after, null, 'hips.ty'))).toBe('0:1 6:5 10:2');
    const lines = rebuild(curve([0, 0, 4, 4, 8, 8, 12, 0]), null, (columns) =>
      columns.segments.fill(SEGMENT.linear),
    );
    const straight = runEdit(
      'clean.dropRedundant',
      puppet({ 'hips.tx': lines }),
      choose({ nodes: ['hips'] }),
      {},
    ).shot;
    expect(keysOf(curveOf(straight, null, 'hips.tx'))).toBe('0:0 8:8 12:0');
  });
});

test('resample: keys on every Nth frame, on the curve', () => {
  const source = curve([0, 3, 8.5, 20, 20, -4]);
  const { shot, report } = runEdit(
    'clean.resample',
    puppet({ 'hips.ty': source }),
    choose({ nodes: ['hips'] }),
    { every: 1 },
  );
  const after = curveOf(shot, null, 'hips.ty');
  expect([...after.times]).toEqual(Array.from({ length: 21 }, (_, i) => i));
  for (let frame = 0; frame <= 20; frame += 1)
    expect(evaluate(after, frame)).toBeCloseTo(evaluate(source, frame), 9);
  const measured = report.measures.find(({ name }) => name === 'greatest change')!.value;
  expect(measured).toBeCloseTo(differenceOf(source, after, { start: 0, end: 20 }).greatest, 12);
  expect(measured).toBeLessThan(0.05);
});

test('snap: keys land on whole frames; those that meet are merged and counted', () => {
  const shot = puppet({ 'hips.ty': curve([0.2, 1, 0.9, 2, 3.4, 3, 5, 4]) });
  const { shot: after, report } = runEdit('clean.snap', shot, choose({ nodes: ['hips'] }), {});
  expect(keysOf(curveOf(after, null, 'hips.ty'))).toBe('0:1 1:2 3:3 5:4');
  expect(report.measures.map(({ value }) => Math.round(value * 10) / 10)).toEqual([3, 0.4]);
  const merged = runEdit(
    'clean.snap',
    puppet({ 'hips.ty': curve([1, 7, 1.3, 9]) }),
    choose({ nodes: ['hips'] }),
    {},
  );
  expect(keysOf(curveOf(merged.shot, null, 'hips.ty'))).toBe('1:7');
  expect(merged.report.findings[0]!.code).toBe('keysMerged');
});

test('smooth: captured jitter goes down, keys and their frames stay, spikes go', () => {
  const shot = DEMO_SHOTS[0]!.make();
  const arm = choose({ nodes: ['upperarm_r', 'forearm_r'] });
  const roughness = (of: Shot) => {
    const { values } = curveOf(of, null, 'forearm_r.ry');
    return values.reduce(
      (sum, value, i) => (i < 2 ? 0 : sum + Math.abs(value - 2 * values[i - 1]! + values[i - 2]!)),
      0,
    );
  };
  for (const options of [{}, { method: 'lowPass', cutoff: 4 }]) {
    const { shot: after } = runEdit('clean.smooth', shot, arm, options);
    expect(roughness(after)).toBeLessThan(roughness(shot) / 2);
    expect([...curveOf(after, null, 'forearm_r.ry').times]).toEqual([
      ...curveOf(shot, null, 'forearm_r.ry').times,
    ]);
  }
});

test('rescale ×5: every joint five times as far from zero, no joint turned, back again exactly', () => {
  const shot = DEMO_SHOTS[1]!.make();
  const large = runEdit('clean.rescale', shot, choose({ nodes: ['hips'] }), { factor: 5 }).shot;
  const rig = rigOf(shot);
  for (const frame of [0, 7, 16]) {
    const [was, now] = [worldAt(shot, frame), worldAt(large, frame)];
    shot.nodes.forEach((node, row) => {
      if (node.character !== 'bram') return;
      placeIn(was, row).forEach((value, axis) => expect(placeIn(now, row)[axis]).toBeCloseTo(value * 5, 6));
      expect(angleBetween(turnAt(shot, node.id, frame), turnAt(large, node.id, frame))).toBeLessThan(1e-4);
    });
  }
  const back = runEdit('clean.rescale', large, choose({ nodes: ['hips'] }), { factor: 0.2 }).shot;
  expect(placeIn(worldAt(back, 7), rig.indexOf('head'))[1]).toBeCloseTo(
    placeIn(worldAt(shot, 7), rig.indexOf('head'))[1],
    9,
  );
});

describe('resample and drop redundant, held against the curve itself', () => {
  const flags = (of: Curve, row: number) => of.flags[row]! & (FLAG.weightedIn | FLAG.weightedOut);

  test('resampled over a part: locked keys and all outside stay to 1e-9, grid keys have the curve’s slopes', () => {
    fc.assert(
      fc.property(
        anyCurve({ weighted: true, fewest: 4 }),
        fc.constantFrom(0.5, 1, 1.7),
        fc.nat(),
        (source, every, pick) => {
          const last = source.times.length - 1;
          const locked = rebuild(
            source,
            null,
            (columns) => (columns.flags[pick % (last + 1)]! |= FLAG.locked),
          );
          const range = { start: source.times[1]!, end: source.times[last - 1]! };
          const given = choose({ channels: ['hips.tx'], range });
          const { shot } = runEdit('clean.resample', puppet({ 'hips.tx': locked }), given, { every });
          const after = curveOf(shot, null, 'hips.tx');
          const size = Math.max(...source.values.map(Math.abs)) + 1;
          for (const side of [
            { start: source.times[0]! - 3, end: range.start },
            { start: range.end, end: source.times[last]! + 3 },
          ])
            expect(differenceOf(locked, after, side).greatest).toBeLessThan(1e-9 * size);
          const held = locked.ids[pick % (last + 1)]!;
          expect(after.values[rowOfId(after, held)]).toBe(locked.values[rowOfId(locked, held)]);
          const open = [...locked.times].filter(
            (time, row) => row > 0 && row < last && (locked.flags[row]! & FLAG.locked) === 0,
          );
          if (open.length < 2) return;
          for (let k = Math.ceil(open[0]! / every); k * every < open[open.length - 1]!; k += 1) {
            // A key a hair beside the grid stands for it.
            if (locked.times.some((time) => time !== k * every && Math.abs(time - k * every) < 1e-4))
              continue;
            const row = rowAtTime(after, k * every);
            expect(row).toBeGreaterThanOrEqual(0);
            expect(after.values[row]).toBeCloseTo(evaluate(locked, after.times[row]!), 9);
            const there = rowAtTime(locked, k * every) >= 0;
            const slope = slopeAt(locked, after.times[row]!);
            if (!there && after.segments[row] === SEGMENT.cubic && Math.abs(slope) < 1e3)
              expect(after.slopesOut[row]! / (1 + Math.abs(slope))).toBeCloseTo(
                slope / (1 + Math.abs(slope)),
                6,
              );
          }
        },
      ),
      { numRuns: 60 },
    );
  });

  test('a resampled weighted curve keeps no handle of a segment that is gone', () => {
    const eased = runEdit(
      'tangents.retangent',
      puppet({ 'hips.tx': curve([0, 0, 9, 40, 20, -3]) }),
      choose({ nodes: ['hips'] }),
      {
        method: 'ease',
        ease: 0.8,
      },
    ).shot;
    const after = curveOf(
      runEdit('clean.resample', eased, choose({ nodes: ['hips'] }), { every: 4 }).shot,
      null,
      'hips.tx',
    );
    expect([...after.times]).toEqual([0, 4, 8, 12, 16, 20]);
    // Between 8 and 12 stood the key at 9; the other segments are parts of old ones.
    expect(flags(after, 2) & FLAG.weightedOut).toBe(0);
    expect(flags(after, 1) & FLAG.weightedOut).toBe(FLAG.weightedOut);
  });

  test('more samples than can be held are refused before anything is tried', () => {
    const shot = puppet({ 'hips.tx': curve([-1e6, 0, 1e6, 5]) });
    const { report } = runEdit('clean.resample', shot, choose({ nodes: ['hips'] }), { every: 0.01 });
    expect(report.findings.map(({ code }) => code)).toEqual(['notSampleable']);
    const one = puppet({ 'hips.tx': curve([3, 1]) });
    expect(runEdit('clean.resample', one, choose({ nodes: ['hips'] }), {}).report.findings[0]!.code).toBe(
      'tooFewKeys',
    );
  });

  test('redundant keys: whatever was added goes again, and a slow parabola does not drift away', () => {
    fc.assert(
      fc.property(
        anyCurve({ fewest: 3 }),
        fc.array(fc.double({ min: -3, max: 40, noNaN: true }), { maxLength: 20 }),
        (source, times) => {
          const added = addKeysKeepingShape(source, times);
          const after = withoutRedundant(added, () => true);
          const size = Math.max(...source.values) - Math.min(...source.values) + 1;
          expect(after.times.length).toBeLessThanOrEqual(source.times.length + 2);
          expect(differenceOf(source, after, { start: -5, end: 60 }).greatest).toBeLessThan(1e-7 * size);
        },
      ),
      { numRuns: 60 },
    );
    for (const bend of [1e-9, 1e-7, 1e-5, 0.01]) {
      const slow = Array.from({ length: 400 }, (_, i) => bend * i * i + bend * bend * i ** 3);
      const parabola = rebuild(curve(slow.flatMap((value, i) => [i, value])), null, (columns) => {
        columns.tangentsIn.fill(TANGENT.linear);
        columns.tangentsOut.fill(TANGENT.linear);
        columns.segments.fill(SEGMENT.linear);
      });
      const after = withoutRedundant(parabola, () => true);
      expect(differenceOf(parabola, after, { start: 0, end: 399 }).greatest).toBeLessThan(1e-8 * slow[399]!);
    }
  });
});

test('snap: of two keys that come to one frame the nearer stays; one that would land on a locked key stays between', () => {
  const source = rebuild(
    curve([2.8, 1, 3.1, 2, 3.4, 3, 5.6, 4, 6, 5]),
    null,
    (columns) => (columns.flags[4] = FLAG.locked),
  );
  const { shot, report } = runEdit(
    'clean.snap',
    puppet({ 'hips.tx': source }),
    choose({ nodes: ['hips'] }),
    {},
  );
  expect(keysOf(curveOf(shot, null, 'hips.tx'))).toBe('3:2 5.6:4 6:5');
  expect(report.findings.map(({ code }) => code)).toEqual(['lockedKeys', 'blockedByLocked', 'keysMerged']);
});
