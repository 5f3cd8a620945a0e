import { describe, expect, test } from '@jest/globals';
import { curve } from '../../../../core/src/testing/shot-literals.ts';
import { allKeys, countKeys, invertedKeys, keyFrames, keysOn, nextFrame, unitedKeys } from './key-steps.ts';

const curves = [
  { channel: 'hips.ty', curve: curve([0, 1, 10, 5, 20, 2]) },
  { channel: 'arm_l.rz', curve: curve([4, 30, 10, 12]) },
];

describe('from key to key', () => {
  test('the frames of all curves, each once, rising', () => {
    expect(keyFrames(curves)).toEqual([0, 4, 10, 20]);
  });

  test('the nearest beyond, none at the ends', () => {
    const frames = [0, 4, 10, 20];
    expect([nextFrame(frames, 4, 1), nextFrame(frames, 4, -1), nextFrame(frames, 5, -1)]).toEqual([10, 0, 4]);
    expect([nextFrame(frames, 20, 1), nextFrame(frames, 0, -1), nextFrame([], 0, 1)]).toEqual([
      null,
      null,
      null,
    ]);
  });
});

describe('choosing', () => {
  test('the keys on a frame, of every curve that has one there', () => {
    expect(keysOn(curves, 10)).toEqual({ 'hips.ty': [2], 'arm_l.rz': [2] });
    expect(keysOn(curves, 4)).toEqual({ 'arm_l.rz': [1] });
    expect(keysOn(curves, 5)).toEqual({});
  });

  test('all, and the others in their place', () => {
    expect(allKeys(curves)).toEqual({ 'hips.ty': [1, 2, 3], 'arm_l.rz': [1, 2] });
    expect(invertedKeys(curves, { 'hips.ty': [2], 'arm_l.rz': [1, 2] })).toEqual({ 'hips.ty': [1, 3] });
    expect(invertedKeys(curves, allKeys(curves))).toEqual({});
  });

  test('added to each other without doubles, and counted', () => {
    const both = unitedKeys({ 'hips.ty': [1] }, { 'hips.ty': [1, 2], 'arm_l.rz': [2] });
    expect(both).toEqual({ 'hips.ty': [1, 2], 'arm_l.rz': [2] });
    expect(countKeys(both)).toBe(3);
  });
});
