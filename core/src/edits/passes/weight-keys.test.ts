/** A layer's weight is a curve like any other: its keys are chosen, moved, bent, copied, taken away; what is meant for channels leaves it alone. */
import { describe, expect, test } from '@jest/globals';
import { evaluate } from '../../curve/evaluate.ts';
import { valuesAt } from '../../evaluation/evaluation.ts';
import { openSession, perform, select } from '../../session/session.ts';
import type { Selection } from '../../document/selection.ts';
import { curveOf, rigOf, WEIGHT } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { choose, curve, filter, keysOf, pass, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

const lift = pass('lift', {
  members: ['hips'],
  weight: curve([3, 0, 11, 1, 20, 0.2]),
  curves: [{ ty: curve([0, 40]) }],
});
const shot: Shot = {
  ...puppet({ 'hips.ty': curve([0, 5, 24, 5]) }),
  layers: [lift, filter('spring', ['hips'], {}, { weight: curve([0, 0.5, 20, 1]) })],
};
const onWeight = (more: Partial<Selection> = {}) =>
  choose({ nodes: ['hips'], channels: [WEIGHT], layer: 'lift', ...more });
const weightOf = (of: Shot, layer = 'lift') => keysOf(curveOf(of, layer, WEIGHT));
const after = (edit: string, options: object, selection = onWeight()) =>
  runEdit(edit, shot, selection, options);

describe('the keys of a weight', () => {
  test('are moved, one of them; what the pass holds and the base stay the same objects', () => {
    const moved = after('keys.move', { frames: 2, value: -0.25 }, onWeight({ keys: { [WEIGHT]: [2] } }));
    expect(weightOf(moved.shot)).toBe('3:0 13:0.75 20:0.2');
    expect(moved.shot.curves).toBe(shot.curves);
    expect(moved.shot.layers[0]!.curves).toBe(lift.curves);
    expect(moved.report.touched).toEqual([WEIGHT]);
  });

  test('are added where the curve runs, and what shows stays what it was', () => {
    const added = after('keys.add', { frame: 7 });
    expect(curveOf(added.shot, 'lift', WEIGHT).times).toContain(7);
    const ty = rigOf(shot).channelIndex('hips.ty');
    const bare = (of: Shot) => ({ ...of, layers: of.layers.slice(0, 1) });
    for (let frame = 0; frame <= 24; frame += 0.2)
      expect(valuesAt(bare(added.shot), frame)[ty]).toBeCloseTo(valuesAt(bare(shot), frame)[ty]!, 9);
  });

  test('take tangents: flat ones do not go beyond the keys', () => {
    const flat = after('tangents.set', { kind: 'flat' });
    const weight = curveOf(flat.shot, 'lift', WEIGHT);
    for (let frame = 3; frame <= 11; frame += 0.5) expect(evaluate(weight, frame)).toBeLessThanOrEqual(1);
    expect([...weight.slopesOut]).toEqual([0, 0, 0]);
  });

  test('may all go: then all of the layer counts', () => {
    expect(weightOf(after('keys.delete', {}, onWeight({ keys: { [WEIGHT]: [1, 2, 3] } })).shot)).toBe('0:1');
  });

  test('of a filter are its strength', () => {
    const louder = after(
      'keys.setValue',
      { value: 0.25 },
      onWeight({ layer: 'spring', keys: { [WEIGHT]: [2] } }),
    );
    expect(weightOf(louder.shot, 'spring')).toBe('0:0.5 20:0.25');
  });
});

describe('what is no weight', () => {
  test('edits of channels and poses leave it alone, and say that nothing is chosen', () => {
    for (const edit of ['clean.rotationOrder', 'passes.addOffset', 'poses.rest']) {
      const { report } = after(
        edit,
        edit === 'clean.rotationOrder' ? { order: 'zxy' } : {},
        onWeight({ nodes: [] }),
      );
      expect([edit, report.status]).toEqual([edit, 'refused']);
    }
  });

  test('a filter holds no keys: a selection on it without its strength goes to the base', () => {
    const session = select(openSession(shot), choose({ nodes: ['hips'], layer: 'spring' }));
    expect(session.selection.layer).toBeNull();
    const kept = select(openSession(shot), onWeight({ layer: 'spring' }));
    expect(kept.selection.layer).toBe('spring');
    expect(select(kept, { ...kept.selection, layer: null }).selection.channels).toEqual([]);
  });
});

test('a filter that is removed while its strength is worked on leaves the base to be worked on', () => {
  const session = select(openSession(shot), onWeight({ layer: 'spring' }));
  const removed = perform(session, 'filters.remove', { filter: 'spring' }).session;
  expect(removed.selection).toMatchObject({ layer: null, channels: [], nodes: ['hips'] });
});
