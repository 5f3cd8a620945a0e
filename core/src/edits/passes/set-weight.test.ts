import { describe, expect, test } from '@jest/globals';
import { keysOf, choose, curve, pass, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

const shot = {
  ...puppet({ 'hips.ty': curve([0, 1, 24, 5]) }),
  layers: [
    pass('lift', { members: ['hips'], weight: curve([4, 0.2, 10, 1, 18, 0.5]) }),
    pass('shut', { locked: true }),
  ],
};
const run = (options: object) => runEdit('passes.setWeight', shot, choose({}), options);
const weights = (options: object) => keysOf(run(options).shot.layers[0]!.weight);

describe('the weight of a pass', () => {
  test('is keyed at a frame, beside the keys that are there, or in place of one', () => {
    expect(weights({ pass: 'lift', weight: 0.7, frame: 14 })).toBe('4:0.2 10:1 14:0.7 18:0.5');
    expect(weights({ pass: 'lift', weight: 0.7, frame: 10 })).toBe('4:0.2 10:0.7 18:0.5');
  });

  test('is one for the whole shot where no frame is given', () => {
    expect(weights({ pass: 'lift', weight: 0.7 })).toBe('0:0.7');
  });

  test('a key is moved to another frame and value; from where none stands one is added', () => {
    expect(weights({ pass: 'lift', weight: 0.9, frame: 13, from: 10 })).toBe('4:0.2 13:0.9 18:0.5');
    expect(weights({ pass: 'lift', weight: 0.9, frame: 4, from: 4 })).toBe('4:0.9 10:1 18:0.5');
    expect(weights({ pass: 'lift', weight: 0.9, frame: 13, from: 7 })).toBe('4:0.2 10:1 13:0.9 18:0.5');
  });

  test('of a locked pass, or of one that is gone, is refused', () => {
    expect(run({ pass: 'shut', weight: 0.5 }).report.findings[0]?.code).toBe('lockedPass');
    expect(run({ pass: 'gone', weight: 0.5 }).report.findings[0]?.code).toBe('unknownPass');
  });
});
