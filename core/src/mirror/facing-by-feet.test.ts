/** Where figures face whose names say nothing. */
import { expect, test } from '@jest/globals';
import { newShot } from '../document/shot.ts';
import { AT_REST } from '../rig/node.ts';
import { anyFigure } from '../testing/any-figure.ts';
import type { FigureMake } from '../testing/any-figure.ts';
import { facingOf } from './mirror-plane.ts';

const RATE = { numerator: 24, denominator: 1 };
const standing = (make: Partial<FigureMake>) => {
  const { skeleton } = anyFigure({ ...make, named: null, sides: false });
  const nodes = skeleton.bones.map((bone) => ({
    ...{ kind: 'joint' as const, pair: null, part: 'extra' as const, character: 'x', solids: [] },
    ...bone,
    rest: { ...AT_REST, ...bone.rest },
  }));
  return facingOf(
    { ...newShot('Any', nodes, [], RATE, { start: 0, end: 1 }), characters: [{ id: 'x', name: 'X' }] },
    'x',
  );
};

test.each([0, 90, -90, 37, 180, -120])(
  'facing %d degrees: as the toes point, else as the knees bend',
  (facing) => {
    for (const make of [
      {},
      { toes: false },
      { legs: 9 },
      { pelvis: true, twists: true, fingers: 5, axes: true, size: 0.4 },
    ]) {
      const found = standing({ ...make, facing });
      expect(found.how).toBe('feet');
      expect(found.degrees).toBeCloseTo(facing, 6);
    }
  },
);

test('of what has no feet nothing is said', () => {
  const { how, degrees } = facingOf(newShot('None', [], [], RATE, { start: 0, end: 1 }), null);
  expect([how, degrees]).toEqual(['assumed', 0]);
});
