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
function drag(from: number, to: number, shift = false) {
  hand.drag(
    { x: from, shift },
    to === from ? [] : [{ x: to, shift }],
    columnToolFor({ x: from, shift }, axis),
  );
}

beforeEach(() => bench.open('one', openSession(shot), null));

describe('a column under the hand', () => {
  test('takes everything later with it', () => {
    drag(321, 441);
    expect(times()).toEqual([0, 11, 23]);
    expect(state().session.steps).toHaveLength(2);
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
