import { beforeEach, describe, expect, test } from '@jest/globals';
import { DEMO_SHOTS, openSession, select } from '@kneader/core';
import { bench, useBench } from '../bench-store.ts';
import { changeGap, hideCurves, isolateCurves, lockChosen, toggleArcs } from '../bench-actions.ts';
import { hand } from '../../testing/hand.ts';
import { columnToolFor } from '../lanes/column-tools.ts';
import { pressOf, SHORTCUTS } from './shortcuts.ts';

const walk = DEMO_SHOTS[1]!.make();
const axis = { from: 0, to: 16, width: 160 };

beforeEach(() => {
  const session = openSession(walk);
  bench.open('test', select(session, { ...session.selection, nodes: ['hips'] }), null);
});

describe('keystrokes', () => {
  test('none stands twice, and each says what it does', () => {
    const presses = SHORTCUTS.map(({ press }) => press);
    expect(new Set(presses).size).toBe(presses.length);
    for (const { does } of SHORTCUTS) expect(does).toMatch(/^[A-Z]/);
  });

  test.each([
    [{ key: ' ' }, 'Space'],
    [{ key: 'n' }, 'N'],
    [{ key: 'T', shiftKey: true }, 'Shift+T'],
    [{ key: 'z', metaKey: true }, 'Ctrl+Z'],
    [{ key: 'Z', ctrlKey: true, shiftKey: true }, 'Ctrl+Shift+Z'],
    [{ key: 'ArrowUp', altKey: true, shiftKey: true }, 'Shift+Alt+ArrowUp'],
    [{ key: '+', shiftKey: true }, 'Shift++'],
  ])('%j is %s', (init, press) => {
    expect(pressOf(new KeyboardEvent('keydown', init))).toBe(press);
  });

  test('every one of them runs on an open shot without an error', () => {
    for (const { run } of SHORTCUTS) run();
    expect(useBench.getState().id).toBe('test');
  });
});

describe('what keystrokes do', () => {
  const lane = () => useBench.getState().lane;

  test('a frame more and less in the gap here; below one frame it is refused and nothing changes', () => {
    changeGap(1);
    expect(useBench.getState().session.shot.range.end).toBe(17);
    for (let i = 0; i < 9; i += 1) changeGap(-1);
    expect(useBench.getState().session.shot.range.end).toBe(13);
    expect(useBench.getState().report?.report.findings[0]?.code).toBe('gapTooShort');
  });

  test('hide, show, isolate', () => {
    hideCurves(true);
    expect(lane().hidden).toContain('hips.ty');
    hideCurves(false);
    expect(lane().hidden).toEqual([]);
    isolateCurves();
    expect(lane().isolated).toContain('hips.ty');
    isolateCurves();
    expect(lane().isolated).toEqual([]);
  });

  test('lock the chosen channels; undone they are free', () => {
    const { session } = useBench.getState();
    bench.select({ ...session.selection, channels: ['hips.ty'] });
    lockChosen(true);
    expect(useBench.getState().session.shot.locked).toEqual(['hips.ty']);
    bench.undo();
    expect(useBench.getState().session.shot.locked).toEqual([]);
  });

  test('arcs come and go', () => {
    toggleArcs();
    expect(useBench.getState().arcs).toEqual(['hips']);
    toggleArcs();
    expect(useBench.getState().arcs).toEqual([]);
  });
});

describe('a hand in the poses lane', () => {
  test('a column that is dragged takes its gap along, as one step; never below a frame', () => {
    hand.drag({ x: 80 }, [{ x: 110 }, { x: 100 }], columnToolFor({ x: 80, shift: false, ctrl: false }, axis));
    const { session } = useBench.getState();
    expect(session.steps).toHaveLength(2);
    expect(session.shot.range.end).toBe(18);
    hand.drag({ x: 100 }, [{ x: -200 }], columnToolFor({ x: 100, shift: false, ctrl: false }, axis));
    expect(useBench.getState().session.shot.range.end).toBe(13);
  });

  test('a press without a drag goes there; with Shift it selects columns', () => {
    hand.drag({ x: 120 }, [], columnToolFor({ x: 120, shift: false, ctrl: false }, axis));
    expect(useBench.getState().frame).toBe(12);
    columnToolFor({ x: 43, shift: true, ctrl: false }, axis);
    expect(useBench.getState().session.selection.range).toEqual({ start: 4, end: 12 });
    expect(useBench.getState().session.steps).toHaveLength(1);
  });
});
