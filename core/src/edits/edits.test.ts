/** What each edit does, beside the contract that all of them keep. */
import { describe, expect, test } from '@jest/globals';
import { vec3 } from 'gl-matrix';
import { bodyPoints } from '../rig/influence.ts';
import { FLAG, SEGMENT, TANGENT } from '../curve/curve.ts';
import { differenceOf } from '../curve/difference.ts';
import { evaluate } from '../curve/evaluate.ts';
import { rebuild } from '../curve/rebuild.ts';
import { DEMO_SHOTS } from '../demo/bakery.ts';
import { readBvh } from '../interchange/bvh/read-bvh.ts';
import { angleBetween } from '../math/quaternion.ts';
import type { Quaternion } from '../math/euler.ts';
import { channelKind } from '../rig/node.ts';
import type { ActionJson } from '../document/action.ts';
import { movedBy } from '../rig/influence.ts';
import { placeIn, valuesAt, worldAt } from '../evaluation/evaluation.ts';
import type { Selection } from '../document/selection.ts';
import { capturePose } from '../evaluation/stored-pose.ts';
import {
  constantCurve,
  curveOf,
  curvesIn,
  layerOf,
  rigOf,
  splitChannel,
  withCurves,
} from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { openData } from '../testing/open-data.ts';
import { choose, curve, keysOf, pass, puppet } from '../testing/shot-literals.ts';
import { runEdit } from './run-edit.ts';

const swing = curve([0, 10, 4, 12, 8, -6, 12, 3, 24, 10]);
const base = puppet({ 'hips.ty': swing, 'arm_l.rz': swing });
const hips = choose({ channels: ['hips.ty'] });
const keysAfter = (shot: Shot, selection: Selection, id: string, options: object, channel = 'hips.ty') =>
  keysOf(curveOf(runEdit(id, shot, selection, options).shot, selection.layer, channel));
const valueAt = (shot: Shot, channel: string, frame: number) =>
  valuesAt(shot, frame)[rigOf(shot).channelIndex(channel)]!;

/** Joints, and the far ends that no joint goes on from, in the world. */
const pointsAt = (shot: Shot, frame: number) => {
  const { matrices } = worldAt(shot, frame);
  return bodyPoints(rigOf(shot)).map(({ node, at }) => {
    const place = vec3.transformMat4([0, 0, 0], at, matrices.subarray(node * 16, node * 16 + 16));
    return { node: shot.nodes[node]!.id, place: place as [number, number, number] };
  });
};

describe('Thin on captured motion (01_01.bvh, Debian’s assimp-testmodels)', () => {
  const shot = readBvh(new TextDecoder().decode(openData('BVH/01_01.bvh')), '01_01').shot;
  const all = choose({ nodes: shot.nodes.map(({ id }) => id) });
  const tolerances = { position: 0.5, rotation: 1, scale: 0.01, other: 0.01 };
  const { shot: after, report } = runEdit('clean.thin', shot, all, tolerances);
  const measure = (name: string) => report.measures.find((one) => one.name === name)!;

  test('the greatest error that an independent resampling finds is the one reported, and within the tolerance', () => {
    const worst = { position: 0, rotation: 0, scale: 0, other: 0 };
    for (const [channel, before] of curvesIn(shot.curves, shot.nodes)) {
      const now = curveOf(after, null, channel);
      const kind = channelKind(splitChannel(channel).name);
      for (let quarter = 0; quarter <= 2751 * 4; quarter += 1) {
        const gap = Math.abs(evaluate(before, quarter / 4) - evaluate(now, quarter / 4));
        if (gap > worst[kind]) worst[kind] = gap;
      }
    }
    for (const kind of ['position', 'rotation'] as const) {
      expect(worst[kind]).toBeLessThanOrEqual(tolerances[kind]);
      const reported = measure(`greatest ${kind} error`).value;
      expect(reported).toBeLessThanOrEqual(tolerances[kind]);
      // The report is exact; quarter frames may miss its very place.
      expect(reported).toBeGreaterThanOrEqual(worst[kind]);
      expect(reported - worst[kind]).toBeLessThan(tolerances[kind] / 50);
    }
    expect(measure('keys')).toMatchObject({ before: 96 * 2752 });
    expect(measure('keys').value).toBeLessThan((96 * 2752) / 10);
  });

  test('the drift in space that is reported is found by comparing joints', () => {
    const drift = measure('greatest drift in space, every 3 frames');
    const places = (of: Shot) =>
      pointsAt(of, drift.where!.frame!).filter(({ node }) => node === drift.where!.node!);
    const [a, b] = [places(shot), places(after)];
    const gaps = a.map(
      ({ place }, k) => 10 * Math.hypot(...place.map((value, axis) => value - b[k]!.place[axis]!)),
    );
    expect(Math.max(...gaps)).toBeCloseTo(drift.value, 6);
  });
});

test('Thin in space: no joint is off by more than asked, at fifths of frames too, and the report says by how much', () => {
  const whole = readBvh(new TextDecoder().decode(openData('BVH/01_01.bvh')), '01_01').shot;
  const range = { start: 200, end: 700 };
  const nodes = ['LeftArm', 'LeftForeArm', 'LeftHand', 'Spine1'];
  const { shot: after, report } = runEdit('clean.thin', whole, choose({ nodes, range }), {
    measure: 'space',
    space: 3,
  });
  const reported = report.measures.find(({ name }) => name === 'greatest drift in space')!.value;
  let worst = 0;
  for (let look = 0; look <= 500 * 5; look += 1) {
    const [a, b] = [pointsAt(whole, 200 + look / 5), pointsAt(after, 200 + look / 5)];
    a.forEach(({ place: p }, k) => {
      const q = b[k]!.place;
      worst = Math.max(worst, 10 * Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]));
    });
  }
  expect(worst).toBeLessThanOrEqual(3);
  expect(Math.abs(reported - worst)).toBeLessThan(0.06);
  const keys = report.measures.find(({ name }) => name === 'keys')!;
  expect(keys.before! - keys.value).toBeGreaterThan(12 * 500 * 0.6);
});

describe('keys', () => {
  test('add: the curve changes by less than 1e-9 of its range anywhere, weighted segments too', () => {
    const weighted = rebuild(swing, null, (columns) => {
      columns.flags.fill(FLAG.weightedIn | FLAG.weightedOut);
      columns.lengthsIn.fill(0.7);
      columns.lengthsOut.fill(2.4);
    });
    for (const one of [swing, weighted, curve([0, 1, 24, 5], 'linear')]) {
      const after = runEdit('keys.add', puppet({ 'hips.ty': one }), hips, { frame: 9.3 }).shot;
      expect(
        differenceOf(one, curveOf(after, null, 'hips.ty'), { start: -5, end: 30 }).greatest,
      ).toBeLessThan(18e-9);
    }
  });

  test('add on a channel without keys keys its rest value', () => {
    expect(keysAfter(base, choose({ channels: ['hips.tx'] }), 'keys.add', { frame: 3 }, 'hips.tx')).toBe(
      '3:0',
    );
  });

  test('move there and back gives the same columns', () => {
    const there = runEdit('keys.move', base, hips, { frames: 5, value: 2 });
    const back = runEdit('keys.move', there.shot, hips, { frames: -5, value: -2 });
    expect(curveOf(back.shot, null, 'hips.ty')).toEqual(swing);
  });

  test('a key that lands on another takes its place, and that is counted', () => {
    const one = choose({ keys: { 'hips.ty': [2] } });
    const { shot, report } = runEdit('keys.move', base, one, { frames: 4 });
    expect(keysOf(curveOf(shot, null, 'hips.ty'))).toBe('0:10 8:12 12:3 24:10');
    expect(report.findings.map(({ sentence }) => sentence)).toEqual(['1 key was overwritten.']);
  });

  test('delete: without a choice of keys or a range nothing goes, and it is said', () => {
    const { report } = runEdit('keys.delete', base, hips, {});
    expect([report.status, report.findings[0]?.code]).toEqual(['refused', 'noKeysChosen']);
  });

  test('delete: all keys of a channel return it to rest', () => {
    const { shot } = runEdit('keys.delete', base, { ...hips, range: base.range }, {});
    expect(valueAt(shot, 'hips.ty', 8)).toBe(0);
    expect(keysAfter(base, choose({ keys: { 'hips.ty': [1, 3] } }), 'keys.delete', {})).toBe(
      '4:12 12:3 24:10',
    );
  });
});

describe('tangents', () => {
  const after = (options: object, keys = [3]) =>
    curveOf(
      runEdit('tangents.set', base, choose({ keys: { 'hips.ty': keys } }), options).shot,
      null,
      'hips.ty',
    );

  test('each kind does what its name says', () => {
    expect(after({ kind: 'flat' }).slopesOut[2]).toBe(0);
    expect(after({ kind: 'linear' }).slopesOut[2]).toBeCloseTo((3 + 6) / 4, 12);
    expect(after({ kind: 'steady' }).slopesIn[2]).toBe(0);
    expect(after({ kind: 'stepped' }).segments[2]).toBe(SEGMENT.stepped);
    expect(after({ kind: 'free' }).slopesOut[2]).toBe(swing.slopesOut[2]);
  });

  test('a slope on a joined key turns both sides; on a broken one only its own', () => {
    expect([
      after({ slope: 3, side: 'out' }).slopesIn[2],
      after({ slope: 3, side: 'out' }).slopesOut[2],
    ]).toEqual([3, 3]);
    const broken = runEdit('tangents.set', base, hips, { broken: true }).shot;
    const one = curveOf(
      runEdit('tangents.set', broken, choose({ keys: { 'hips.ty': [3] } }), { slope: 3, side: 'out' }).shot,
      null,
      'hips.ty',
    );
    expect([one.slopesIn[2], one.slopesOut[2]]).toEqual([swing.slopesIn[2], 3]);
  });

  test('a length makes the handle weighted and is kept so that time does not turn back', () => {
    const one = after({ length: 900, side: 'out' });
    // Beside a third of the segment a handle may reach 4/3 of it (math/bezier-time.ts).
    expect(one.lengthsOut[2]).toBeCloseTo((4 / 3) * 4, 12);
    expect(one.flags[2]! & FLAG.weightedOut).toBe(FLAG.weightedOut);
  });

  test('re-tangent: values and times stay; fit stays nearest, steady never leaves the neighbours’ values', () => {
    for (const method of ['fit', 'steady', 'smoothest', 'ease']) {
      const one = curveOf(runEdit('tangents.retangent', base, hips, { method }).shot, null, 'hips.ty');
      expect(keysOf(one)).toBe(keysOf(swing));
    }
    const steady = curveOf(
      runEdit('tangents.retangent', base, hips, { method: 'steady' }).shot,
      null,
      'hips.ty',
    );
    for (let i = 0; i < 240; i += 1) {
      const row = Math.max(0, steady.times.findIndex((time) => time > i / 10) - 1);
      const [low, high] = [steady.values[row]!, steady.values[row + 1]!].sort((a, b) => a - b);
      expect(evaluate(steady, i / 10)).toBeGreaterThanOrEqual(low! - 1e-9);
      expect(evaluate(steady, i / 10)).toBeLessThanOrEqual(high! + 1e-9);
    }
  });
});

describe('poses', () => {
  test.each(DEMO_SHOTS)(
    '$id: a pose flipped twice is the pose; flipped joints are the reflection to 1e-6',
    ({ make }) => {
      const shot = make();
      const nothing = choose({});
      const pose = capturePose(shot, nothing, 6);
      const once = runEdit('poses.paste', shot, nothing, { pose, frame: 6, flip: true, plane: 'world' }).shot;
      const twice = runEdit('poses.paste', once, nothing, {
        pose: capturePose(once, nothing, 6),
        frame: 6,
        flip: true,
        plane: 'world',
      }).shot;
      for (const [id, value] of Object.entries(pose.values))
        expect(valueAt(twice, id, 6)).toBeCloseTo(value, 6);
      const rig = rigOf(shot);
      const [was, now] = [worldAt(shot, 6), worldAt(once, 6)];
      // What looks at, or follows, something that is not flipped itself is no reflection, nor is what hangs on it.
      const led = movedBy(
        rig,
        shot.relations.filter(({ kind }) => kind !== 'reach').map(({ node }) => rig.indexOf(node)),
      );
      for (const [row, node] of shot.nodes.entries()) {
        if (node.pair === null || node.kind === 'prop' || led[row] === 1) continue;
        const [x, y, z] = placeIn(was, rig.indexOf(node.pair));
        const mirrored = placeIn(now, rig.indexOf(node.id));
        expect(Math.hypot(mirrored[0] + x, mirrored[1] - y, mirrored[2] - z)).toBeLessThan(1e-6 * 200);
      }
    },
  );

  test('what is left out stays, on both ends of the exchange', () => {
    const pose = { name: 'p', values: { 'hand_l.rz': 40, 'arm_l.rz': 20 } };
    const { shot, report } = runEdit('poses.paste', base, choose({}), {
      pose,
      frame: 4,
      flip: true,
      exclude: ['hand_r'],
    });
    expect(curveOf(shot, null, 'hand_r.rz').times.length).toBe(0);
    expect(valueAt(shot, 'arm_r.rz', 4)).toBeCloseTo(-20, 9);
    expect(report.findings.map(({ sentence }) => sentence)).toContain('Left out as asked: hand_r.');
  });

  test('a control without a partner is named and stays', () => {
    const alone = {
      ...base,
      nodes: base.nodes.map((node) => (node.id === 'hand_l' ? { ...node, pair: null } : node)),
    };
    const pose = { name: 'p', values: { 'hand_l.rz': 40, 'arm_l.rz': 20 } };
    const { report } = runEdit('poses.paste', alone, choose({}), { pose, frame: 4, flip: true });
    expect(report.findings[0]!.sentence).toBe(
      '1 control has no partner on the other side and stayed: hand_l.',
    );
  });
});

describe('passes', () => {
  const made = runEdit('passes.addOffset', base, choose({ nodes: ['arm_l'] }), { name: 'Higher' });
  const id = made.selection.layer!;

  test('a new pass changes nothing; removed, everything is exactly what it was', () => {
    expect(Array.from(valuesAt(made.shot, 7))).toEqual(Array.from(valuesAt(base, 7)));
    const posed = runEdit('passes.pose', made.shot, choose({}), {
      pass: id,
      frame: 7,
      values: { 'arm_l.rz': 55 },
    }).shot;
    expect(posed.curves).toBe(base.curves);
    const removed = runEdit('passes.remove', posed, choose({}), { pass: id }).shot;
    expect(Array.from(valuesAt(removed, 7))).toEqual(Array.from(valuesAt(base, 7)));
    expect(removed.curves).toBe(base.curves);
  });

  test.each(['channels', 'orientations'] as const)(
    'posing solves for what shows, under other passes and any weight (%s)',
    (rotations) => {
      const below = pass('below', {
        rotations,
        curves: [undefined, { rx: constantCurve(12), rz: constantCurve(-9), ry: constantCurve(3) }],
      });
      const above = pass('above', {
        rotations,
        weight: constantCurve(0.4),
        curves: [undefined, { rz: constantCurve(25), rx: constantCurve(4), ry: constantCurve(-7) }],
      });
      const middle = pass('middle', { rotations, members: ['arm_l'], weight: constantCurve(0.5) });
      const shot = { ...base, layers: [below, middle, above] };
      const values = { 'arm_l.rx': 14, 'arm_l.ry': -21, 'arm_l.rz': 48 };
      const posed = runEdit('passes.pose', shot, choose({}), { pass: 'middle', frame: 9, values }).shot;
      const turn = (of: Shot) =>
        Array.from(
          worldAt(of, 9).turns.subarray(rigOf(of).indexOf('arm_l') * 4, rigOf(of).indexOf('arm_l') * 4 + 4),
        ) as Quaternion;
      const wanted = puppet(
        Object.fromEntries(Object.entries(values).map(([channel, value]) => [channel, constantCurve(value)])),
      );
      const local = {
        ...wanted,
        curves: withCurves(wanted, null, new Map([['hips.ty', curveOf(base, null, 'hips.ty')]])).curves,
      };
      expect(angleBetween(turn(posed), turn(local))).toBeLessThan(1e-6);
    },
  );

  test('no weight on the frame: it says so and does nothing', () => {
    const silent = runEdit('passes.setWeight', made.shot, choose({}), { pass: id, weight: 0 }).shot;
    const { report, shot } = runEdit('passes.pose', silent, choose({}), {
      pass: id,
      frame: 7,
      values: { 'arm_l.rz': 55 },
    });
    expect(shot).toBe(silent);
    expect(report.findings[0]!.sentence).toMatch(/The pass has no weight on this frame.*arm_l\.rz/);
  });

  test('bookends confine it, with ramps; outside them what shows is what was, to the bit', () => {
    const confined = runEdit('passes.addOffset', base, choose({ nodes: ['arm_l'] }), {
      bookends: { start: 4, end: 12 },
      ramps: 3,
    });
    const pass = confined.selection.layer!;
    const pose = { pass, frame: 8, values: { 'arm_l.rz': 30 } };
    const posed = runEdit('passes.pose', confined.shot, choose({}), pose).shot;
    expect(keysOf(curveOf(posed, pass, 'arm_l.rz'))).toBe('8:36');
    for (const frame of [0, 3.9, 4, 12, 12.5, 20])
      expect(valueAt(posed, 'arm_l.rz', frame)).toBe(valueAt(base, 'arm_l.rz', frame));
    // Half way up the ramp half of it shows: 3u² − 2u³.
    const offset = (frame: number) => valueAt(posed, 'arm_l.rz', frame) - valueAt(base, 'arm_l.rz', frame);
    [18, 36, 36, 36 * (3 / 9 - 2 / 27)].forEach((value, i) =>
      expect(offset([5.5, 7, 9, 11][i]!)).toBeCloseTo(value, 12),
    );
    const outside = runEdit('passes.pose', posed, choose({}), { ...pose, frame: 13 });
    expect(outside.report.findings[0]!.code).toBe('outsideBookends');
  });

  test('a weight keyed at two frames runs between them', () => {
    const keyed = [
      [0, 0],
      [10, 1],
    ].reduce(
      (shot, [frame, weight]) =>
        runEdit('passes.setWeight', shot, choose({}), { pass: id, weight, frame }).shot,
      made.shot,
    );
    expect(evaluate(layerOf(keyed, id)!.weight, 5)).toBeGreaterThan(0.2);
    expect(evaluate(layerOf(keyed, id)!.weight, 10)).toBe(1);
  });
});

describe('actions', () => {
  const save = (shot: Shot, selection: Selection, more: object = {}) =>
    runEdit('actions.save', shot, selection, { name: 'Swing', ...more });

  test('curves as they are, ends added, counted from the start of the range', () => {
    const { made, shot, report } = save(base, choose({ nodes: ['hips'], range: { start: 3, end: 9 } }));
    expect(shot).toBe(base);
    expect((made as ActionJson).curves['hips.ty']!.times).toEqual([0, 1, 5, 6]);
    expect(report.findings.map(({ sentence }) => sentence)).toEqual([
      'Covers frames 3 to 9.',
      '2 keys were added at the ends, so that the range stands on its own.',
    ]);
    const applied = runEdit('actions.apply', puppet(), choose({}), { action: made, frame: 3 }).shot;
    expect(
      differenceOf(curveOf(applied, null, 'hips.ty'), swing, { start: 3, end: 9 }).greatest,
    ).toBeLessThan(1e-9);
  });

  test('apply: what it overwrites, what does not match, and how far it reaches is said', () => {
    const { made } = save(base, choose({ nodes: ['hips', 'arm_l'] }));
    const short = puppet({ 'hips.ty': curve([0, 1, 10, 2, 12, 3]) });
    const target = {
      ...short,
      nodes: short.nodes
        .filter(({ id }) => !id.startsWith('arm_l') && id !== 'hand_l')
        .map((node) => (node.pair?.endsWith('_l') ? { ...node, pair: null } : node)),
    };
    const { shot, report } = runEdit('actions.apply', target, choose({}), { action: made, frame: 10 });
    expect(report.findings.map(({ sentence }) => sentence)).toEqual([
      '1 control of the action is not in this shot: arm_l.',
      'Covers frames 10 to 34.',
      '2 keys were overwritten.',
      'The shot now ends at frame 34, so that the new keys fit.',
    ]);
    expect(keysOf(curveOf(shot, null, 'hips.ty'))).toBe('0:1 9:1.63 10:10 14:12 18:-6 22:3 34:10');
  });

  test('another rate: the same seconds', () => {
    const { made } = save(base, choose({ nodes: ['hips'] }));
    const double = { ...puppet(), rate: { numerator: 48, denominator: 1 } };
    expect(keysAfter(double, choose({}), 'actions.apply', { action: made, frame: 0 })).toBe(
      '0:10 8:12 16:-6 24:3 48:10',
    );
  });

  test('carry on: the root goes on from where it stands', () => {
    const walk = puppet({ 'hips.tz': curve([0, 0, 12, 50], 'linear') });
    const { made } = save(walk, choose({ nodes: ['hips'] }));
    const { shot } = runEdit('actions.apply', walk, choose({}), { action: made, frame: 12, carryOn: true });
    expect(valueAt(shot, 'hips.tz', 24)).toBeCloseTo(100, 9);
  });

  test('taken away: the saved keys leave the shot', () => {
    const { shot } = save(base, choose({ channels: ['hips.ty'], range: { start: 3, end: 9 } }), {
      takeAway: true,
    });
    expect(keysOf(curveOf(shot, null, 'hips.ty'))).toBe('0:10 12:3 24:10');
  });
});

test('tangent kinds are numbered as the shot file publishes them', () => {
  expect([TANGENT.free, TANGENT.flat, TANGENT.linear, TANGENT.smooth, TANGENT.steady]).toEqual([
    0, 1, 2, 3, 4,
  ]);
});

test.each([
  ['clean.thin', {}],
  ['clean.smooth', {}],
  ['clean.resample', {}],
  ['clean.dropRedundant', {}],
  ['tangents.retangent', {}],
  ['timing.loop', {}],
])('%s on curves of one key says that they have too few', (id, options) => {
  const shot = puppet({ 'hips.tx': curve([3, 1]), 'hips.ty': curve([9, 4]) });
  const { shot: after, report } = runEdit(id, shot, choose({ nodes: ['hips'] }), options);
  expect(after).toBe(shot);
  expect(report.findings.map(({ code }) => code)).toContain(
    id === 'clean.smooth' ? 'unevenKeys' : 'tooFewKeys',
  );
});
