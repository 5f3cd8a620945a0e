import { describe, expect, test } from '@jest/globals';
import { seededRandom } from '../base/random.ts';
import { DEMO_SHOTS } from '../demo/bakery.ts';
import { angleBetween, mirrorX, multiply, conjugate } from '../math/quaternion.ts';
import type { Quaternion } from '../math/euler.ts';
import { compileRig } from '../rig/rig.ts';
import { choose, curve, keysOf, pass, puppet } from '../testing/shot-literals.ts';
import { curveFromJson, curveToJson } from './parts/curve-json.ts';
import { channelValues, placeIn, valuesAt, worldAt } from '../evaluation/evaluation.ts';
import { poseColumns } from './pose-columns.ts';
import { reflectedValues } from '../mirror/reflection.ts';
import { targetsOf } from './selection.ts';
import { constantCurve, curveOf, rigOf, withCurves } from './shot.ts';
import type { Shot } from './shot.ts';

const value = (shot: Shot, id: string, frame: number) => valuesAt(shot, frame)[rigOf(shot).channelIndex(id)]!;

describe('passes', () => {
  const base = puppet({ 'hips.ty': curve([0, 10, 24, 10]), 'arm_l.rz': curve([0, -30, 24, -30]) });
  const withPasses = (...layers: Shot['layers']) => ({ ...base, layers });

  test('an offset adds by its weight; muted and others’ solo silence it', () => {
    const offset = pass('up', { weight: constantCurve(0.5), curves: [{ ty: constantCurve(8) }] });
    expect(value(withPasses(offset), 'hips.ty', 3)).toBe(14);
    expect(value(withPasses({ ...offset, muted: true }), 'hips.ty', 3)).toBe(10);
    expect(value(withPasses(offset, pass('other', { solo: true })), 'hips.ty', 3)).toBe(10);
  });

  test('a replace pass takes over by its weight; keyed weights move', () => {
    const over = pass('over', {
      kind: 'replace',
      weight: curve([0, 0, 20, 1], 'linear'),
      curves: [{ ty: constantCurve(0) }],
    });
    for (const [frame, expected] of [
      [0, 10],
      [10, 5],
      [20, 0],
    ] as const)
      expect(value(withPasses(over), 'hips.ty', frame)).toBeCloseTo(expected, 12);
  });

  test('orientations compose: half the weight is half the turn about the same axis', () => {
    const nodes = withPasses(
      pass('turn', {
        rotations: 'orientations',
        weight: constantCurve(0.5),
        curves: [undefined, { rx: constantCurve(80), ry: constantCurve(0), rz: constantCurve(0) }],
      }),
    );
    const hand = rigOf(nodes).indexOf('arm_l');
    const turn = (shot: Shot) =>
      Array.from(worldAt(shot, 5).turns.subarray(hand * 4, hand * 4 + 4)) as Quaternion;
    const offset = multiply(conjugate(turn(base)), turn(nodes));
    expect(angleBetween(offset, [0, 0, 0, 1])).toBeCloseTo(40, 6);
    expect(Math.abs(offset[1]) + Math.abs(offset[2])).toBeLessThan(1e-9);
  });
});

describe('reading from samples', () => {
  test('gives what solving gives, on every frame of the demo', () => {
    const shot = DEMO_SHOTS[1]!.make();
    const count = rigOf(shot).channels.length;
    for (let frame = shot.range.start; frame <= shot.range.end; frame += 1) {
      const [solved, sampled] = [new Float64Array(count), new Float64Array(count)];
      channelValues(shot, frame, solved);
      channelValues(shot, frame, sampled, true);
      sampled.forEach((number, i) => expect(number).toBeCloseTo(solved[i]!, 12));
    }
  });
});

describe('reflection', () => {
  test('twice gives the same values; joints are the reflection of the originals to 1e-6', () => {
    const shot = DEMO_SHOTS[0]!.make();
    const rig = compileRig(shot.nodes, shot.relations);
    const random = seededRandom(9);
    const body = rig.nodes
      .map((node, i) => ({ node, i }))
      .filter(({ node }) => node.part !== 'prop' && node.kind !== 'camera');
    const values = new Map<string, number>();
    for (const { i } of body) {
      for (let c = rig.firstChannel[i]!; c < rig.firstChannel[i + 1]!; c += 1) {
        const { id, kind } = rig.channels[c]!;
        values.set(
          id,
          kind === 'rotation' ? random.gaussian() * 30 : kind === 'position' ? random.gaussian() * 6 : 1,
        );
      }
    }
    // Forward limbs: IK off.
    for (const goal of ['hand_goal_l', 'hand_goal_r', 'foot_goal_l', 'foot_goal_r'])
      values.set(`${goal}.ik`, 0);
    const nodeValues = (from: ReadonlyMap<string, number>, i: number) =>
      Object.fromEntries(
        rig.channels
          .slice(rig.firstChannel[i], rig.firstChannel[i + 1])
          .map(({ id, name }) => [name, from.get(id)!]),
      );
    const flip = (from: ReadonlyMap<string, number>) => {
      const result = new Map<string, number>();
      for (const { node, i } of body) {
        const to = rig.indexOf(node.pair!);
        for (const [name, number] of Object.entries(
          reflectedValues(rig, i, to, nodeValues(from, i), nodeValues(from, to)),
        ))
          result.set(`${node.pair}.${name}`, number);
      }
      return result;
    };
    const flipped = flip(values);
    const twice = flip(flipped);
    const posed = (from: ReadonlyMap<string, number>) => {
      const curves = new Map([...from].map(([id, number]) => [id, constantCurve(number)]));
      return worldAt(withCurves({ ...shot, curves: [] }, null, curves), 0);
    };
    const [a, b, again] = [posed(values), posed(flipped), posed(twice)];
    for (const { node, i } of body) {
      if (node.channels.includes('ry') && !node.channels.includes('rz')) continue;
      const to = rig.indexOf(node.pair!);
      const [x, y, z] = placeIn(a, i);
      const [mx, my, mz] = placeIn(b, to);
      expect(Math.abs(mx + x) + Math.abs(my - y) + Math.abs(mz - z)).toBeLessThan(1e-6);
      placeIn(again, i).forEach((number, axis) => expect(number).toBeCloseTo([x, y, z][axis]!, 6));
      if (/brow|belly/.test(node.id)) continue;
      const seen = mirrorX(a.turns.subarray(i * 4, i * 4 + 4));
      expect(angleBetween(seen, b.turns.subarray(to * 4, to * 4 + 4))).toBeLessThan(1e-5);
    }
  });
});

describe('selection', () => {
  const shot = puppet({ 'hips.ty': curve([0, 1, 6, 2, 12, 3]), 'hips.tx': curve([6, 0]) });
  test('keys narrow channels, channels narrow nodes, the range confines all', () => {
    const meant = (more: Parameters<typeof choose>[0]) =>
      targetsOf(shot, choose(more)).map(({ channel, count }) => `${channel} ${count}`);
    expect(meant({ nodes: ['hips', 'arm_l'] })).toEqual(['hips.tx 1', 'hips.ty 3']);
    expect(meant({ nodes: ['hips'], channels: ['hips.ty'] })).toEqual(['hips.ty 3']);
    expect(meant({ nodes: ['hips'], keys: { 'hips.ty': [2] } })).toEqual(['hips.ty 1']);
    expect(meant({ nodes: ['hips'], range: { start: 5, end: 20 } })).toEqual(['hips.tx 1', 'hips.ty 2']);
    expect(meant({ nodes: ['nobody'], channels: ['hips.zz'] })).toEqual([]);
  });
});

test('pose columns are where at least half of the keyed nodes have a key', () => {
  const shot = puppet({
    'hips.ty': curve([0, 1, 6, 2, 12, 3]),
    'arm_l.rz': curve([0, 1, 12, 5]),
    'arm_r.rz': curve([0, 1, 12, 5]),
    'hand_l.rx': curve([0, 0, 6, 3, 9, 1]),
  });
  expect(poseColumns(shot)).toMatchObject({ frames: [0, 6, 12], dense: false });
  const byHand = { ...shot, poseColumns: { share: 0.5, added: [9], removed: [6] } };
  expect(poseColumns(byHand).frames).toEqual([0, 9, 12]);
  expect(poseColumns(DEMO_SHOTS[0]!.make()).dense).toBe(true);
  expect(poseColumns(DEMO_SHOTS[1]!.make()).frames).toEqual([0, 4, 8, 12, 16]);
});

test('changing one curve shares all the others', () => {
  const shot = puppet({ 'hips.ty': curve([0, 1]), 'arm_l.rz': curve([0, 1]) });
  const after = withCurves(shot, null, new Map([['hips.ty', curve([0, 2])]]));
  expect(after.curves[1]).toBe(shot.curves[1]);
  expect(after.nodes).toBe(shot.nodes);
  expect(withCurves(shot, null, new Map([['hips.ty', curveOf(shot, null, 'hips.ty')]]))).toBe(shot);
});

test('a curve in JSON comes back to the bit, fields that are unknown too', () => {
  for (const kind of ['smooth', 'steady', 'free', 'flat', 'linear'] as const) {
    const before = curve([0, 1.1, 3, -2, 7.25, 1e-9, 9, 1e9], kind);
    const text = JSON.stringify({ ...curveToJson(before), shade: 'warm' });
    const after = curveFromJson(JSON.parse(text) as ReturnType<typeof curveToJson>, 'it');
    expect(keysOf(after)).toBe(keysOf(before));
    expect(Array.from(after.slopesOut)).toEqual(Array.from(before.slopesOut));
    expect(curveToJson(after)).toEqual(JSON.parse(text));
  }
});
