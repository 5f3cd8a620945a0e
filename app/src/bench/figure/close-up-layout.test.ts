import { describe, expect, test } from '@jest/globals';
import { DEMO_SHOTS } from '../../../../core/src/demo/bakery.ts';
import { APART, CLOSE_UP, crowdAt, layOut } from './close-up-layout.ts';
import { figureSpots, restOf } from './figure-spots.ts';

const SIZES = [
  [256, 190],
  [256, 330],
  [400, 520],
] as const;
const figures = DEMO_SHOTS.flatMap(({ id, make }) => {
  const shot = make();
  return shot.characters.map((one) => ({ shot: id, figure: one.id, rest: restOf(shot, one.id) }));
});

describe('the close-up of a crowd of spots', () => {
  test('holds every spot that has a neighbour too near to be hit, and sets all of it apart by a target’s size', () => {
    let crowds = 0;
    for (const { shot, figure, rest } of figures)
      for (const [size, [width, height]] of SIZES.entries()) {
        const { spots } = figureSpots(rest, width, height);
        for (const [row, spot] of spots.entries()) {
          const neighbour = Math.min(
            ...spots.filter((one) => one !== spot).map((one) => Math.hypot(one.x - spot.x, one.y - spot.y)),
          );
          const crowd = crowdAt(spots, spot.x, spot.y);
          expect([shot, figure, spot.id, crowd.length > 1]).toEqual([shot, figure, spot.id, neighbour <= 12]);
          // Each spot is set apart in one of the sizes.
          if (crowd.length === 0 || row % 3 !== size) continue;
          crowds += 1;
          expect(crowd).toContain(spot);
          const hand = [spot.x + 2, spot.y - 1] as const;
          const { spots: near, zoom, left, top } = layOut(crowd, hand, [width, height]);
          // Under the hand, but where the square ends.
          const first = near[0]!;
          expect([Math.abs(left + first.x - hand[0]) <= 13, Math.abs(top + first.y - hand[1]) <= 13]).toEqual(
            [true, true],
          );
          expect(zoom).toBeGreaterThanOrEqual(2.5);
          // Told together: an expectation for each pair would take most of the time.
          const outside = near.filter(({ x, y }) =>
            [x, y].some((one) => !(one >= 12 && one <= CLOSE_UP - 12)),
          );
          const tooNear = near.flatMap((a, i) =>
            near
              .slice(i + 1)
              .filter((b) => !(Math.hypot(a.x - b.x, a.y - b.y) >= APART - 0.5))
              .map((b) => [a.id, b.id]),
          );
          expect({ shot, outside, tooNear }).toEqual({ shot, outside: [], tooNear: [] });
        }
      }
    expect(crowds).toBeGreaterThan(200);
  });

  test('goals on their joints part, and each stands near where its control lies', () => {
    const spots = [
      { id: 'hand', x: 50, y: 50 },
      { id: 'goal', x: 50, y: 50 },
      { id: 'thumb', x: 56, y: 58 },
    ];
    const { spots: near } = layOut(crowdAt(spots, 50, 50), [50, 50], [256, 330]);
    expect(near.map(({ id }) => id)).toEqual(['hand', 'goal', 'thumb']);
    for (const { x, y, homeX, homeY } of near)
      expect(Math.hypot(x - homeX, y - homeY)).toBeLessThan(2 * APART);
  });
});
