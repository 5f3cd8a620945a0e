import { describe, expect, test } from '@jest/globals';
import { InputError } from '../base/finding.ts';
import { DEMO_SHOTS } from '../demo/bakery.ts';
import { placeIn, worldAt } from '../evaluation/evaluation.ts';
import { readShotFile } from '../interchange/shot-file/read-shot.ts';
import { writeShotFile } from '../interchange/shot-file/write-shot.ts';
import { RATE } from '../testing/shot-literals.ts';
import { castShot } from './cast.ts';
import { constantCurve, curveOf, keyCount, rigOf, withCurves } from './shot.ts';

const demo = (id: string) => DEMO_SHOTS.find((one) => one.id === id)!.make();

describe('a shot of characters', () => {
  test('stands as they rest, reads back from its file, and has nothing of the shots that they come from', () => {
    const [door, round] = [demo('oven-door'), demo('night-round')];
    const cast = [
      { shot: round, character: 'bram' },
      { shot: door, character: 'nib' },
    ];
    const shot = castShot('Two', cast, RATE, 48);
    expect(readShotFile(writeShotFile(shot)).curves).toEqual(shot.curves);
    expect([shot.range, shot.characters.map(({ name }) => name), shot.layers]).toEqual([
      { start: 0, end: 47 },
      ['Bram', 'Nib'],
      [],
    ]);
    expect(shot.nodes.some(({ part, kind }) => part === 'prop' || kind === 'camera')).toBe(false);
    // What looked at the tray does so no more: the tray stayed behind.
    expect(shot.relations.map(({ kind }) => kind)).toEqual(Array(8).fill('reach'));
    expect(keyCount(shot)).toBe(4);
    const bare = { ...shot, curves: [] };
    const [now, rest] = [worldAt(shot, 20), worldAt(bare, 20)];
    for (const [row] of shot.nodes.entries())
      placeIn(now, row).forEach((cm, axis) => expect(cm).toBeCloseTo(placeIn(rest, row)[axis]!, 1));
  });

  test('feet stay where they stand when the hips are moved', () => {
    const shot = castShot('One', [{ shot: demo('night-round'), character: 'bram' }], RATE, 24);
    const down = withCurves(shot, null, new Map([['hips.ty', constantCurve(-12)]]));
    const row = rigOf(shot).indexOf('foot_l');
    const [before, after] = [shot, down].map((one) => placeIn(worldAt(one, 5), row));
    expect(Math.hypot(...before!.map((cm, i) => cm - after![i]!))).toBeLessThan(0.1);
    expect(curveOf(shot, null, 'hand_goal_l.ik').times).toHaveLength(0);
  });

  test('nobody, or two with controls of one name, is said', () => {
    const bram = { shot: demo('night-round'), character: 'bram' };
    const said = (cast: Parameters<typeof castShot>[1]) => {
      try {
        castShot('None', cast, RATE, 24);
      } catch (error) {
        return error instanceof InputError ? error.finding.code : error;
      }
      return null;
    };
    expect([said([]), said([bram, bram])]).toEqual(['noCast', 'castTwice']);
  });
});
