/** Passes put in order, parted and cleared: what shows, and what is left of it. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { valuesAt } from '../../evaluation/evaluation.ts';
import type { Shot } from '../../document/shot.ts';
import { anyCurve } from '../../testing/arbitrary-curves.ts';
import { choose, curve, pass, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

const lift = pass('lift', {
  members: ['hips', 'arm_l', 'arm_r'],
  weight: curve([0, 0.2, 12, 0.9]),
  range: { start: 2, end: 20 },
  curves: [{ ty: curve([4, 0, 9, 7]) }, { rz: curve([6, 0, 12, 20]) }],
});
const cover = pass('cover', { kind: 'replace', members: ['hips'], curves: [{ ty: curve([0, 3, 24, 9]) }] });
const shot: Shot = {
  ...puppet({ 'hips.ty': curve([0, 1, 24, 5]), 'arm_l.rz': curve([0, 10, 24, -5]) }),
  layers: [lift, cover],
};
const ids = ({ layers }: Shot) => layers.map(({ id }) => id);
const arm = choose({ nodes: ['arm_l'], layer: 'lift', keys: {} });
const run = (id: string, options: object, selection = arm, on = shot) => runEdit(id, on, selection, options);
const shown = (of: Shot) => [0, 3, 8.5, 11, 24].map((frame) => [...valuesAt(of, frame)]);

describe('another place in the stack', () => {
  test('above a replacing pass an offset shows again; the passes are the same objects', () => {
    const { shot: after } = run('passes.move', { pass: 'lift', place: 2 });
    expect(ids(after)).toEqual(['cover', 'lift']);
    expect(after.layers).toEqual([cover, lift]);
    expect(after.layers[1]).toBe(lift);
    expect(shown(after)).not.toEqual(shown(shot));
    expect(ids(run('passes.move', { pass: 'cover', place: 1 }).shot)).toEqual(['cover', 'lift']);
  });

  test('beyond the top is the top; where it stands already nothing is done', () => {
    expect(ids(run('passes.move', { pass: 'lift', place: 99 }).shot)).toEqual(['cover', 'lift']);
    expect(run('passes.move', { pass: 'cover', place: 99 }).shot).toBe(shot);
  });
});

describe('split out', () => {
  test('what shows is what it was, to the bit, whatever the curves and weights', () => {
    fc.assert(
      fc.property(anyCurve({ weighted: true }), anyCurve({}), anyCurve({}), (a, b, weight) => {
        const mixed = pass('lift', { ...lift, weight, curves: [{ ty: a }, { rz: b, rx: a }] });
        const before = { ...shot, layers: [mixed, cover] };
        const { shot: after } = run('passes.splitOut', { pass: 'lift' }, arm, before);
        expect(shown(after)).toEqual(shown(before));
      }),
      { numRuns: 30 },
    );
  });

  test('its own pass has the keys, the weight and the bookends, and is worked on next', () => {
    const result = run('passes.splitOut', { pass: 'lift' });
    expect(ids(result.shot)).toEqual(['lift', 'layer-1', 'cover']);
    const [left, made] = result.shot.layers;
    expect([left!.members, made!.members]).toEqual([['hips', 'arm_r'], ['arm_l']]);
    expect([left!.curves[1], made!.curves[0]]).toEqual([undefined, undefined]);
    expect(made!.curves[1]!['rz']).toBe(lift.curves[1]!['rz']);
    expect([made!.weight, made!.range, made!.name]).toEqual([lift.weight, lift.range, 'lift 1']);
    expect([result.selection.layer, result.report.touched]).toEqual(['layer-1', ['arm_l.rz']]);
  });

  test('of nobody, or of everybody, is refused', () => {
    const of = (nodes: string[]) =>
      run('passes.splitOut', { pass: 'lift' }, choose({ nodes })).report.findings[0]?.code;
    expect(of(['hand_l'])).toBe('noMembersChosen');
    expect(of(['hips', 'arm_l', 'arm_r', 'hand_r'])).toBe('allMembersChosen');
  });
});

describe('members', () => {
  test('join without keys, and nothing that shows changes', () => {
    const { shot: after } = run(
      'passes.setMembers',
      { pass: 'lift' },
      choose({ nodes: ['hand_l', 'arm_l'] }),
    );
    expect(after.layers[0]!.members).toEqual(['hips', 'arm_l', 'arm_r', 'hand_l']);
    expect(shown(after)).toEqual(shown(shot));
  });

  test('that leave take their keys along, which is said; the others keep theirs', () => {
    const { shot: after, report } = run('passes.setMembers', { pass: 'lift', change: 'remove' });
    expect(after.layers[0]!.members).toEqual(['hips', 'arm_r']);
    expect(after.layers[0]!.curves[0]).toBe(lift.curves[0]);
    expect(after.layers[0]!.curves[1]).toBeUndefined();
    expect([report.findings[0]!.sentence, report.touched]).toEqual([
      '2 keys went with the controls that were removed: arm_l.',
      ['arm_l.rz'],
    ]);
    expect(
      run('passes.setMembers', { pass: 'lift', change: 'remove' }, choose({ nodes: ['hand_l'] })).shot,
    ).toBe(shot);
  });
});

describe('cleared and removed', () => {
  test('a cleared pass shows the motion below, and is a pass still', () => {
    const { shot: after, report } = run('passes.clear', { pass: 'lift' });
    expect(shown(after)).toEqual(shown({ ...shot, layers: [cover] }));
    expect([ids(after), after.layers[0]!.weight, report.measures[0]!.value]).toEqual([
      ['lift', 'cover'],
      lift.weight,
      4,
    ]);
    expect(run('passes.clear', { pass: 'lift' }, arm, after).shot).toBe(after);
  });

  test('empty passes go; those with a key, and locked ones, stay', () => {
    const more = { ...shot, layers: [pass('bare'), lift, pass('shut', { locked: true }), cover] };
    const { shot: after, report, selection } = run('passes.removeEmpty', {}, choose({ layer: 'bare' }), more);
    expect([ids(after), selection.layer]).toEqual([['lift', 'shut', 'cover'], null]);
    expect(report.findings[0]!.sentence).toBe('Locked, and left though it holds no key: shut.');
    expect(run('passes.removeEmpty', {}, arm, shot).shot).toBe(shot);
  });
});
