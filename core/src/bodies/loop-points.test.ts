/** Where a motion comes back, found on motions that were made to, and against a plain search through the figures themselves. */
import { describe, expect, test } from '@jest/globals';
import { firstTray } from '../demo/first-tray.ts';
import { withCurves } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { denseCurve } from '../testing/shot-literals.ts';
import { seededRandom } from '../base/random.ts';
import type { Random } from '../base/random.ts';
import { loopPoints } from './loop-points.ts';

const LIMBS = ['thigh_l', 'thigh_r', 'shin_l', 'shin_r', 'upperarm_l', 'upperarm_r', 'chest', 'head'];
const bare: Shot = { ...firstTray(), curves: [], layers: [] };
const bram = bare.characters[0]!.id;

/** Limbs as they are told by frame; the goals let go, so that joints show. */
function moving(
  length: number,
  limb: (k: number, frame: number) => number,
  root: (frame: number) => number[],
): Shot {
  const over = (value: (frame: number) => number) =>
    denseCurve(Array.from({ length: length + 1 }, (_, frame) => value(frame)));
  const free = bare.nodes
    .filter(({ channels }) => channels.includes('ik'))
    .map(({ id }) => [`${id}.ik`, over(() => 0)] as const);
  const walk = ['tx', 'tz', 'ry'].map(
    (name, i) => [`hips.${name}`, over((frame) => root(frame)[i]!)] as const,
  );
  const curves = LIMBS.map((id, k) => [`${id}.rx`, over((frame) => limb(k, frame))] as const);
  const shot = withCurves(bare, null, new Map([...free, ...walk, ...curves]));
  return { ...shot, range: { start: 0, end: length } };
}
const SEARCH = { shortest: 12, longest: 200, most: 6 };

const SEEDS = [1, 2, 3, 4, 5, 6, 7, 8];

describe('a cycle that goes on along a curved way', () => {
  test.each(SEEDS)('seed %d', (seed) => {
    const random = seededRandom(41 + seed);
    const period = random.whole(17, 44);
    const sizes = LIMBS.map(() => 10 + 30 * random.next());
    const phases = LIMBS.map(() => random.next());
    const [pace, bend] = [random.next() * 4, random.next() * 2 - 1];
    const shot = moving(
      period * 4 + random.whole(0, 9),
      (k, frame) => sizes[k]! * Math.sin(2 * Math.PI * (frame / period + phases[k]!)),
      (frame) => [pace * frame, frame * frame * 0.01, bend * frame],
    );
    const found = loopPoints(shot, bram, shot.range, SEARCH);
    // One turn, or several: each closes.
    expect(found.length).toBeGreaterThan(0);
    expect(found[0]!.mm).toBeLessThan(25);
    for (const { start, end, mm, degrees } of found.slice(0, 3)) {
      expect(Math.abs((end - start) / period - Math.round((end - start) / period)) * period).toBeLessThan(
        1.01,
      );
      expect(mm).toBeLessThan(60);
      // A frame beside the true one a limb and what it hangs on have turned so far.
      expect(degrees).toBeLessThan((4 * Math.PI * Math.max(...sizes)) / period);
    }
  });
});

/** A motion that never repeats: sums of waves whose periods do not fit. */
const waves = (random: Random) => {
  const parts = LIMBS.map(() =>
    Array.from({ length: 4 }, () => [4 + 14 * random.next(), 23 + 90 * random.next(), random.next()]),
  );
  return (k: number, frame: number) =>
    parts[k]!.reduce(
      (sum, [size, period, phase]) => sum + size! * Math.sin(2 * Math.PI * (frame / period! + phase!)),
      0,
    );
};

describe('the one place where a motion comes back', () => {
  test.each(SEEDS)('seed %d', (seed) => {
    const random = seededRandom(430 + seed);
    const free = waves(random);
    const [start, length] = [random.whole(20, 60), random.whole(40, 110)];
    // Around the second place it does what it did around the first.
    const shot = moving(
      240,
      (k, frame) => {
        const near = Math.max(0, 1 - Math.max(0, Math.abs(frame - start - length) - 6) / 12);
        const smooth = near * near * (3 - 2 * near);
        return (1 - smooth) * free(k, frame) + smooth * free(k, frame - length);
      },
      (frame) => [frame, 0, 0.4 * frame],
    );
    const [best, ...others] = loopPoints(shot, bram, shot.range, SEARCH);
    for (const { start: other, mm } of others) {
      expect(mm).toBeGreaterThan(best!.mm);
      expect(Math.abs(other - best!.start)).toBeGreaterThanOrEqual(SEARCH.shortest / 4);
    }
    expect(best).toBeDefined();
    expect([best!.end - best!.start, best!.mm < 4]).toEqual([length, true]);
    expect(Math.abs(best!.start - start)).toBeLessThanOrEqual(8);
  });
});

test('a swing that comes back through the same pose the other way is no loop there', () => {
  const swing = moving(
    200,
    (k, frame) => (10 + 4 * k) * Math.sin((2 * Math.PI * frame) / 60),
    () => [0, 0, 0],
  );
  const found = loopPoints(swing, bram, swing.range, SEARCH);
  expect(found.length).toBeGreaterThan(0);
  for (const { start, end } of found) expect([60, 120, 180]).toContain(end - start);
});

test('who stands, a shot too short, and nobody have none; the list has no two that are alike', () => {
  const still = moving(
    80,
    () => 3,
    () => [0, 0, 0],
  );
  expect(loopPoints(still, bram, still.range, SEARCH)).toEqual([]);
  // Breath is no motion to loop.
  const breath = moving(
    200,
    (k, frame) => 0.2 * Math.sin((2 * Math.PI * frame) / 40 + k),
    () => [0, 0, 0],
  );
  expect(loopPoints(breath, bram, breath.range, SEARCH)).toEqual([]);
  const short = moving(
    8,
    (_, frame) => frame,
    () => [0, 0, 0],
  );
  expect(loopPoints(short, bram, short.range, SEARCH)).toEqual([]);
  expect(loopPoints({ ...bare, nodes: [], relations: [], characters: [] }, null, bare.range, SEARCH)).toEqual(
    [],
  );
  const cycle = moving(
    1500,
    (k, frame) => 20 * Math.sin((2 * Math.PI * frame) / 31 + k),
    () => [0, 0, 0],
  );
  const found = loopPoints(cycle, bram, cycle.range, { shortest: 62, longest: 70, most: 20 });
  expect(found).toHaveLength(20);
  // 1,500 frames are looked at in steps first, and told to the frame all the same.
  for (const { start, end } of found) expect([31, 62]).toContain(end - start);
  for (const one of found)
    for (const other of found)
      if (one !== other)
        expect(
          Math.max(Math.abs(one.start - other.start), Math.abs(one.end - other.end)),
        ).toBeGreaterThanOrEqual(15.5);
});
