/** Closing a loop on curves from seeds: value and slope agree, and beyond the blend nothing changes. */
import { describe, expect, test } from '@jest/globals';
import { seededRandom } from '../base/random.ts';
import { curve } from '../testing/shot-literals.ts';
import { rowAtTime, TANGENT } from './curve.ts';
import type { Curve } from './curve.ts';
import { rebuild } from './rebuild.ts';
import { closeSeam, seamGap, SEAM_WINNERS } from './seam.ts';

function cycle(seed: number, kind: 'steady' | 'smooth' | 'free'): Curve {
  const random = seededRandom(seed);
  const keys = [0, 4, 9, 15, 20, 24].flatMap((frame) => [frame, random.gaussian() * 20]);
  const made = curve(keys, kind === 'free' ? 'smooth' : kind);
  if (kind !== 'free') return made;
  return rebuild(made, null, (columns) => {
    columns.tangentsIn.fill(TANGENT.free);
    columns.tangentsOut.fill(TANGENT.free);
  });
}

const cases = (['steady', 'smooth', 'free'] as const).flatMap((kind) =>
  SEAM_WINNERS.flatMap((winner) => [1, 2, 3, 4].map((seed) => [kind, winner, seed] as const)),
);

describe('a seam closed', () => {
  test.each(cases)('%s tangents, %s wins, seed %i', (kind, winner, seed) => {
    const before = cycle(seed, kind);
    const after = closeSeam(before, 0, 24, 6, winner, false);
    const gap = seamGap(after, 0, 24);
    expect(gap.value).toBe(0);
    expect(Math.abs(gap.slope)).toBeLessThan(1e-9);
    const at = (of: Curve, frame: number) => of.values[rowAtTime(of, frame)]!;
    // Six frames from an end nothing moves.
    for (const frame of [9, 15]) expect(at(after, frame)).toBe(at(before, frame));
    if (winner === 'first') expect(at(after, 0)).toBe(at(before, 0));
    if (winner === 'last') expect(at(after, 0)).toBeCloseTo(at(before, 24), 9);
    if (winner === 'middle') expect(at(after, 0)).toBeCloseTo((at(before, 0) + at(before, 24)) / 2, 9);
  });

  test.each([1, 2, 3])('carried on, values stay and only slopes are made to agree, seed %i', (seed) => {
    const before = cycle(seed, 'steady');
    const after = closeSeam(before, 0, 24, 6, 'middle', true);
    expect([...after.values]).toEqual([...before.values]);
    expect(Math.abs(seamGap(after, 0, 24).slope)).toBeLessThan(1e-9);
  });

  test('steady keys at the seam stay steady: flat where both neighbours lie on one side', () => {
    const after = closeSeam(curve([0, 0, 6, 5, 18, 5, 24, 0], 'steady'), 0, 24, 4, 'first', false);
    expect([after.slopesOut[0], after.slopesIn[3]]).toEqual([0, 0]);
  });

  test('without keys on both ends nothing is done', () => {
    const before = curve([2, 1, 20, 5]);
    expect(closeSeam(before, 0, 24, 4, 'first', false)).toBe(before);
  });
});
