import { describe, expect, test } from '@jest/globals';
import { choose, curve, pass, puppet } from '../testing/shot-literals.ts';
import { hasTargets, selectedChannels, selectionSchema, targetsOf, withLivingKeys } from './selection.ts';

const shot = {
  ...puppet({ 'hips.tx': curve([6, 0]), 'hips.ty': curve([0, 1, 6, 2, 12, 3]) }),
  layers: [pass('lift', { members: ['hips'], curves: [{ ty: curve([3, 4, 9, 1]) }] })],
};
const rowsOf = (more: Parameters<typeof choose>[0]) =>
  targetsOf(shot, choose(more)).map(({ channel, rows, count }) => [channel, [...rows].join(''), count]);

describe('the channels that are meant', () => {
  test('in the shot’s order; the first channel of the rig too; what there is not is left out', () => {
    const first = 'hips.tx';
    expect(selectedChannels(shot, choose({ channels: [first, 'hips.zz', 'nobody.tx'] }))).toEqual([first]);
    expect(selectedChannels(shot, choose({ keys: { [first]: [1], 'hips.zz': [1] } }))).toEqual([first]);
    expect(selectedChannels(shot, choose({ nodes: ['nobody', 'hips'] }))).toEqual(
      ['tx', 'ty', 'tz', 'rx', 'ry', 'rz'].map((name) => `hips.${name}`),
    );
  });

  test('an emptied choice of keys is no choice: channels count again', () => {
    const chosen = choose({ nodes: ['hips'], channels: ['hips.ty'], keys: { 'hips.tx': [] } });
    expect(selectedChannels(shot, chosen)).toEqual(['hips.ty']);
  });
});

describe('the keys that are meant', () => {
  test('all of a channel, those of a range with both its ends, the chosen ones, the chosen ones of a range', () => {
    expect(rowsOf({ channels: ['hips.ty'] })).toEqual([['hips.ty', '111', 3]]);
    expect(rowsOf({ channels: ['hips.ty'], range: { start: 6, end: 12 } })).toEqual([['hips.ty', '011', 2]]);
    expect(rowsOf({ channels: ['hips.ty'], range: { start: 0.5, end: 6 } })).toEqual([['hips.ty', '010', 1]]);
    expect(rowsOf({ keys: { 'hips.ty': [1, 3] } })).toEqual([['hips.ty', '101', 2]]);
    expect(rowsOf({ keys: { 'hips.ty': [1, 3] }, range: { start: 2, end: 24 } })).toEqual([
      ['hips.ty', '001', 1],
    ]);
  });

  test('in whatever order they were chosen, and of another curve anew', () => {
    const ids = [3, 1];
    expect(rowsOf({ keys: { 'hips.ty': ids } })).toEqual([['hips.ty', '101', 2]]);
    expect(rowsOf({ keys: { 'hips.ty': ids }, layer: 'lift' })).toEqual([['hips.ty', '10', 1]]);
    expect(rowsOf({ keys: { 'hips.ty': ids } })).toEqual([['hips.ty', '101', 2]]);
  });

  test('on a pass those of the pass', () => {
    expect(rowsOf({ nodes: ['hips'], layer: 'lift' })).toEqual([['hips.ty', '11', 2]]);
    expect(rowsOf({ channels: ['hips.tx'], layer: 'lift' })).toEqual([]);
  });

  test('whether there are any', () => {
    expect(hasTargets(shot, choose({ nodes: ['hips'] }))).toBe(true);
    expect(hasTargets(shot, choose({ nodes: ['hips'], range: { start: 13, end: 20 } }))).toBe(false);
    expect(hasTargets(shot, choose({ nodes: ['arm_l'] }))).toBe(false);
  });
});

describe('keys that are gone', () => {
  test('leave the selection, with their channel where none is left; else it is the same object', () => {
    const whole = choose({ keys: { 'hips.ty': [1, 2] } });
    expect(withLivingKeys(shot, whole)).toBe(whole);
    expect(withLivingKeys(shot, choose({ keys: { 'hips.ty': [2, 9], 'hips.tx': [7] } })).keys).toEqual({
      'hips.ty': [2],
    });
  });
});

test('a selection that was stored when the layer was called the pass is the same one', () => {
  const { layer, ...rest } = choose({ nodes: ['hips'], layer: 'lift' });
  expect(selectionSchema.parse({ ...rest, pass: layer })).toEqual({ ...rest, layer });
  expect(selectionSchema.parse({ ...rest, layer })).toEqual({ ...rest, layer });
  expect(selectionSchema.safeParse(rest).success).toBe(false);
});
