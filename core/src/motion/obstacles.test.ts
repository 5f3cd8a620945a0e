/** What is in the way of a chain, against the geometry of capsules. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { followThrough } from './chain-run.ts';
import type { Drive, Followed, Link } from './chain-run.ts';
import { putOut } from './obstacles.ts';
import type { Obstacles } from './obstacles.ts';

const STEP = 1 / 240;
const SEEDED = { seed: 20261201, numRuns: 1000, endOnFailure: true } as const;

/** A capsule that stands on two rows. */
const standing = (from: readonly number[], to: readonly number[], radius: number, rods = 1): Obstacles => ({
  count: 1,
  ends: Float64Array.from([...from, ...to, ...from, ...to]),
  radii: new Float64Array(rods).fill(radius),
});
const still = new Float64Array(6);

/** How near a place is to a segment (in steps along it, which knows no formula of the code). */
function near(p: readonly number[], from: readonly number[], to: readonly number[]): number {
  let least = Infinity;
  for (let k = 0; k <= 200; k += 1) {
    const at = from.map((value, a) => value + (k / 200) * (to[a]! - value));
    least = Math.min(least, Math.hypot(...at.map((value, a) => value - p[a]!)));
  }
  return least;
}

describe('the end of a rod in a capsule', () => {
  const unit = fc.tuple(
    fc.double({ min: -1, max: 1, noNaN: true }),
    fc.double({ min: -1, max: 1, noNaN: true }),
    fc.double({ min: -1, max: 1, noNaN: true }),
  );
  test('comes onto its skin, as long as before; one outside is left to the bit', () => {
    let [moved, left] = [0, 0];
    fc.assert(
      fc.property(unit, unit, fc.double({ min: 1, max: 6, noNaN: true }), (way, axis, radius) => {
        const size = Math.hypot(...way);
        fc.pre(size > 0.1);
        const d = way.map((value) => value / size);
        const ways = Float64Array.from(d);
        const speeds = new Float64Array(3);
        const [from, to] = [
          [6, 3, 0],
          [6 + 9 * axis[0], 3 + 9 * axis[1], 9 * axis[2]],
        ] as const;
        // The rod hangs outside of it, and can reach its skin.
        fc.pre(near([0, 0, 0], from, to) > radius + 0.2);
        const tip = d.map((value) => 10 * value);
        const before = near(tip, from, to);
        // One that points at the axis knows no side to go to: what is in its way stays there.
        const [past, short] = [0.97, 1.03].map((part) =>
          near(
            d.map((value) => 10 * part * value),
            from,
            to,
          ),
        );
        fc.pre(before >= radius || Math.abs(past! - short!) < 0.55);
        putOut({ ways, speeds, lengths: [10] }, standing(from, to, radius), 1, still, STEP);
        expect(Math.hypot(...ways)).toBeCloseTo(1, 12);
        const after = near(
          Array.from(ways, (value) => 10 * value),
          from,
          to,
        );
        if (before >= radius) {
          left += 1;
          expect([...ways]).toEqual(d);
        } else {
          moved += 1;
          expect(after).toBeGreaterThan(before - 1e-9);
          expect(after).toBeGreaterThan(radius * 0.9);
        }
      }),
      SEEDED,
    );
    expect(Math.min(moved, left)).toBeGreaterThan(20);
  });

  test('goes no further in, and goes on along the skin', () => {
    const ways = Float64Array.of(0, -1, 0);
    // Toward the sphere beside it, and downstream.
    const speeds = Float64Array.of(3, 0, 2);
    putOut({ ways, speeds, lengths: [10] }, standing([3, -10, 0], [3, -10, 0], 3.2), 1, still, STEP);
    const out = [ways[0]! * 10 - 3, ways[1]! * 10 + 10, ways[2]! * 10];
    expect(speeds[0]! * out[0]! + speeds[1]! * out[1]!).toBeGreaterThan(-1e-9);
    expect(speeds[2]).toBe(2);
    // It grows no more than before.
    expect(speeds[0]! * ways[0]! + speeds[1]! * ways[1]! + speeds[2]! * ways[2]!).toBeCloseTo(0, 12);
  });

  test('is taken along by one that moves', () => {
    const ways = Float64Array.of(0, -1, 0);
    const speeds = new Float64Array(3);
    const moving: Obstacles = {
      count: 1,
      ends: Float64Array.of(3.5, -10, 0, 3.5, -10, 0, 3, -10, 0, 3, -10, 0),
      radii: Float64Array.of(3.2),
    };
    putOut({ ways, speeds, lengths: [10] }, moving, 1, still, STEP);
    // As fast as the sphere: half a centimetre a step, over a rod of ten.
    expect(speeds[0]).toBeCloseTo(-0.5 / STEP / 10, 0);
  });
});

describe('a chain over what is in its way', () => {
  const LINK: Link = { bone: [0, -1, 0], length: 8, scale: [1, 1, 1] };
  const GIVEN: Followed = {
    ...{ frequency: 0, damping: 0, growth: 0, gravity: 981, sags: false, drag: 2 },
    ...{ wind: () => [0, 0, 0] as const, moving: false, loop: false, step: STEP },
  };
  const steps = 6 * 240;
  /** Links that lie level at first, and fall. */
  function driven(links: number, obstacles: Obstacles | null): Drive {
    const rows = steps + 3;
    const turns = new Float64Array(4 * links * rows);
    const half = Math.SQRT1_2;
    for (let row = 0; row < rows; row += 1)
      for (let i = 0; i < links; i += 1)
        turns.set(i === 0 ? [0, 0, half, half] : [0, 0, 0, 1], 4 * (row * links + i));
    const axes = new Float64Array(9 * rows);
    for (let row = 0; row < rows; row += 1) axes.set([1, 0, 0, 0, 1, 0, 0, 0, 1], 9 * row);
    return { steps, places: new Float64Array(3 * rows), axes, turns, obstacles };
  }
  const ball = (at: readonly number[], radius: number, links: number): Obstacles => {
    const ends = new Float64Array(6 * (steps + 3));
    for (let row = 0; row < steps + 3; row += 1) ends.set([...at, ...at], 6 * row);
    return { count: 1, ends, radii: new Float64Array(links).fill(radius) };
  };
  const tipAt = ({ ways }: { ways: Float64Array }, links: number, step: number, until = links) => {
    const tip = [0, 0, 0];
    for (let i = 0; i < until; i += 1)
      for (let a = 0; a < 3; a += 1) tip[a]! += 8 * ways[3 * (step * links + i) + a]!;
    return tip;
  };

  test('one rod comes to rest on a ball, where the two circles meet', () => {
    const links = [LINK];
    // It hangs 8 long from 0; the ball of 5 about (0, −9): the rod's end rests where |p| = 8 and |p − c| = 5.
    const done = followThrough(links, driven(1, ball([0, -9, 0], 5, 1)), GIVEN);
    const [x, y, z] = tipAt(done, 1, steps) as [number, number, number];
    const level = -(64 + 81 - 25) / 18;
    expect([x, y, z]).toEqual([
      expect.closeTo(Math.sqrt(64 - level * level), 2),
      expect.closeTo(level, 2),
      expect.closeTo(0, 6),
    ]);
  });

  test('a ball that comes by pushes it along, and is never late', () => {
    const way = (step: number) => [120 - 60 * step * STEP, -15, 0];
    const ends = new Float64Array(6 * (steps + 3));
    // Rows begin one step before the first.
    for (let row = 0; row < steps + 3; row += 1) ends.set([...way(row - 1), ...way(row - 1)], 6 * row);
    const done = followThrough([LINK, LINK], driven(2, { count: 1, ends, radii: Float64Array.of(5, 5) }), {
      ...GIVEN,
      drag: 20,
    });
    let least = Infinity;
    for (let step = 1; step <= steps; step += 1)
      least = Math.min(least, Math.hypot(...tipAt(done, 2, step).map((value, a) => value - way(step)[a]!)));
    expect(least).toBeGreaterThan(4.99);
    expect(least).toBeLessThan(5.2);
  });

  test('no end of a link comes in, whatever the chain does; without it, it does', () => {
    const links = [LINK, LINK, LINK, LINK];
    const [centre, radius] = [[4, -14, 1], 6] as const;
    const nearest = (obstacles: Obstacles | null) => {
      const done = followThrough(links, driven(4, obstacles), GIVEN);
      let least = Infinity;
      for (let step = 0; step <= steps; step += 1)
        for (let i = 1; i <= 4; i += 1)
          least = Math.min(
            least,
            Math.hypot(...tipAt(done, 4, step, i).map((value, a) => value - centre[a]!)),
          );
      return least;
    };
    expect(nearest(null)).toBeLessThan(4);
    expect(nearest(ball(centre, radius, 4))).toBeGreaterThan(radius - 0.05);
  });
});
