import { beforeEach, describe, expect, test } from '@jest/globals';
import { curveOf, openSession, runEdit } from '@kneader/core';
import type { Shot } from '@kneader/core';
import { choose, curve, puppet } from '../../../core/src/testing/shot-literals.ts';
import { bench, ghostShot, previewOf, shownShot, useBench } from './bench-store.ts';

const shot = puppet({ 'hips.ty': curve([0, 1, 10, 5, 24, 2]), 'arm_l.rz': curve([4, 30, 9, 12]) });
const state = () => useBench.getState();
const valueOf = (of: Shot) => curveOf(of, null, 'hips.ty').values[0];
const preview = (value: number, on = state().session.shot) => {
  const selection = choose({ channels: ['hips.ty'] });
  const outcome = runEdit('keys.move', on, selection, { value });
  return { edit: 'keys.move', options: { value }, on, selection, outcome, whole: true };
};

beforeEach(() => bench.open('one', openSession(shot), null));

describe('the play-head', () => {
  test('stays within the shot, on whole frames', () => {
    const { start, end } = shot.range;
    bench.setFrame(7.6);
    expect(state().frame).toBe(8);
    bench.setFrame(end + 30);
    expect(state().frame).toBe(end);
    bench.setFrame(start - 30);
    expect(state().frame).toBe(start);
  });

  test('goes along when the shot gets shorter, and undone it stays within it', () => {
    bench.setFrame(24);
    bench.perform('timing.setShot', { end: 15 });
    expect([state().frame, state().held]).toEqual([15, 15]);
    bench.undo();
    expect([state().frame, state().session.shot.range.end]).toEqual([15, 24]);
  });

  test('a step stops playing and goes one on', () => {
    bench.setFrame(5);
    bench.setPlaying(true);
    bench.step(2);
    expect([state().playing, state().frame]).toEqual([false, 7]);
  });

  test('another shot opens where it was left, or at its start with all of it in view', () => {
    bench.open('two', openSession(shot), { frame: 9, from: 3, to: 12 });
    expect([state().frame, state().from, state().to]).toEqual([9, 3, 12]);
    bench.open('two', openSession(shot), null);
    expect(state().frame).toBe(shot.range.start);
    expect(state().from).toBeLessThan(shot.range.start);
    expect(state().to).toBeGreaterThan(shot.range.end);
  });

  test('the axis is never squeezed to nothing', () => {
    bench.setAxis(2, 20);
    bench.setAxis(5, 6);
    bench.setAxis(9, 2);
    expect([state().from, state().to]).toEqual([2, 20]);
  });
});

describe('what is still being turned', () => {
  const turn = () => {
    bench.perform('keys.move', { value: 1 }, choose({ channels: ['hips.ty'] }));
    bench.select(choose({ channels: ['hips.ty'] }));
    bench.beginGesture('keys.move');
    bench.updateGesture({ value: 3 });
    expect(valueOf(shownShot(state()))).toBe(5);
  };

  test('is taken back by Undo alone, and nothing before it', () => {
    turn();
    bench.undo();
    expect([state().gesture, valueOf(state().session.shot), state().session.steps.length]).toEqual([
      null,
      2,
      2,
    ]);
    bench.undo();
    expect(valueOf(state().session.shot)).toBe(1);
  });

  test('is done before another shot is opened, so that leaving at once keeps it', () => {
    turn();
    const kept: (number | undefined)[] = [];
    const stop = useBench.subscribe(({ id, session }) => {
      if (id === 'one') kept.push(valueOf(session.shot));
    });
    bench.open('two', openSession(shot), null);
    stop();
    expect(kept.at(-1)).toBe(5);
    expect([state().id, state().session.steps.length]).toEqual(['two', 1]);
  });
});

describe('what is tried', () => {
  test('is shown over the shot, with the shot behind it, and leaves no trace when it is let go', () => {
    bench.openEdit('keys.move');
    bench.setPreview(preview(4));
    expect(valueOf(shownShot(state()))).toBe(5);
    expect(ghostShot(state())).toBe(shot);
    bench.openEdit(null);
    expect(shownShot(state())).toBe(shot);
    expect(ghostShot(state())).toBeNull();
    expect(state().session.steps).toHaveLength(1);
  });

  test('is applied as it was shown, once, as one step', () => {
    bench.setPreview(preview(4));
    bench.applyPreview();
    bench.applyPreview();
    expect(valueOf(state().session.shot)).toBe(5);
    expect(state().session.steps.map(({ options }) => options)).toEqual([null, { value: 4 }]);
    expect(state().report?.report.status).toBe('changed');
  });

  test('is shown while a part of it is still being worked out, and not applied then', () => {
    bench.setPreview({ ...preview(4), whole: false });
    bench.applyPreview();
    expect(valueOf(shownShot(state()))).toBe(5);
    expect(state().session.steps).toHaveLength(1);
  });

  test.each([
    ['a drag that is taken back', () => (bench.beginGesture('keys.move'), bench.cancelGesture())],
    ['opening the same edit once more', () => bench.openEdit('keys.move')],
    ['nothing to redo', () => bench.redo()],
    ['nothing to undo', () => bench.undo()],
    ['an edit that changes nothing', () => bench.perform('keys.move', { value: 0 })],
  ])('is there still after %s: nothing would try it anew', (_, act) => {
    bench.openEdit('keys.move');
    bench.setPreview(preview(4));
    act();
    expect(valueOf(shownShot(state()))).toBe(5);
    expect(previewOf('keys.move', state())?.options).toEqual({ value: 4 });
  });

  test('is not seen under a drag, nor on another shot', () => {
    bench.setPreview(preview(4));
    bench.beginGesture('keys.move');
    expect(shownShot(state())).toBe(shot);
    bench.cancelGesture();
    bench.perform('keys.move', { value: 1 }, choose({ channels: ['hips.ty'] }));
    expect([valueOf(shownShot(state())), previewOf('keys.move', state())]).toEqual([2, null]);
  });

  test('is not applied to a shot that has changed meanwhile', () => {
    const stale = preview(4);
    bench.perform('keys.move', { value: 1 }, choose({ channels: ['hips.ty'] }));
    bench.setPreview(stale);
    bench.applyPreview();
    expect(valueOf(state().session.shot)).toBe(2);
    expect(state().session.steps).toHaveLength(2);
  });

  test('before and outline show what came', () => {
    bench.perform('keys.move', { value: 1 }, choose({ channels: ['hips.ty'] }));
    bench.setComparison('before');
    expect(shownShot(state())).toBe(shot);
    bench.setComparison('outline');
    expect(valueOf(shownShot(state()))).toBe(2);
    expect(ghostShot(state())).toBe(shot);
  });
});

describe('a gesture', () => {
  test('counts from where it began and is one step', () => {
    bench.select(choose({ channels: ['hips.ty'] }));
    bench.beginGesture('keys.move');
    for (const value of [1, 5, 3]) bench.updateGesture({ value });
    expect(valueOf(shownShot(state()))).toBe(4);
    expect(valueOf(state().session.shot)).toBe(1);
    bench.commitGesture('Drag');
    expect(valueOf(state().session.shot)).toBe(4);
    expect(state().session.steps.map(({ label }) => label)).toEqual(['Opened', 'Drag']);
  });

  test('let go it leaves nothing', () => {
    bench.select(choose({ channels: ['hips.ty'] }));
    bench.beginGesture('keys.move');
    bench.updateGesture({ value: 5 });
    bench.cancelGesture();
    bench.commitGesture();
    expect([state().session.shot, state().session.steps.length]).toEqual([shot, 1]);
  });
});

describe('choosing controls', () => {
  test('takes the place of what was chosen, or is added and taken out one by one', () => {
    bench.select(choose({ nodes: ['hips'], channels: ['hips.ty'], keys: { 'hips.ty': [1] } }));
    bench.selectNodes(['arm_l']);
    expect(state().session.selection).toMatchObject({ nodes: ['arm_l'], channels: [], keys: {} });
    bench.selectNodes(['hips', 'arm_l'], true);
    expect(state().session.selection.nodes).toEqual(['arm_l', 'hips']);
    bench.selectNodes(['arm_l'], true);
    expect(state().session.selection.nodes).toEqual(['hips']);
  });
});

describe('the history', () => {
  test('undo and redo walk it, and stop at its ends', () => {
    const selection = choose({ channels: ['hips.ty'] });
    bench.perform('keys.move', { value: 1 }, selection);
    bench.perform('keys.move', { value: 1 }, selection);
    bench.undo();
    expect(valueOf(state().session.shot)).toBe(2);
    bench.undo();
    bench.undo();
    expect(state().session.shot).toBe(shot);
    bench.redo();
    bench.redo();
    bench.redo();
    expect(valueOf(state().session.shot)).toBe(3);
  });

  test('a new name is a step: undone it is the old one, and what was undone before stays undone', () => {
    const was = state().session.shot.name;
    bench.rename('Proofing');
    expect([state().session.shot.name, state().session.steps.length]).toEqual(['Proofing', 2]);
    bench.undo();
    expect(state().session.shot.name).toBe(was);
    bench.redo();
    expect(state().session.shot.name).toBe('Proofing');
  });
});
