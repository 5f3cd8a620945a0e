/** Root: one idea of the period. What is loop-aware goes by the length of the cycle, wherever the shot ends. */
import { describe, expect, test } from '@jest/globals';
import { runEdit } from '../../edits/run-edit.ts';
import { stackOf } from '../../evaluation/evaluation.ts';
import { rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { choose, denseCurve, filter, puppet } from '../../testing/shot-literals.ts';

/** A cycle of 24 frames, sampled; its last key equals its first. */
const cycle = denseCurve(
  Array.from(
    { length: 25 },
    (_, i) => 10 * Math.sin((2 * Math.PI * i) / 24) + 3 * Math.cos((4 * Math.PI * i) / 24),
  ),
);
const looped = runEdit('timing.loop', puppet({ 'hips.tx': cycle }), choose({}), { times: 1 });
const at = (shot: Shot, frame: number) => stackOf(shot).top[rigOf(shot).channelIndex('hips.tx')]!.at(frame);

test('a cycle that closes is left as it is, whatever the blend', () => {
  for (const blend of [0, 6, 12]) {
    const { shot } = runEdit('timing.loop', puppet({ 'hips.tx': cycle }), choose({}), { times: 1, blend });
    const made = shot.curves[0]!['tx']!;
    made.values.forEach((value, i) => expect(Math.abs(value - cycle.values[i]!)).toBeLessThan(1e-2));
  }
});

test('the loop says its period, though the shot ends a frame before it', () => {
  expect(looped.shot.range).toEqual({ start: 0, end: 23 });
  expect(looped.shot.period).toBe(24);
  expect(runEdit('timing.setShot', looped.shot, choose({}), { rate: 48 }).shot.period).toBe(48);
});

describe('over the same cycle, looped', () => {
  const shot = (layer: Shot['layers'][number]): Shot => ({ ...looped.shot, layers: [layer] });
  // What a filter that knows no end makes of a cycle that goes on for ever.
  const endless = (layer: Shot['layers'][number]): Shot => {
    const base = looped.shot.curves[0]!['tx']!;
    const forever = { ...base, leadOut: 'loop', leadIn: 'loop' } as const;
    return { ...looped.shot, curves: [{ tx: forever }], range: { start: -480, end: 480 }, layers: [layer] };
  };

  test('spring: the state of a cycle that has gone on for long', () => {
    const settings = { frequency: 2, damping: 0.3 };
    const [one, long] = [
      shot(filter('spring', ['hips'], { ...settings, loop: true })),
      endless(filter('spring', ['hips'], settings)),
    ];
    for (let frame = 0; frame < 24; frame += 1) expect(at(one, frame)).toBeCloseTo(at(long, frame + 240), 6);
  });

  test('smooth and shift', () => {
    for (const [kind, settings] of [
      ['smooth', { width: 2.5 }],
      ['shift', { frames: 7 }],
    ] as const) {
      const one = shot(filter(kind, ['hips'], { ...settings, loop: true }));
      const long = endless(filter(kind, ['hips'], settings));
      for (let frame = 0; frame < 24; frame += 1) expect(at(one, frame)).toBeCloseTo(at(long, frame), 6);
    }
  });

  test('wobble: no frame twice, and as strong as it says, whatever the seed', () => {
    const still = { ...looped.shot, curves: [{ tx: denseCurve(Array.from({ length: 25 }, () => 0)) }] };
    for (const speed of [0.2, 1, 3])
      for (let seed = 1; seed <= 12; seed += 1) {
        const made = {
          ...still,
          layers: [filter('wobble', ['hips'], { position: 1, speed, seed, loop: true })],
        };
        const values = Array.from({ length: 24 }, (_, frame) => at(made, frame));
        expect(at(made, 24)).toBeCloseTo(values[0]!, 9);
        const effective = Math.sqrt(values.reduce((sum, value) => sum + value * value, 0) / 24);
        expect(effective).toBeCloseTo(0.5, 6);
      }
  });
});
