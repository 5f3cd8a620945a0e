import { beforeEach, describe, expect, test } from '@jest/globals';
import { curveOf, FLAG, openSession } from '@kneader/core';
import { choose, curve, puppet } from '../../../../core/src/testing/shot-literals.ts';
import { bench, useBench } from '../bench-store.ts';
import { hand } from '../../testing/hand.ts';
import type { DragPoint } from '../gestures/drag.ts';
import { pointerOver, toolFor } from './curve-tools.ts';
import type { LaneScene, Touch } from './curve-tools.ts';
import { handlePlace, keyPlace, ownView } from './curve-view.ts';

const shot = puppet({
  'hips.ty': curve([0, 1, 10, 5, 20, 2]),
  'arm_l.rz': curve([4, 30, 9, 12]),
});
const axis = { from: 0, to: 24, width: 960 };
/** 40 pixels are a frame, 10 a unit. */
const view = { axis, low: -5, high: 35, height: 400 };
let values: [number, number] | null = null;
const sceneOf = (more: Partial<LaneScene> = {}): LaneScene => ({
  view,
  curves: ['hips.ty', 'arm_l.rz'].map((channel) => ({
    channel,
    curve: curveOf(useBench.getState().session.shot, null, channel),
  })),
  boxed: false,
  setValues: (low, high) => (values = [low, high]),
  ...more,
});
const touchAt = (x: number, y: number, more: Partial<Touch> = {}): Touch => ({
  x,
  y,
  shift: false,
  alt: false,
  control: false,
  pan: false,
  ...more,
});
const placeOf = (channel: string, row: number) => keyPlace(view, curveOf(shot, null, channel), row);
/** Presses, moves by so many pixels, lets go. */
function drag(
  from: readonly [number, number],
  by: readonly [number, number],
  more: Partial<Touch> = {},
  scene = sceneOf(),
) {
  const { shift = false, alt = false, control: ctrl = false } = more;
  const tool = toolFor(touchAt(...(from as [number, number]), more), scene);
  const touch = ({ x, y }: DragPoint) => touchAt(x, y, more);
  hand.drag(
    { x: from[0], y: from[1], shift, alt, ctrl },
    [{ x: from[0] + by[0], y: from[1] + by[1], shift, alt, ctrl }],
    {
      ...tool,
      move: (at) => tool.move(touch(at), scene),
      end: (at) => tool.end?.(touch(at), scene),
    },
  );
}
const now = (channel = 'hips.ty') => curveOf(useBench.getState().session.shot, null, channel);
const keys = () => useBench.getState().session.selection.keys;
const ids = [...curveOf(shot, null, 'hips.ty').ids];

beforeEach(() => {
  bench.open('one', openSession(shot), null);
  bench.select(choose({ nodes: ['hips', 'arm_l'] }));
  values = null;
});

describe('a key under the hand', () => {
  test('is chosen when it is pressed, and goes with the hand: right is later, up is more', () => {
    drag(placeOf('hips.ty', 1), [80, -30]);
    expect(keys()).toEqual({ 'hips.ty': [ids[1]] });
    expect([...now().times]).toEqual([0, 12, 20]);
    expect(now().values[1]).toBeCloseTo(8, 9);
    expect(useBench.getState().session.steps).toHaveLength(2);
  });

  test('moves on whole frames', () => {
    drag(placeOf('hips.ty', 1), [-55, 0]);
    expect([...now().times]).toEqual([0, 9, 20]);
  });

  test('stays where it is under a hand that trembles', () => {
    drag(placeOf('hips.ty', 1), [2, -1]);
    expect(useBench.getState().session.shot).toBe(shot);
  });

  test('with Shift goes along one direction only', () => {
    drag(placeOf('hips.ty', 1), [80, -30], { shift: true });
    expect([now().times[1], now().values[1]]).toEqual([12, 5]);
    bench.undo();
    drag(placeOf('hips.ty', 1), [40, -60], { shift: true });
    expect([now().times[1], now().values[1]]).toEqual([10, expect.closeTo(11, 9)]);
  });

  test('takes all that are chosen with it, each curve in its own measure', () => {
    const measured = sceneOf({
      view: { ...view, low: 0, high: 1 },
      curves: [
        { channel: 'hips.ty', curve: now(), span: { low: 0, high: 10 } },
        { channel: 'arm_l.rz', curve: now('arm_l.rz'), span: { low: 0, high: 100 } },
      ],
    });
    const armIds = [...now('arm_l.rz').ids];
    bench.select(choose({ nodes: ['hips'], keys: { 'hips.ty': [ids[1]!], 'arm_l.rz': [armIds[0]!] } }));
    drag([5, 5], [0, -40], { control: true }, measured);
    expect(now().values[1]).toBeCloseTo(6, 9);
    expect(now('arm_l.rz').values[0]).toBeCloseTo(40, 9);
  });

  test('with Shift is added to what is chosen, and taken out again by a press without a drag', () => {
    drag(placeOf('hips.ty', 0), [0, 0]);
    drag(placeOf('hips.ty', 1), [0, 0], { shift: true });
    expect(keys()).toEqual({ 'hips.ty': [ids[0], ids[1]] });
    drag(placeOf('hips.ty', 0), [0, 0], { shift: true });
    expect(keys()).toEqual({ 'hips.ty': [ids[1]] });
  });

  test('of two that lie on each other the chosen one is taken', () => {
    const twins = puppet({ 'hips.ty': curve([0, 1, 10, 5]), 'arm_l.rz': curve([0, 2, 10, 5]) });
    const [first, second] = ['hips.ty', 'arm_l.rz'].map((id) => curveOf(twins, null, id).ids[1]!);
    for (const [channel, id] of [
      ['hips.ty', first!],
      ['arm_l.rz', second!],
    ] as const) {
      bench.open('two', openSession(twins), null);
      bench.select(choose({ nodes: ['hips', 'arm_l'], keys: { [channel]: [id] } }));
      drag(keyPlace(view, curveOf(twins, null, channel), 1), [40, 0]);
      expect(keys()).toEqual({ [channel]: [id] });
      expect(['hips.ty', 'arm_l.rz'].map((one) => now(one).times[1])).toEqual(
        channel === 'hips.ty' ? [11, 10] : [10, 11],
      );
    }
  });

  test('pressed while several are chosen leaves them chosen, for a drag of all', () => {
    bench.select(choose({ nodes: ['hips'], keys: { 'hips.ty': ids } }));
    drag(placeOf('hips.ty', 1), [40, 0]);
    expect([...now().times]).toEqual([1, 11, 21]);
  });
});

describe('empty ground', () => {
  test('a box chooses what lies in it, and lets go of the rest', () => {
    bench.select(choose({ nodes: ['hips'], keys: { 'hips.ty': [ids[2]!] } }));
    drag([380, 280], [60, 40]);
    expect(keys()).toEqual({ 'hips.ty': [ids[1]] });
    drag([380, 280], [60, 40]);
    drag([780, 300], [60, 60], { shift: true });
    expect(keys()).toEqual({ 'hips.ty': [ids[1], ids[2]] });
  });

  test('a press lets go of chosen keys; with Shift it leaves them', () => {
    bench.select(choose({ nodes: ['hips'], keys: { 'hips.ty': [ids[2]!] } }));
    drag([600, 30], [0, 0], { shift: true });
    expect(keys()).toEqual({ 'hips.ty': [ids[2]] });
    drag([600, 30], [0, 0]);
    expect(keys()).toEqual({});
  });

  test('the view goes with the hand', () => {
    drag([600, 30], [80, 40], { pan: true });
    const { from, to } = useBench.getState();
    expect([from, to]).toEqual([-2, 22]);
    expect(values).toEqual([-1, 39]);
  });
});

describe('a handle under the hand', () => {
  const choosing = (row: number) =>
    bench.select(choose({ nodes: ['hips'], keys: { 'hips.ty': [ids[row]!] } }));
  const handle = (row: number, side: 'in' | 'out') => handlePlace(view, now(), row, side);

  test.each(['in', 'out'] as const)('%s: the slope is the way from the key to the hand', (side) => {
    choosing(1);
    const from = handle(1, side);
    const key = placeOf('hips.ty', 1);
    const way = side === 'in' ? -1 : 1;
    // To four frames beside the key, eight units above it.
    drag(from, [key[0] + way * 160 - from[0], key[1] - 80 - from[1]]);
    const slope = side === 'in' ? now().slopesIn[1] : now().slopesOut[1];
    expect(slope).toBeCloseTo(way * 2, 9);
    expect(keys()).toEqual({ 'hips.ty': [ids[1]] });
  });

  test('with Alt its length follows, with Shift it lies level', () => {
    choosing(1);
    const key = placeOf('hips.ty', 1);
    const from = handle(1, 'out');
    drag(from, [key[0] + 200 - from[0], key[1] + 50 - from[1]], { alt: true });
    expect(now().lengthsOut[1]).toBeCloseTo(5, 9);
    expect(now().flags[1]! & FLAG.weightedOut).not.toBe(0);
    const again = handle(1, 'out');
    drag(again, [-40, -90], { shift: true });
    expect(now().slopesOut[1]).toBeCloseTo(0, 12);
  });

  test('turns its own key alone, and leaves chosen what was chosen', () => {
    bench.select(choose({ nodes: ['hips'], keys: { 'hips.ty': ids } }));
    const others = [0, 2].map((row) => [now().slopesIn[row], now().slopesOut[row]]);
    drag(handle(1, 'out'), [0, -40]);
    expect(now().slopesOut[1]).not.toBeCloseTo(curveOf(shot, null, 'hips.ty').slopesOut[1]!, 3);
    expect([0, 2].map((row) => [now().slopesIn[row], now().slopesOut[row]])).toEqual(others);
    expect(keys()).toEqual({ 'hips.ty': ids });
  });

  test('turns in the measure of its own curve', () => {
    choosing(1);
    const span = { low: 0, high: 80 };
    const parts = { ...view, low: 0, high: 1 };
    const shown = { channel: 'hips.ty', curve: now(), span };
    const scene = sceneOf({ view: parts, curves: [shown] });
    const own = ownView(parts, shown);
    const from = handlePlace(own, now(), 1, 'out');
    const key = keyPlace(own, now(), 1);
    drag(from, [key[0] + 160 - from[0], key[1] - 80 - from[1]], {}, scene);
    // 80 of 400 pixels are 16 of 80 units, over 4 frames.
    expect(now().slopesOut[1]).toBeCloseTo(4, 9);
  });
});

describe('the box around chosen keys', () => {
  test('pulled at its right edge scales time about the left one', () => {
    bench.select(choose({ nodes: ['hips'], keys: { 'hips.ty': ids } }));
    const scene = sceneOf({ boxed: true });
    const [left, right] = [placeOf('hips.ty', 0), placeOf('hips.ty', 2)];
    const middle = (valueY(1) + valueY(5)) / 2;
    drag([right[0] + 10, middle], [-(right[0] - left[0]) / 2, 0], {}, scene);
    expect([...now().times]).toEqual([0, 5, 10]);
  });

  test('is taken anywhere along an edge, at its corners and inside, and the pointer tells what that does', () => {
    bench.select(choose({ nodes: ['hips'], keys: { 'hips.ty': ids } }));
    const scene = sceneOf({ boxed: true });
    const [left, right] = [placeOf('hips.ty', 0)[0] - 10, placeOf('hips.ty', 2)[0] + 10];
    const [top, bottom] = [valueY(5) - 10, valueY(1) + 10];
    // A quarter down the left edge, not its middle.
    const over = (x: number, y: number) => pointerOver(touchAt(x, y), scene);
    expect(over(left, top + (bottom - top) * 0.27)).toBe('ew-resize');
    expect(over(left + (right - left) * 0.7, bottom)).toBe('ns-resize');
    expect(over(left, top)).toBe('nwse-resize');
    expect(over(right, top)).toBe('nesw-resize');
    expect(over(left + 30, bottom - 14)).toBe('move');
    expect(over(...placeOf('hips.ty', 1))).toBe('move');
    expect(over(left - 30, top)).toBe('crosshair');
    expect(pointerOver(touchAt(left, top), sceneOf())).toBe('crosshair');
    drag([right, top + (bottom - top) * 0.27], [-(right - left - 20) / 2, 0], {}, scene);
    expect([...now().times]).toEqual([0, 5, 10]);
  });

  const valueY = (value: number) => 400 - (value + 5) * 10;
});
