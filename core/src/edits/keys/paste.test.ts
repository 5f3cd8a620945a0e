/** Pasting keys: what goes on, what makes room, and what is added to the motion below. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { differenceOf } from '../../curve/difference.ts';
import { evaluate } from '../../curve/evaluate.ts';
import { curveToJson } from '../../document/parts/curve-json.ts';
import type { Curve } from '../../curve/curve.ts';
import { copyWhatShows, readClip, showsOtherwise } from '../../evaluation/clip.ts';
import { curveOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { anyCurve } from '../../testing/arbitrary-curves.ts';
import { choose, curve, filter, keysOf, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

const clipOf = (curves: Record<string, Curve>, length: number) => ({
  format: 'kneader-keys',
  version: 1,
  start: 0,
  length,
  whole: false,
  curves: Object.fromEntries(Object.entries(curves).map(([id, one]) => [id, curveToJson(one)])),
});
const pasted = (shot: Shot, curves: Record<string, Curve>, length: number, options: object) =>
  runEdit('keys.paste', shot, choose({}), { clip: clipOf(curves, length), ...options });

test('carry on: what travels goes on from where it stands; turns, rises and joints come as they are', () => {
  const shot = puppet({
    'hips.tx': curve([0, 50, 10, 60]),
    'hips.ty': curve([0, 90, 10, 95]),
    'hips.ry': curve([0, 45, 10, 70]),
    'arm_l.tx': curve([0, 3, 10, 4]),
  });
  const clip = {
    'hips.tx': curve([0, 0, 4, 7, 8, 20]),
    'hips.ty': curve([0, 1, 4, 9, 8, 2]),
    'hips.ry': curve([0, 0, 8, 90]),
    'arm_l.tx': curve([0, 0, 8, 30]),
  };
  const { shot: after, report } = pasted(shot, clip, 8, { frame: 10, value: 'carryOn' });
  const at = (id: string) => [10, 18].map((frame) => evaluate(curveOf(after, null, id), frame));
  expect(at('hips.tx')).toEqual([60, 80]);
  expect(at('hips.ty')).toEqual([1, 2]);
  expect(at('hips.ry')).toEqual([0, 90]);
  expect(at('arm_l.tx')).toEqual([0, 30]);
  expect(
    report.measures.filter(({ name }) => name === 'carried on').map(({ where }) => where!.channel),
  ).toEqual(['hips.tx']);
});

describe('insert', () => {
  const clip = curve([0, -20, 5, 33]);

  test('what was there goes on after the clip exactly as it was, and before it nothing bends', () => {
    fc.assert(
      fc.property(
        anyCurve({ weighted: true, fewest: 3 }),
        fc.double({ min: 0.05, max: 0.95, noNaN: true }),
        (source, share) => {
          const [first, last] = [source.times[0]!, source.times[source.times.length - 1]!];
          const frame = first + share * (last - first);
          const { shot } = pasted(puppet({ 'hips.ty': source }), { 'hips.ty': clip }, 5, {
            frame,
            mode: 'insert',
          });
          const after = curveOf(shot, null, 'hips.ty');
          expect(differenceOf(source, after, { start: first - 4, end: frame - 1 }).greatest).toBeLessThan(
            1e-8,
          );
          for (let step = 0; step <= 40; step += 1) {
            const time = frame + ((last + 4 - frame) * step) / 40;
            if (source.times.some((key) => Math.abs(key - time) < 1e-6)) continue;
            expect(evaluate(after, time + 6)).toBeCloseTo(evaluate(source, time), 7);
          }
          expect([evaluate(after, frame), evaluate(after, frame + 5)]).toEqual([
            expect.closeTo(-20, 9),
            expect.closeTo(33, 9),
          ]);
        },
      ),
      { numRuns: 60 },
    );
  });

  test('at a key the pose there is not swallowed: it follows the clip', () => {
    const shot = puppet({ 'hips.ty': curve([0, 1, 4, 8, 12, 3], 'linear') });
    const { shot: after } = pasted(shot, { 'hips.ty': clip }, 5, { frame: 4, mode: 'insert' });
    expect(keysOf(curveOf(after, null, 'hips.ty'))).toBe('0:1 3:6.25 4:-20 9:33 10:8 18:3');
  });
});

test('relative: values and slopes are added to the motion below, between keys too', () => {
  fc.assert(
    fc.property(
      anyCurve({ flowing: true, fewest: 4, whole: true }),
      anyCurve({ flowing: true, fewest: 2, whole: true }),
      (base, made) => {
        const first = made.times[0]!;
        const part = { ...made, times: made.times.map((time) => time - first) };
        const length = part.times[part.times.length - 1]!;
        const start = base.times[1]!;
        const { shot } = pasted(puppet({ 'hips.ty': base }), { 'hips.ty': part }, length, {
          frame: start,
          value: 'relative',
        });
        const after = curveOf(shot, null, 'hips.ty');
        for (let step = 0; step <= 30; step += 1) {
          const time = (length * step) / 30;
          const below = evaluate(base, start + time);
          expect(evaluate(after, start + time)).toBeCloseTo(
            below + evaluate(part, time) - evaluate(part, 0),
            8,
          );
        }
      },
    ),
    { numRuns: 60 },
  );
});

test('what shows is copied instead of the keys where layers make something else of them', () => {
  const keyed = puppet({ 'hips.ty': curve([0, 0, 8, 6, 16, 0]), 'hips.tx': curve([0, 1, 16, 1]) });
  const shifted = { ...keyed, layers: [filter('shift', ['hips'], { frames: 3 })] };
  const hips = choose({ channels: ['hips.ty'], range: { start: 4, end: 14 } });
  expect(showsOtherwise(keyed, hips)).toBe(false);
  expect(showsOtherwise(shifted, hips)).toBe(true);
  const { curves, json } = readClip(copyWhatShows(shifted, hips));
  expect([json.start, json.length]).toEqual([4, 10]);
  const copied = curves.get('hips.ty')!;
  const base = curveOf(keyed, null, 'hips.ty');
  for (let frame = 0; frame <= 10; frame += 0.2)
    expect(Math.abs(evaluate(copied, frame) - evaluate(base, frame + 4 - 3))).toBeLessThan(0.011);
  expect(copied.times.length).toBeLessThan(8);
  expect(copyWhatShows(shifted, choose({ nodes: ['hand_r'] }))).toBeNull();
});
