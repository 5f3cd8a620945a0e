import { beforeEach, describe, expect, test } from '@jest/globals';
import { curveOf, openSession } from '@kneader/core';
import { choose, curve, puppet } from '../../../../core/src/testing/shot-literals.ts';
import { bench, useBench } from '../bench-store.ts';
import { hand } from '../../testing/hand.ts';
import { columnToolFor } from './column-tools.ts';

const keys = (values: readonly number[]) => curve([0, values[0]!, 8, values[1]!, 20, values[2]!]);
const shot = puppet({ 'hips.ty': keys([1, 5, 2]), 'arm_l.rz': keys([0, 30, 9]) });
/** 40 pixels are a frame. */
const axis = { from: 0, to: 24, width: 960 };
const state = () => useBench.getState();
const times = () => [...curveOf(state().session.shot, null, 'hips.ty').times];
function drag(from: number, to: number, shift = false, ctrl = false) {
  const held = { shift, ctrl };
  hand.drag(
    { x: from, ...held },
    to === from ? [] : [{ x: to, ...held }],
    columnToolFor({ x: from, ...held }, axis),
  );
}

beforeEach(() => bench.open('one', openSession(shot), null));

describe('a column under the hand', () => {
  test('takes everything later with it', () => {
    drag(321, 441);
    expect(times()).toEqual([0, 11, 23]);
    expect(state().session.steps).toHaveLength(2);
  });

  test('alone slides between its neighbours, with Ctrl or with the switch off, and no farther', () => {
    drag(321, 441, false, true);
    expect(times()).toEqual([0, 11, 20]);
    bench.setLane({ ripples: false });
    drag(441, 950);
    expect(times()).toEqual([0, 19, 20]);
    drag(760, -200);
    expect(times()).toEqual([0, 1, 20]);
    // Ctrl is the other of the two.
    drag(40, 120, false, true);
    expect(times()).toEqual([0, 3, 22]);
    bench.setLane({ ripples: true });
  });

  test('at the end of the shot does not slide, and that is said: it never ripples instead', () => {
    bench.open('two', openSession({ ...shot, range: { start: 0, end: 20 } }), null);
    drag(801, 881, false, true);
    expect(times()).toEqual([0, 8, 20]);
    expect(state().session.steps).toHaveLength(1);
    expect(state().report?.report.findings[0]?.code).toBe('nothingToSlide');
  });

  test('comes to a marker that is near, beside one too, and away from one that it stood on', () => {
    // Five pixels are a frame.
    const far = { from: 0, to: 192, width: 960 };
    const mark = (frame: number) => bench.perform('markers.set', { frame, name: `beat ${frame}` });
    const pull = (from: number, to: number) => {
      const at = (x: number) => ({ x, shift: false, ctrl: false });
      hand.drag(at(from), [at(to)], columnToolFor(at(from), far));
      return times()[1];
    };
    mark(14);
    expect(pull(40, 67)).toBe(14);
    // That one went on with what is later.
    mark(14);
    expect(pull(70, 73.5)).toBe(15);
    mark(18);
    expect(pull(75, 85.5)).toBe(17);
  });

  test('comes no nearer to the one before than a frame', () => {
    drag(320, -400);
    expect(times()).toEqual([0, 1, 13]);
  });

  test('pressed alone is gone to', () => {
    drag(803, 803);
    expect([state().frame, state().session.shot]).toEqual([20, shot]);
  });

  test('with chosen controls only, where time is theirs', () => {
    bench.select(choose({ nodes: ['hips'] }));
    bench.setLane({ timeScope: 'selected' });
    drag(320, 400);
    expect(times()).toEqual([0, 10, 22]);
    expect([...curveOf(state().session.shot, null, 'arm_l.rz').times]).toEqual([0, 8, 20]);
  });
});

test('elsewhere the hand goes from column to column', () => {
  drag(200, 700);
  expect(state().frame).toBe(20);
  drag(700, 500);
  expect(state().frame).toBe(8);
});

describe('with Shift', () => {
  test('columns are chosen from the play-head to the hand', () => {
    bench.setFrame(8);
    drag(790, 790, true);
    expect(state().session.selection.range).toEqual({ start: 8, end: 20 });
  });

  test('a chosen range goes on from its farther end, and back to nothing', () => {
    bench.select(choose({ range: { start: 8, end: 20 } }));
    drag(10, 10, true);
    expect(state().session.selection.range).toEqual({ start: 0, end: 20 });
    drag(790, 10, true);
    expect(state().session.selection.range).toBeNull();
  });
});
