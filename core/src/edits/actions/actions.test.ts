/** Actions: what is saved is what shows, and what is laid is no longer than the action. */
import { describe, expect, test } from '@jest/globals';
import { evaluate } from '../../curve/evaluate.ts';
import { readAction } from '../../shot/action.ts';
import type { ActionJson } from '../../shot/action.ts';
import { valuesAt } from '../../shot/evaluation.ts';
import { curveOf, rigOf, withCurves } from '../../shot/shot.ts';
import type { Shot } from '../../shot/shot.ts';
import { choose, curve, keysOf, pass, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

const saved = (shot: Shot, selection: ReturnType<typeof choose>, options: object = {}): ActionJson =>
  runEdit('actions.save', shot, selection, { name: 'One', ...options }).made as ActionJson;
const range = { start: 4, end: 16 };
const arm = choose({ nodes: ['arm_l'], range });

const layered = (): Shot => {
  const base = puppet({
    'arm_l.rz': curve([0, 10, 7, 50, 20, -30]),
    'arm_l.rx': { ...curve([0, 0, 5, 9, 8, 0]), leadOut: 'loop' },
  });
  const over = { ...base, layers: [pass('p', { weight: curve([0, 0, 20, 1]), rotations: 'channels' })] };
  return withCurves(over, 'p', new Map([['arm_l.rz', curve([3, 0, 11, 25, 18, 0])]]));
};

describe('saving', () => {
  test('what shows, passes and repeats in it, and channels without keys as they stand', () => {
    const shot = layered();
    const { curves } = readAction(saved(shot, arm));
    expect([...curves.keys()]).toEqual(
      ['arm_l.tx', 'arm_l.ty', 'arm_l.tz', 'arm_l.rx', 'arm_l.ry', 'arm_l.rz'].filter((id) => curves.has(id)),
    );
    expect(curves.size).toBe(6);
    const rig = rigOf(shot);
    for (const [id, one] of curves)
      for (let frame = 4; frame <= 16; frame += 1)
        expect([id, evaluate(one, frame - 4)]).toEqual([
          id,
          expect.closeTo(valuesAt(shot, frame)[rig.channelIndex(id)]!, 9),
        ]);
  });

  test('the base alone by choice: its own keys, with ends, and nothing for what has none', () => {
    const { curves } = readAction(saved(layered(), arm, { what: 'layer' }));
    expect([...curves.keys()].sort()).toEqual(['arm_l.rx', 'arm_l.rz']);
    expect([...curves.get('arm_l.rz')!.times]).toEqual([0, 3, 12]);
    const ofPass = readAction(
      saved(layered(), choose({ nodes: ['arm_l'], range, pass: 'p' }), { what: 'layer' }),
    );
    expect([...ofPass.curves.get('arm_l.rz')!.times]).toEqual([0, 7, 12]);
  });

  test('orientations on a pass are saved whole', () => {
    const shot = layered();
    const composed = { ...shot, layers: [{ ...shot.layers[0]!, rotations: 'orientations' as const }] };
    const { curves } = readAction(saved(composed, arm));
    for (const axis of ['rx', 'ry', 'rz'])
      expect(evaluate(curves.get(`arm_l.${axis}`)!, 8)).toBeCloseTo(
        valuesAt(composed, 12)[rigOf(shot).channelIndex(`arm_l.${axis}`)]!,
        9,
      );
  });

  test('taken away, locked channels stay and are said', () => {
    const shot = { ...layered(), locked: ['arm_l.rx'] };
    const { shot: after, report } = runEdit('actions.save', shot, arm, { name: 'One', takeAway: true });
    expect(curveOf(after, null, 'arm_l.rx')).toBe(curveOf(shot, null, 'arm_l.rx'));
    expect(keysOf(curveOf(after, null, 'arm_l.rz'))).toBe('0:10 20:-30');
    expect(report.findings.map(({ code }) => code)).toContain('lockedChannels');
  });
});

describe('applying', () => {
  const action = (more: Partial<ActionJson> = {}): ActionJson => ({
    ...saved(puppet({ 'hips.ty': curve([0, 1, 5, 9, 12, 3]) }), choose({ channels: ['hips.ty'] })),
    ...more,
  });
  const laid = (json: ActionJson, options: object = {}) =>
    runEdit('actions.apply', puppet({ 'hips.ty': curve([0, 0, 24, 0]) }), choose({}), {
      action: json,
      frame: 2,
      ...options,
    });

  test('never past its length, whatever the file says', () => {
    const { shot } = laid(action({ length: 7 }));
    const after = curveOf(shot, null, 'hips.ty');
    expect([...after.times]).toEqual([0, 2, 7, 9, 24]);
    expect(evaluate(after, 9)).toBeCloseTo(evaluate(curve([0, 1, 5, 9, 12, 3]), 7), 9);
  });

  test('of another rate on whole frames, or to the very second', () => {
    const faster = action({ rate: { numerator: 30, denominator: 1 } });
    expect([...curveOf(laid(faster).shot, null, 'hips.ty').times]).toEqual([0, 2, 6, 12, 24]);
    expect(curveOf(laid(faster, { wholeFrames: false }).shot, null, 'hips.ty').times[3]).toBeCloseTo(
      2 + (12 * 24) / 30,
      12,
    );
  });

  test('of a rate that is none it is refused', () => {
    for (const rate of [
      { numerator: 1e9, denominator: 1 },
      { numerator: 1, denominator: 1e6 },
    ])
      expect(laid(action({ rate })).report.findings[0]!.code).toBe('impossibleRate');
  });

  test('written to a file and read again it is the same', () => {
    const json = action();
    const again = readAction(JSON.parse(JSON.stringify(json)));
    expect(keysOf(again.curves.get('hips.ty')!)).toBe('0:1 5:9 12:3');
    expect(again.json).toEqual(json);
  });
});

describe('laying on a part of the body', () => {
  const action = saved(layered(), choose({ nodes: ['arm_l', 'hips'], range }));
  const lay = (selection: Parameters<typeof choose>[0], options: object = {}) =>
    runEdit('actions.apply', puppet(), choose(selection), { action, frame: 2, ...options });

  test('only what is selected gets keys; without the choice all of it does', () => {
    const one = lay({ nodes: ['arm_l'] }, { onlySelected: true });
    expect(one.report.touched.every((id) => id.startsWith('arm_l.'))).toBe(true);
    expect(one.report.touched).toHaveLength(6);
    expect(lay({ nodes: ['arm_l'] }).report.touched).toHaveLength(12);
    expect(lay({ channels: ['arm_l.rz'] }, { onlySelected: true }).report.touched).toEqual(['arm_l.rz']);
  });

  test('with nothing selected, or nothing of it in the action, it is refused', () => {
    expect(lay({}, { onlySelected: true }).report.findings[0]?.code).toBe('nothingSelected');
    expect(lay({ nodes: ['hand_r'] }, { onlySelected: true }).report.status).toBe('refused');
  });
});
