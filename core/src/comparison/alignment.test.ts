/** Times that lie beside each other: said by frames and marks, and found in the poses. */
import { describe, expect, test } from '@jest/globals';
import { framesOf } from '../base/frame-range.ts';
import { seededRandom } from '../base/random.ts';
import { buildCurve } from '../curve/rebuild.ts';
import { SEGMENT, TANGENT } from '../curve/curve.ts';
import { warpOf } from '../curve/warp.ts';
import { DEMO_SHOTS } from '../demo/bakery.ts';
import { rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { valuesAt } from '../evaluation/evaluation.ts';
import { readBvh } from '../interchange/bvh/read-bvh.ts';
import { openData } from '../testing/open-data.ts';
import { curve, puppet } from '../testing/shot-literals.ts';
import { alignedAt, alignedByMarks, alignedByPoses, besideFrame } from './alignment.ts';
import { pairedNodes } from './paired.ts';
import { warpSequences } from './time-warp.ts';
import type { Sequence } from './time-warp.ts';

const walk = readBvh(new TextDecoder().decode(openData('BVH/01_01.bvh')), '01_01').shot;
const part = (shot: Shot, start: number, end: number): Shot => ({ ...shot, range: { start, end } });

/** The shot with a key on every frame, showing at each what it shows at another time: made without any edit. */
function played(
  shot: Shot,
  length: number,
  oldAt: (frame: number) => number,
  name: (id: string) => string = (id) => id,
): Shot {
  const frames = framesOf({ start: 0, end: length });
  const values = Array.from(frames, (frame) => valuesAt(shot, oldAt(frame)));
  const column = new Map(rigOf(shot).channels.map(({ id }, c) => [id, c]));
  return {
    ...shot,
    layers: [],
    range: { start: 0, end: length },
    nodes: shot.nodes.map((node) => ({
      ...node,
      id: name(node.id),
      parent: node.parent && name(node.parent),
      pair: node.pair && name(node.pair),
    })),
    curves: shot.nodes.map(({ id, channels }) =>
      Object.fromEntries(
        channels.map((channel) => [
          channel,
          buildCurve(frames.length, (columns) => {
            columns.times.set(frames);
            columns.values.set(values.map((row) => row[column.get(`${id}.${channel}`)!]!));
            columns.segments.fill(SEGMENT.linear);
            columns.tangentsIn.fill(TANGENT.linear);
            columns.tangentsOut.fill(TANGENT.linear);
          }),
        ]),
      ),
    ),
  };
}

/** Rising from 0 to `length` through `knots` points, at 0.6 to 1.7 times its pace. */
function anyWarp(seed: number, length: number) {
  const { next: random } = seededRandom(seed);
  const knots = 2 + Math.floor(random() * 4);
  const old = Array.from({ length: knots + 1 }, (_, k) => (k * length) / knots);
  let at = 0;
  const points = old.map((from, k): [number, number] => {
    if (k > 0) at += (0.6 + 1.1 * random()) * (from - old[k - 1]!);
    return [from, at];
  });
  const last = points.at(-1)!;
  last[1] = Math.round(last[1]);
  return { warp: warpOf(points), length: last[1] };
}

/** The old frame at which a rising map comes to a new one. */
function backFrom(warp: (frame: number) => number, to: number, length: number): number {
  let [low, high] = [0, length];
  for (let k = 0; k < 60; k += 1) {
    const middle = (low + high) / 2;
    if (warp(middle) < to) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

const demo = (id: string) => DEMO_SHOTS.find((one) => one.id === id)!.make();
const SHOTS = [
  ...['kneading-loop', 'first-tray', 'oven-door', 'night-round'].map((id) => demo(id)),
  { ...part(walk, 0, 400), name: 'captured walk' },
];

/** Whether something new is on a frame: within a hold any time is as good. */
function stirs(shot: Shot, frame: number): boolean {
  const [before, after] = [valuesAt(shot, frame - 1), valuesAt(shot, frame)];
  return before.reduce((sum, value, c) => sum + Math.abs(after[c]! - value), 0) > 0.25;
}

describe('time that is found', () => {
  test.each(Array.from({ length: 50 }, (_, seed) => [seed, SHOTS[seed % SHOTS.length]!.name] as const))(
    'seed %i: a warped copy of %s lies within a frame of its warp',
    (seed) => {
      const shot = SHOTS[seed % SHOTS.length]!;
      const long = shot.range.end - shot.range.start;
      const { warp, length } = anyWarp(seed, long);
      const copy = played(shot, length, (frame) => shot.range.start + backFrom(warp, frame, long));
      const found = alignedByPoses(shot, copy, pairedNodes(shot, copy));
      let worst = 0;
      let looked = 0;
      for (let at = 0; at <= long; at += 1) {
        const frame = shot.range.start + at;
        if (!stirs(shot, frame)) continue;
        looked += 1;
        worst = Math.max(worst, Math.abs(besideFrame(found, frame) - warp(at)));
      }
      expect(looked).toBeGreaterThan(long / 10);
      expect(worst).toBeLessThanOrEqual(1);
    },
  );

  test('of another rate is found in its own frames', () => {
    const shot = part(walk, 0, 240);
    const slow = { ...played(shot, 60, (frame) => 4 * frame), rate: { numerator: 30, denominator: 1 } };
    const found = alignedByPoses(shot, slow, pairedNodes(shot, slow));
    for (const frame of [0, 61, 120, 201, 240]) expect(besideFrame(found, frame)).toBeCloseTo(frame / 4, 0);
  });

  test('of a rig with other names is found as well', () => {
    const shot = part(walk, 0, 300);
    const { warp, length } = anyWarp(4, 300);
    const copy = played(
      shot,
      length,
      (frame) => backFrom(warp, frame, 300),
      (id) => `b:${id}`,
    );
    const paired = pairedNodes(shot, copy);
    expect(paired.isMapped).toBe(true);
    expect(paired.pairs.length).toBeGreaterThan(0.9 * shot.nodes.length);
    const found = alignedByPoses(shot, copy, paired);
    for (let frame = 10; frame < 300; frame += 29)
      expect(Math.abs(besideFrame(found, frame) - warp(frame))).toBeLessThanOrEqual(1);
  });

  test('lengths beyond the limit, and figures without a joint in common, are refused', () => {
    const short = puppet({ 'hips.ty': curve([0, 0, 24, 5]) });
    const long = { ...short, range: { start: 0, end: 120 } };
    expect(() => alignedByPoses(short, long, pairedNodes(short, long))).toThrow(
      'One lasts 24 frames and the other 120: the times found may differ by 3 times at most.',
    );
    const nobody = { ...short, nodes: [], curves: [], characters: [] };
    expect(() => alignedByPoses(short, nobody, pairedNodes(short, nobody))).toThrow('nothing to compare');
  });
});

describe('time that is said', () => {
  const a: Shot = { ...puppet({}), range: { start: 10, end: 50 } };
  const b: Shot = { ...a, rate: { numerator: 48, denominator: 1 } };

  test('by a frame of each, seconds run alike', () => {
    const { ...at } = alignedAt(a, b, 12, 100);
    expect([0, 12, 13.5].map((frame) => besideFrame(at, frame))).toEqual([76, 100, 103]);
  });

  test('by marks it runs straight from one to the next, and at its own pace outside', () => {
    const at = alignedByMarks(a, b, [10, 20, 40, 44], [5, 45, 55]);
    expect([8, 10, 15, 30, 40, 41].map((frame) => besideFrame(at, frame))).toEqual([1, 5, 25, 50, 55, 57]);
    expect(() => alignedByMarks(a, b, [1], [])).toThrow('the first has 1, the second 0');
  });
});

describe('dynamic time warping', () => {
  const sequence = (...values: number[]): Sequence => ({
    count: values.length,
    width: 1,
    values: Float64Array.from(values),
  });

  /** Every way through whole places that keeps to the steps, tried one by one. */
  function cheapest(a: number[], b: number[], slope: number): number {
    const d = (i: number, j: number) => Math.abs(a[i]! - b[j]!);
    const from = (i: number, j: number): number => {
      if (i === 0 && j === 0) return d(0, 0);
      let best = Infinity;
      for (let k = 1; k <= slope; k += 1)
        for (const [di, dj] of k === 1
          ? [[1, 1]]
          : [
              [1, k],
              [k, 1],
            ]) {
          if (i - di! < 0 || j - dj! < 0) continue;
          let cost = 0;
          for (let s = 0; s < k; s += 1)
            cost += d(di === 1 ? i : i - s, dj === 1 ? j : j - s) * (s === k - 1 ? 2 : 1);
          best = Math.min(best, from(i - di!, j - dj!) + cost);
        }
      return best;
    };
    return from(a.length - 1, b.length - 1);
  }

  test('never runs faster than it may, and stands where values agree', () => {
    expect([...warpSequences(sequence(0, 1, 5, 9), sequence(0, 1, 3, 5, 7, 9), 2)!]).toEqual([0, 1, 3, 5]);
    expect(warpSequences(sequence(0, 1), sequence(0, 1, 2, 3), 2)).toBeNull();
  });

  test('what costs nothing by trying every way is found to lie on equal values', () => {
    const { next: random } = seededRandom(9);
    for (let n = 0; n < 40; n += 1) {
      const a = Array.from({ length: 5 + Math.floor(3 * random()) }, () => Math.round(8 * random()));
      const b = a.flatMap((value) => (random() < 0.4 ? [value, value] : [value]));
      if (cheapest(a, b, 3) > 0) continue;
      const way = warpSequences(sequence(...a), sequence(...b), 3)!;
      way.forEach((at, i) => {
        const low = b[Math.floor(at)]!;
        expect(low + (at % 1) * ((b[Math.floor(at) + 1] ?? low) - low)).toBeCloseTo(a[i]!, 9);
      });
    }
  });

  test('the coarse way of long ones does not lead astray', () => {
    const { next: random } = seededRandom(3);
    const wave = Array.from({ length: 12 }, () => [random() / 9, 6 * random(), random()] as const);
    const at = (t: number) =>
      wave.reduce((sum, [pace, phase, size]) => sum + size * Math.sin(pace * t + phase), t / 400);
    const { warp, length } = anyWarp(11, 1500);
    const a = sequence(...Array.from({ length: 1501 }, (_, i) => at(i)));
    const b = sequence(...Array.from({ length: length + 1 }, (_, j) => at(backFrom(warp, j, 1500))));
    const way = warpSequences(a, b, 3)!;
    const off = way.map((found, i) => Math.abs(found - warp(i))).sort();
    expect(off[Math.floor(0.99 * off.length)]).toBeLessThan(1);
  });
});
