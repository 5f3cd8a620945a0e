import { beforeEach, describe, expect, test } from '@jest/globals';
import { curveOf, openSession, poseColumns, TANGENT } from '@kneader/core';
import { choose, curve, pass, puppet } from '../../../core/src/testing/shot-literals.ts';
import {
  changeGap,
  chooseAllKeys,
  chooseNextKeys,
  copyTangent,
  deleteSelectedKeys,
  escape,
  giveTangent,
  invertKeys,
  lockChosen,
  nudgeKeys,
  pastePose,
  posing,
  setTangentKind,
  stepColumn,
  stepKey,
  toggleArcs,
} from './bench-actions.ts';
import { bench, useBench } from './bench-store.ts';

const keys = (values: readonly number[]) => curve([0, values[0]!, 8, values[1]!, 20, values[2]!]);
const shot = {
  ...puppet({ 'hips.ty': keys([1, 5, 2]), 'arm_l.rz': keys([0, 30, 9]) }),
  layers: [pass('lift', { members: ['arm_l'] })],
};
const state = () => useBench.getState();
const selection = () => state().session.selection;
const curveNow = (channel = 'hips.ty', layer: string | null = null) =>
  curveOf(state().session.shot, layer, channel);

beforeEach(() => {
  bench.open('one', openSession(shot), null);
  bench.select(choose({ nodes: ['hips'] }));
});

describe('from key to key', () => {
  test('the play-head goes to the next and the previous key, and stops at the ends', () => {
    for (const at of [8, 20, 20]) {
      stepKey(1);
      expect(state().frame).toBe(at);
    }
    stepKey(-1);
    expect(state().frame).toBe(8);
  });

  test('and from pose to pose', () => {
    expect(poseColumns(shot).frames).toEqual([0, 8, 20]);
    stepColumn(1);
    expect(state().frame).toBe(8);
    stepColumn(-1);
    expect(state().frame).toBe(0);
  });

  test('keys are chosen one after the other, and added', () => {
    chooseNextKeys(1, false);
    expect([selection().keys, state().frame]).toEqual([{ 'hips.ty': [1] }, 0]);
    chooseNextKeys(1, false);
    expect(selection().keys).toEqual({ 'hips.ty': [2] });
    chooseNextKeys(1, true);
    expect([selection().keys, state().frame]).toEqual([{ 'hips.ty': [2, 3] }, 20]);
    chooseNextKeys(-1, false);
    expect(selection().keys).toEqual({ 'hips.ty': [1] });
  });

  test('all of the lane, and the others', () => {
    chooseAllKeys();
    expect(selection().keys).toEqual({ 'hips.ty': [1, 2, 3] });
    bench.select(choose({ nodes: ['hips'], keys: { 'hips.ty': [2] } }));
    invertKeys();
    expect(selection().keys).toEqual({ 'hips.ty': [1, 3] });
  });
});

describe('on chosen keys', () => {
  beforeEach(() => bench.select(choose({ nodes: ['hips'], keys: { 'hips.ty': [2] } })));

  test('kinds of tangents, copied and given', () => {
    setTangentKind('flat');
    expect(curveNow().tangentsOut[1]).toBe(TANGENT.flat);
    copyTangent();
    bench.select(choose({ nodes: ['hips'], keys: { 'hips.ty': [1] } }));
    giveTangent();
    expect(curveNow().tangentsOut[0]).toBe(TANGENT.flat);
  });

  test('nudged, locked, deleted', () => {
    nudgeKeys(1, -0.5);
    expect([curveNow().times[1], curveNow().values[1]]).toEqual([9, 4.5]);
    lockChosen(true);
    nudgeKeys(1, 0);
    expect(curveNow().times[1]).toBe(9);
    lockChosen(false);
    deleteSelectedKeys();
    expect([...curveNow().times]).toEqual([0, 20]);
  });
});

test('without chosen keys, strokes for keys do nothing', () => {
  setTangentKind('flat');
  nudgeKeys(1, 1);
  deleteSelectedKeys();
  giveTangent();
  copyTangent();
  expect(state().session.steps).toHaveLength(1);
});

test('a gap changes at the play-head; while it plays at the pose that the hand stood on', () => {
  bench.setFrame(8);
  changeGap(2);
  expect([...curveNow().times]).toEqual([0, 8, 22]);
  bench.setFrame(0);
  bench.setPlaying(true);
  bench.playFrame(12);
  changeGap(-1);
  expect([...curveNow().times]).toEqual([0, 7, 21]);
});

test('Escape leaves the innermost thing, one after the other', () => {
  bench.select(
    choose({ nodes: ['hips'], channels: ['hips.ty'], keys: { 'hips.ty': [1] }, range: { start: 2, end: 9 } }),
  );
  bench.openEdit('keys.move');
  bench.beginGesture('keys.move');
  escape();
  expect([state().gesture, state().openEdit]).toEqual([null, 'keys.move']);
  escape();
  expect([state().openEdit, selection().keys]).toEqual([null, { 'hips.ty': [1] }]);
  escape();
  expect(selection()).toMatchObject({ nodes: ['hips'], channels: ['hips.ty'], keys: {}, range: null });
  escape();
  expect(selection()).toMatchObject({ nodes: ['hips'], channels: [] });
  escape();
  expect(selection().nodes).toEqual([]);
});

describe('posing', () => {
  test('keys the base, or the chosen pass so that the value shows', () => {
    posing.begin();
    posing.update({ 'arm_l.rz': 12 }, 8);
    posing.end('Turn');
    expect(curveNow('arm_l.rz').values[1]).toBe(12);
    bench.select(choose({ nodes: ['arm_l'], layer: 'lift' }));
    bench.setFrame(8);
    posing.begin();
    posing.update({ 'arm_l.rz': 50 });
    posing.end('Turn');
    expect(curveNow('arm_l.rz').values[1]).toBe(12);
    expect(curveNow('arm_l.rz', 'lift').values[0]).toBeCloseTo(38, 9);
    expect(state().session.steps.map(({ label }) => label)).toEqual(['Opened', 'Turn', 'Turn']);
  });

  test('a pose is pasted at the play-head, flipped on demand; the layer stays chosen', () => {
    bench.setPose({ name: 'Reach', values: { 'arm_l.rz': 40 } });
    bench.setFrame(8);
    pastePose(true);
    expect(curveNow('arm_r.rz').values[0]).toBeCloseTo(-40, 9);
    expect(curveNow('arm_l.rz').values[1]).toBe(30);
    bench.select(choose({ nodes: ['hips'], layer: 'lift' }));
    pastePose(false);
    expect(selection().layer).toBe('lift');
  });
});

test('arcs: of what is selected, again to take them away, never more than eight', () => {
  toggleArcs();
  expect(state().arcs).toEqual(['hips']);
  bench.select(choose({ nodes: ['arm_l'] }));
  toggleArcs();
  expect(state().arcs).toEqual(['hips', 'arm_l']);
  bench.select(choose({ nodes: ['hips'] }));
  toggleArcs();
  expect(state().arcs).toEqual(['arm_l']);
  bench.select(choose({}));
  toggleArcs();
  expect(state().arcs).toEqual([]);
  bench.select(choose({ nodes: Array.from({ length: 12 }, (_, i) => `node ${i}`) }));
  toggleArcs();
  expect(state().arcs).toHaveLength(8);
});
