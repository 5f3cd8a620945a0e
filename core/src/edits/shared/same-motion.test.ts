/** Root: a promise is measured, and kept. Mirrored and uneven carriers, leaves, twist joints: what is reported is what an independent look at the matrices finds. */
import { describe, expect, test } from '@jest/globals';
import { worldAt } from '../../evaluation/evaluation.ts';
import { rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { choose, curve, denseCurve, pass, puppet } from '../../testing/shot-literals.ts';
import { done, follower } from '../../testing/spaces.ts';
import { runEdit } from '../run-edit.ts';

/** The greatest distance of nodes and of points a hand away from them, mm, at fifths: what turns shows too. */
function farthest(before: Shot, after: Shot, nodes: readonly string[]): number {
  let worst = 0;
  for (let i = 0; i <= (before.range.end - before.range.start) * 5; i += 1) {
    const frame = before.range.start + i / 5;
    for (const id of nodes) {
      const [a, b] = [before, after].map((shot) => {
        const at = rigOf(shot).indexOf(id) * 16;
        return worldAt(shot, frame).matrices.slice(at, at + 16);
      });
      for (const point of [
        [0, 0, 0],
        [10, 0, 0],
        [0, 10, 0],
        [0, 0, 10],
      ] as const) {
        const off = [0, 1, 2].map((row) =>
          [0, 1, 2].reduce(
            (sum, axis) => sum + (a![axis * 4 + row]! - b![axis * 4 + row]!) * point[axis]!,
            a![12 + row]! - b![12 + row]!,
          ),
        );
        worst = Math.max(worst, 10 * Math.hypot(...off));
      }
    }
  }
  return worst;
}

const mirrored = (shot: Shot, scale: readonly [number, number, number]): Shot => ({
  ...shot,
  nodes: shot.nodes.map((node) => (node.id === 'arm_l' ? { ...node, rest: { ...node.rest, scale } } : node)),
});
const moving = puppet({
  'hips.ry': curve([0, 0, 12, 40, 24, -10]),
  'arm_l.rz': curve([0, 0, 10, 60, 24, 20]),
  'arm_l.ry': curve([0, 10, 24, -30]),
  'arm_r.rz': curve([0, -20, 24, 30]),
});

describe('a hand that goes over from a mirrored arm to the other one', () => {
  test.each<[string, readonly [number, number, number]]>([
    ['mirrored in one axis', [-1, 1, 1]],
    ['mirrored and larger', [-2, 2, 2]],
    ['mirrored in all three', [-1, -1, -1]],
  ])('%s: it lies where it lay, and so does what would hang on it', (_, scale) => {
    const shot = mirrored(moving, scale);
    const followed = done(
      shot,
      'spaces.add',
      { targets: ['arm_l', 'arm_r'], frame: 0, motion: 'stay' },
      choose({ nodes: ['hand_l'] }),
    );
    const switched = done(followed, 'spaces.switch', {
      relation: followed.relations[0]!.id,
      frame: 9,
      to: 1,
    });
    const baked = runEdit('spaces.bake', switched, choose({ nodes: ['hand_l'] }), { keys: 'every' });
    const off = farthest(switched, baked.shot, ['hand_l']);
    // Kept on frames and between them, or named with its size: never far off in silence.
    const named = baked.report.findings.some(({ code }) => code === 'notKept');
    expect([off < 0.5, named]).toEqual([true, false]);
  });
});

test.each([2, 3])('under uneven sizes what cannot be kept is a sentence with its size, rig %i', (seed) => {
  const { shot, node } = follower(seed, { motion: 'stay' }, true);
  const { shot: baked, report } = runEdit('spaces.bake', shot, choose({ nodes: [node] }), {});
  const off = farthest(shot, baked, [node]);
  const said = report.findings.find(({ code }) => code === 'notKept');
  expect([off > 5, said !== undefined]).toEqual([true, true]);
  expect(said!.sentence).toMatch(/up to [\d.]+ mm and [\d.]+° off, at \w+ on frame [\d.]+/);
});

describe('a leaf', () => {
  const shaking = denseCurve(Array.from({ length: 25 }, (_, i) => 25 * Math.sin(i * 1.9) + 3 * i));
  const shot: Shot = {
    ...puppet({ 'hand_l.rx': shaking, 'hand_l.ry': curve([0, 0, 24, 50]) }),
    layers: [
      pass('lift', {
        members: ['hand_l'],
        curves: [undefined, undefined, { rx: curve([0, 3, 9, 20, 24, -8]) }],
      }),
    ],
  };

  test.each([0.2, 1, 5])(
    'a hand without children is held to %d° where it is baked, though it goes nowhere',
    (turn) => {
      const { shot: merged, report } = runEdit('passes.merge', shot, choose({}), {
        which: 'all',
        space: 1,
        turn,
      });
      // A point 10 cm off the hand turns by so much at most.
      const most = (100 * (turn * Math.PI)) / 180;
      expect(farthest(shot, merged, ['hand_l'])).toBeLessThan(most * 1.1 + 0.05);
      const turned = report.measures.filter(({ name }) => name.startsWith('greatest turn'));
      expect(turned).toHaveLength(2);
      expect(Math.max(...turned.map(({ value }) => value))).toBeLessThanOrEqual(turn * 1.02);
    },
  );
});
