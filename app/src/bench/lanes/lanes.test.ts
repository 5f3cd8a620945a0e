import { describe, expect, test } from '@jest/globals';
import { buildCurve, SEGMENT } from '@kneader/core';
import { fitValues, handlePlace, keyPlace, valueToY, yToValue } from './curve-view.ts';
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
    const { low, high } = fitValues([curve], 0, 100);
    expect([low < -20, high > 20]).toEqual([true, true]);
    const level = fitValues([buildCurve(1, (columns) => (columns.values[0] = 1e9))], 0, 10);
    expect(level.high).toBeGreaterThan(level.low);
    expect(fitValues([], 0, 10)).toEqual({ low: -1, high: 1 });
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
