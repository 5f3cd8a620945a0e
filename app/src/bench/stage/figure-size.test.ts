import { describe, expect, test } from '@jest/globals';
import { DEMO_SHOTS } from '@kneader/core';
import { curve, puppet } from '../../../../core/src/testing/shot-literals.ts';
import { distanceFor, extentOf, figureSize } from './figure-size.ts';

describe('where a figure is', () => {
  test('all that it takes up while it plays, with room above the head joint', () => {
    const { extent, height } = figureSize(puppet({ 'hips.tx': curve([0, 0, 24, 200]) }));
    expect(extent.low[0]).toBeLessThan(-50);
    expect(extent.high[0]).toBeGreaterThan(250);
    expect(extent.high[1]).toBeGreaterThan(140);
    expect(height).toBeGreaterThan(49);
  });

  test('Bram stands on the floor and is about as tall as he is', () => {
    const { floor, height, extent } = figureSize(DEMO_SHOTS[0]!.make());
    expect(floor).toBe(0);
    expect(height).toBeGreaterThan(150);
    expect(extent.high[1]).toBeGreaterThan(170);
  });

  test('of nothing there is no box', () => {
    expect(extentOf(puppet(), [0], () => false)).toBeNull();
  });
});

describe('how far the camera goes', () => {
  const box = (x: number, y: number, z: number) => ({ low: [-x, -y, -z], high: [x, y, z] }) as const;

  test('a tall box by its height, a wide one by its width and the window', () => {
    const tall = distanceFor(box(10, 100, 10), 35, 1.5);
    expect((100 / tall) * 1).toBeLessThan(Math.tan((35 / 2) * (Math.PI / 180)));
    expect(distanceFor(box(300, 100, 10), 35, 1.5)).toBeGreaterThan(tall);
    expect(distanceFor(box(300, 100, 10), 35, 3)).toBeLessThan(distanceFor(box(300, 100, 10), 35, 1.5));
  });
});
