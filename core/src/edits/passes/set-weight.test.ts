import { describe, expect, test } from '@jest/globals';
import { keysOf, choose, curve, pass, puppet } from '../../testing/shot-literals.ts';
import { evaluate } from '../../curve/evaluate.ts';
import { readShotFile } from '../../interchange/shot-file/read-shot.ts';
import { writeShotFile } from '../../interchange/shot-file/write-shot.ts';
import { isKeyedWeight } from '../../layers/weight.ts';
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

  test('is keyed when somebody keyed it, with one key too: at the first frame, then at others', () => {
    const fresh = { ...shot, layers: [pass('lift', { members: ['hips'] })] };
    let now = fresh;
    const shown = (frame: number) => evaluate(now.layers[0]!.weight, frame, 1);
    for (const [frame, weight] of [
      [0, 0],
      [16, 0.5],
      [24, 0],
    ] as const) {
      now = {
        ...runEdit('passes.setWeight', now, choose({}), { pass: 'lift', weight, frame }).shot,
      } as typeof fresh;
      expect(isKeyedWeight(now.layers[0]!.weight)).toBe(true);
    }
    expect(keysOf(now.layers[0]!.weight)).toBe('0:0 16:0.5 24:0');
    expect([shown(0), shown(16), shown(24)]).toEqual([0, 0.5, 0]);
    // One key alone goes through files, and with time.
    const single = runEdit('passes.setWeight', fresh, choose({}), {
      pass: 'lift',
      weight: 0.3,
      frame: 0,
    }).shot;
    const again = readShotFile(writeShotFile(single));
    expect(isKeyedWeight(again.layers[0]!.weight)).toBe(true);
    const whole = runEdit('passes.setWeight', single, choose({}), { pass: 'lift', weight: 0.3 }).shot;
    expect([whole === single, isKeyedWeight(whole.layers[0]!.weight)]).toEqual([false, false]);
    expect(isKeyedWeight(fresh.layers[0]!.weight)).toBe(false);
  });

  test('of a locked pass, or of one that is gone, is refused', () => {
    expect(run({ pass: 'shut', weight: 0.5 }).report.findings[0]?.code).toBe('lockedPass');
    expect(run({ pass: 'gone', weight: 0.5 }).report.findings[0]?.code).toBe('unknownPass');
  });
});
