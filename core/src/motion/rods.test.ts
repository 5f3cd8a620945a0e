/** Rods against closed forms: pendulums, two bobs, Bernoulli's hanging chain, the energy that stays, the transmissibility of a sprung base. */
import { describe, expect, test } from '@jest/globals';
import { Rods } from './rods.ts';
import type { RodsMake } from './rods.ts';

const GRAVITY = 981;
const STEP = 1 / 240;
const none = (n: number) => Array.from({ length: n }, () => 0);
const rods = (lengths: readonly number[], more: Partial<RodsMake> = {}) => {
  const n = lengths.length;
  return new Rods({
    ...{
      lengths,
      masses: lengths.map(() => 1),
      stiffness: none(n),
      damping: none(n),
      drag: none(n),
      step: STEP,
    },
    ...more,
  });
};
/** All rods hang, turned out by angles in radians. */
function hang(chain: Rods, angles: readonly number[]): void {
  chain.begin();
  angles.forEach((angle, i) => chain.ways.set([Math.sin(angle), -Math.cos(angle), 0], 3 * i));
  chain.speeds.fill(0);
}
const angleOf = (chain: Rods, i = 0) => Math.atan2(chain.ways[3 * i]!, -chain.ways[3 * i + 1]!);
const fall = (chain: Rods) => chain.step(0, -GRAVITY, 0, 0, 0, 0, null);

/** The mean time of a swing, by the crossings upward, placed between steps. */
function swing(chain: Rods, i: number, seconds: number): number {
  const times: number[] = [];
  let before = angleOf(chain, i);
  for (let k = 1; k * STEP < seconds; k += 1) {
    fall(chain);
    const now = angleOf(chain, i);
    if (before < 0 && now >= 0) times.push((k - now / (now - before)) * STEP);
    before = now;
  }
  return (times.at(-1)! - times[0]!) / (times.length - 1);
}

describe('a pendulum', () => {
  test('of one rod swings with 2π√(2L/3g), a bob with 2π√(L/g) (physics texts)', () => {
    const [rod, bob] = [rods([30]), rods([30], { bobs: true })];
    for (const one of [rod, bob]) hang(one, [0.02]);
    expect(swing(rod, 0, 10) / (2 * Math.PI * Math.sqrt((2 * 30) / 3 / GRAVITY))).toBeCloseTo(1, 3);
    expect(swing(bob, 0, 10) / (2 * Math.PI * Math.sqrt(30 / GRAVITY))).toBeCloseTo(1, 3);
  });

  test('let go at 90° it takes 1.180341 times as long (Abramowitz & Stegun, 17.3)', () => {
    const bob = rods([40], { bobs: true });
    hang(bob, [Math.PI / 2]);
    expect(swing(bob, 0, 12) / (2 * Math.PI * Math.sqrt(40 / GRAVITY)) / 1.180341).toBeCloseTo(1, 3);
  });
});

test.each([-1, 1])('two equal bobs: ω² = (2 ± √2) g/L, in the mode with sign %d (Goldstein)', (sign) => {
  const chain = rods([25, 25], { bobs: true });
  hang(chain, [0.01, 0.01 * -sign * Math.SQRT2]);
  const omega = Math.sqrt(((2 + sign * Math.SQRT2) * GRAVITY) / 25);
  expect((swing(chain, 0, 10) * omega) / 2 / Math.PI).toBeCloseTo(1, 2);
});

test('a hanging chain of 20 rods: its first mode is 1.2024 √(g/L) (D. Bernoulli; half of the first zero of J₀)', () => {
  const chain = rods(Array.from({ length: 20 }, () => 5));
  // The first mode, J₀(2.4048 √(1 − s)) from the fixed end on: as slopes of its rods.
  const j0 = (x: number) => {
    let [sum, term] = [1, 1];
    for (let k = 1; k < 20; k += 1) sum += term *= -(x * x) / (4 * k * k);
    return sum;
  };
  const shape = Array.from({ length: 21 }, (_, k) => j0(2.404826 * Math.sqrt(1 - k / 20)));
  hang(
    chain,
    shape.slice(1).map((value, k) => 0.2 * (value - shape[k]!)),
  );
  const omega = (2 * Math.PI) / swing(chain, 19, 12);
  expect(Math.abs(omega / (1.2024 * Math.sqrt(GRAVITY / 100)) - 1)).toBeLessThan(0.02);
});

test('without damping and springs the energy stays within 1 % for ten seconds', () => {
  const chain = rods([12, 20, 9, 15], { masses: [1, 0.5, 2, 1] });
  hang(chain, [1.2, 0.3, -0.6, 1.9]);
  const energy = () => {
    // Of each rod by its middle and its turning: nothing of the matrices above.
    let [height, sum] = [0, 0];
    const end = [0, 0, 0];
    [12, 20, 9, 15].forEach((length, i) => {
      const [d, v] = [chain.ways, chain.speeds].map((all) => [0, 1, 2].map((axis) => all[3 * i + axis]!));
      const mass = [1, 0.5, 2, 1][i]!;
      const middle = end.map((speed, axis) => speed + (length / 2) * v![axis]!);
      const spin = v!.reduce((all, value) => all + value * value, 0);
      sum += (mass / 2) * middle.reduce((all, value) => all + value * value, 0);
      sum += (mass * length * length * spin) / 24;
      sum += mass * GRAVITY * (height + (length / 2) * d![1]!);
      height += length * d![1]!;
      for (let axis = 0; axis < 3; axis += 1) end[axis]! += length * v![axis]!;
    });
    return sum;
  };
  const [first, depth] = [energy(), 56 * GRAVITY * 4.5];
  let worst = 0;
  for (let k = 0; k < 2400; k += 1) {
    fall(chain);
    worst = Math.max(worst, Math.abs(energy() - first) / depth);
  }
  expect(worst).toBeLessThan(0.01);
  for (let i = 0; i < 4; i += 1)
    expect(Math.hypot(...chain.ways.subarray(3 * i, 3 * i + 3))).toBeCloseTo(1, 12);
});

test.each([0.4, 0.9, 1.7])(
  'a sprung rod on a base that shakes at %d of its own frequency: gain and lag of Rao, Mechanical Vibrations',
  (r) => {
    const [length, zeta, own] = [20, 0.2, 2 * Math.PI * 2];
    const inertia = (length * length) / 3;
    const chain = rods([length], { stiffness: [inertia * own * own], damping: [2 * zeta * own * inertia] });
    hang(chain, [0]);
    const [size, omega] = [0.2, r * own];
    const rest = (_: Float64Array, out: Float64Array) => out.set([0, -1, 0]);
    let [sine, cosine, count] = [0, 0, 0];
    for (let k = 0; k < 240 * 20; k += 1) {
      const time = (k + 0.5) * STEP;
      // The base goes x = A sin ωt; the rod feels less of that.
      chain.step(size * omega * omega * Math.sin(omega * time), 0, 0, 0, 0, 0, rest);
      if (k < 240 * 10) continue;
      const after = (k + 1) * STEP;
      sine += angleOf(chain) * Math.sin(omega * after);
      cosine += angleOf(chain) * Math.cos(omega * after);
      count += 1;
    }
    const [gain, lag] = [(2 / count) * Math.hypot(sine, cosine), Math.atan2(-cosine, sine)];
    const expected = ((3 / 2 / length) * size * r * r) / Math.hypot(1 - r * r, 2 * zeta * r);
    expect(gain / expected).toBeCloseTo(1, 2);
    expect(lag).toBeCloseTo(Math.atan2(2 * zeta * r, 1 - r * r), 2);
  },
);

test.each([0, 1, 1e3, 1e6, 1e12])('no stiffness blows it up: %d', (stiffness) => {
  const damping = Math.sqrt(stiffness * 50);
  const chain = rods([10, 8, 6], {
    ...{ stiffness: [stiffness, stiffness, stiffness], damping: [damping, 0, damping], drag: [0.2, 0, 0] },
  });
  hang(chain, [2, -1, 0.5]);
  const rest = (at: Float64Array, out: Float64Array) => {
    out.set(at.subarray(0, 6), 3);
    out.set([0.6, -0.8, 0]);
  };
  for (let k = 0; k < 1200; k += 1) chain.step(0, -GRAVITY, 300 * Math.sin(k), 0, 0, 0, rest);
  expect(chain.speeds.every(Number.isFinite)).toBe(true);
  expect(Math.max(...chain.speeds.map(Math.abs))).toBeLessThan(1e4);
  if (stiffness === 1e6) expect(angleOf(chain, 2)).toBeCloseTo(Math.atan2(0.6, 0.8), 1);
});

test('wind carries a rod that it can: at rest it leans as drag against weight says', () => {
  const chain = rods([20], { drag: [2] });
  hang(chain, [0]);
  for (let k = 0; k < 240 * 60; k += 1) chain.step(0, -GRAVITY, 0, 300, 0, 0, null);
  expect(Math.tan(angleOf(chain))).toBeCloseTo((2 * 300) / GRAVITY, 3);
});
