import { describe, expect, test } from '@jest/globals';
import { buildCurve, DEMO_SHOTS, NOTHING, SEGMENT } from '@kneader/core';
import { fitValues, handlePlace, keyPlace, ownView, valueToY, yToValue } from './curve-view.ts';
import { listedChannels, PLAIN_VIEW, shownCurves } from './lane-view.ts';
import type { LaneView } from './lane-view.ts';
import { boxAround, gripAt, transformOf } from './transform-box.ts';
import { hitAt, keysInBox, visibleHandles } from './curve-hits.ts';
import { frameToX, labelStep, niceStep, xToFrame, zoomed } from './time-axis.ts';

const axis = { from: 0, to: 100, width: 1000 };
const curve = buildCurve(3, (columns) => {
  columns.times.set([10, 50, 90]);
  columns.values.set([0, 20, -20]);
  columns.segments[1] = SEGMENT.stepped;
});
const view = { axis, low: -40, high: 40, height: 400 };
const shown = [{ channel: 'hips.ty', curve }];

describe('the time axis', () => {
  test('frames and pixels turn into each other', () => {
    for (const frame of [-7, 0, 33.5, 100])
      expect(xToFrame(axis, frameToX(axis, frame))).toBeCloseTo(frame, 12);
  });

  test('zoom keeps the frame under the pointer', () => {
    const next = { ...axis, ...zoomed(axis, 300, 0.5) };
    expect(xToFrame(next, 300)).toBeCloseTo(30, 12);
    expect(next.to - next.from).toBe(50);
  });

  test('labels stand at 1, 2, 5 × 10ⁿ frames, never closer than asked', () => {
    for (const width of [90, 333, 1000, 4000]) {
      const step = labelStep({ ...axis, width }, 60);
      expect((step / 100) * width).toBeGreaterThanOrEqual(60 - 1e-9);
      expect([1, 2, 5]).toContain(step / 10 ** Math.floor(Math.log10(step)));
    }
    expect(niceStep(0.03)).toBeCloseTo(0.05, 12);
    expect(labelStep({ from: 0, to: 1, width: 1000 }, 10)).toBe(1);
  });
});

describe('the curve view', () => {
  test('values and pixels turn into each other; up is more', () => {
    expect(yToValue(view, valueToY(view, 12.5))).toBeCloseTo(12.5, 12);
    expect(valueToY(view, 30)).toBeLessThan(valueToY(view, -30));
  });

  test('fits curves with a margin; level, empty and huge ones too', () => {
    const { low, high } = fitValues(shown, 0, 100);
    expect([low < -20, high > 20]).toEqual([true, true]);
    const huge = buildCurve(1, (columns) => (columns.values[0] = 1e9));
    const level = fitValues([{ channel: 'hips.tx', curve: huge }], 0, 10);
    expect(level.high).toBeGreaterThan(level.low);
    expect(fitValues([], 0, 10)).toEqual({ low: -1, high: 1 });
  });
});

describe('one measure for all', () => {
  const measured = { ...shown[0]!, span: { low: -20, high: 20 } };
  const parts = { ...view, low: 0, high: 1 };

  test('0 and 1 are the lowest and the highest value of the curve', () => {
    const own = ownView(parts, measured);
    expect([own.low, own.high]).toEqual([-20, 20]);
    const [, y] = keyPlace(own, curve, 1);
    expect(y).toBe(0);
    expect(hitAt(parts, [measured], {}, 500, 2)).toMatchObject({ row: 1 });
  });
});

describe('the transform box', () => {
  const chosen = { 'hips.ty': [...curve.ids] };
  const box = boxAround(view, shown, chosen)!;
  const pull = { dx: 0, dy: 0, centred: false, taper: false };

  test('lies around the chosen keys, and needs two of them', () => {
    expect(box).toEqual({ left: 100, right: 900, top: 100, bottom: 300 });
    expect(boxAround(view, shown, { 'hips.ty': [curve.ids[0]!] })).toBeNull();
  });

  test('grips on edges and corners, the inside elsewhere, nothing outside', () => {
    expect(gripAt(box, 910, 200)).toEqual({ x: 1, y: 0 });
    expect(gripAt(box, 90, 90)).toEqual({ x: -1, y: -1 });
    expect(gripAt(box, 400, 180)).toEqual({ x: 0, y: 0 });
    expect(gripAt(box, 990, 390)).toBeNull();
  });

  test('the right edge pulled by half its width scales time about the left one', () => {
    expect(transformOf(view, shown, box, { x: 1, y: 0 }, { ...pull, dx: 400 })).toEqual({
      scaleTime: 1.5,
      timePivot: 'typed',
      pivotFrame: 10,
    });
  });

  test('the upper edge pulled through the lower one flips values about it, each curve in its own measure', () => {
    const flip = transformOf(view, shown, box, { x: 0, y: -1 }, { ...pull, dy: 400 });
    expect(flip).toEqual({ scaleValue: -1, pivotByChannel: { 'hips.ty': -20 } });
    const measured = [{ ...shown[0]!, span: { low: -200, high: 200 } }];
    const parts = { ...view, low: 0, high: 1 };
    const tall = boxAround(parts, measured, chosen)!;
    const moved = transformOf(parts, measured, tall, { x: 0, y: 0 }, { ...pull, dx: 50, dy: -40 });
    expect(moved['moveFrames']).toBe(5);
    expect((moved['moveByChannel'] as Record<string, number>)['hips.ty']).toBeCloseTo(40, 9);
  });

  test('a corner with Shift tapers its end and leaves time alone; never down to nothing', () => {
    expect(
      transformOf(view, shown, box, { x: -1, y: 1 }, { ...pull, dx: 99, dy: -100, taper: true }),
    ).toEqual({
      scaleValue: 0.5,
      pivotByChannel: { 'hips.ty': 20 },
      taper: 'start',
    });
    const squeezed = transformOf(view, shown, box, { x: 1, y: 0 }, { ...pull, dx: -800 });
    expect(squeezed['scaleTime']).toBe(0.01);
  });
});

describe('which channels are shown', () => {
  const shot = DEMO_SHOTS[1]!.make();
  const selection = { ...NOTHING, nodes: ['hips', 'hand_goal_l'] };

  test('those of the selected controls, filtered by name, side and kind; all with a curve on demand', () => {
    expect(listedChannels(shot, selection, { ...PLAIN_VIEW, filter: 'ry' })).toEqual([
      'hips.ry',
      'hand_goal_l.ry',
    ]);
    expect(listedChannels(shot, selection, { ...PLAIN_VIEW, filter: 'left rot' })).toEqual(
      ['rx', 'ry', 'rz'].map((name) => `hand_goal_l.${name}`),
    );
    const all = listedChannels(shot, NOTHING, { ...PLAIN_VIEW, showing: 'all', filter: 'foot_goal_r t' });
    expect(all).toContain('foot_goal_r.tz');
    expect(listedChannels(shot, NOTHING, PLAIN_VIEW)).toEqual([]);
  });

  test('hidden curves are not drawn; isolated ones alone are', () => {
    const names = (view: Partial<LaneView>) =>
      shownCurves(shot, selection, { ...PLAIN_VIEW, ...view }).map(({ channel }) => channel);
    expect(names({ hidden: ['hips.ty'] })).not.toContain('hips.ty');
    expect(names({ isolated: ['hips.ty'], hidden: ['hips.ty'] })).toEqual(['hips.ty']);
  });
});

describe('what is under the pointer', () => {
  test('the nearest key within reach, else nothing', () => {
    const [x, y] = keyPlace(view, curve, 1);
    expect(hitAt(view, shown, {}, x + 4, y - 3)).toMatchObject({ kind: 'key', row: 1, id: curve.ids[1] });
    expect(hitAt(view, shown, {}, x + 40, y)).toBeNull();
  });

  test('handles only of chosen keys, only where they shape a segment', () => {
    expect(visibleHandles(curve, 0)).toEqual(['out']);
    expect(visibleHandles(curve, 1)).toEqual(['in']);
    expect(visibleHandles(curve, 2)).toEqual([]);
    const [x, y] = handlePlace(view, curve, 0, 'out');
    expect(hitAt(view, shown, {}, x, y)).toBeNull();
    expect(hitAt(view, shown, { 'hips.ty': [curve.ids[0]!] }, x, y)).toMatchObject({
      kind: 'handle',
      side: 'out',
    });
  });

  test('a box takes the keys in it, drawn in any direction', () => {
    const ids = { 'hips.ty': [curve.ids[0]!, curve.ids[1]!] };
    expect(keysInBox(view, shown, [50, 0], [600, 400])).toEqual(ids);
    expect(keysInBox(view, shown, [600, 400], [50, 0])).toEqual(ids);
    expect(keysInBox(view, shown, [0, 0], [20, 20])).toEqual({});
  });
});
