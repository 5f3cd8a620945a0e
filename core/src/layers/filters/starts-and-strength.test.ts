/** How filters begin, how part of their strength is meant, and whose keys a step goes by. */
import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { evaluate } from '../../curve/evaluate.ts';
import { valuesAt } from '../../evaluation/evaluation.ts';
import { rigOf, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { anyCurve } from '../../testing/arbitrary-curves.ts';
import { choose, curve, filter, pass, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../../edits/run-edit.ts';

const at = (shot: Shot, frame: number, id = 'arm_l.rz') =>
  valuesAt(shot, frame)[rigOf(shot).channelIndex(id)]!;

test('a spring that begins in mid-motion, already moving, goes on with the place and the speed that it had; at rest it stops for a moment', () => {
  fc.assert(
    fc.property(anyCurve({ flowing: true, fewest: 4 }), fc.integer({ min: 4, max: 14 }), (base, start) => {
      const shot = (starts: string) => ({
        ...puppet({ 'arm_l.rz': base }),
        layers: [
          filter(
            'spring',
            ['arm_l'],
            { starts, frequency: 1.3, damping: 0.2 },
            { range: { start, end: 24, rampIn: 0, rampOut: 0 } },
          ),
        ],
      });
      const [moving, rest] = [shot('moving'), shot('rest')];
      const came = evaluate(base, start) - evaluate(base, start - 1);
      // Over so little that the spring has not pulled yet.
      const speed = (one: Shot) => (at(one, start + 1e-4) - at(one, start)) / 1e-4;
      expect(at(moving, start)).toBeCloseTo(evaluate(base, start), 9);
      expect(Math.abs(speed(moving) - came)).toBeLessThan(0.01 * (1 + Math.abs(came)));
      expect(Math.abs(speed(rest))).toBeLessThan(0.05 * (1 + Math.abs(came)));
    }),
    { numRuns: 60 },
  );
});

test('at part of its strength a shift shifts by less, between frames and over jumps too; mixed, as files have it, it mixes', () => {
  fc.assert(
    fc.property(
      anyCurve({ whole: true, fewest: 3 }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      fc.integer({ min: -4, max: 4 }),
      (base, part, frames) => {
        const weight = curve([0, part, 12, 1, 24, 0.1]);
        const shot = (strength: string) => ({
          ...puppet({ 'arm_l.rz': base }),
          layers: [filter('shift', ['arm_l'], { frames, strength }, { weight })],
        });
        for (let frame = 0; frame <= 24; frame += 0.7) {
          const share = evaluate(weight, frame);
          const [now, late] = [evaluate(base, frame), evaluate(base, frame - frames)];
          // Beside a jump a rounding decides on which side it is.
          const shown = frame - share * frames;
          if (base.times.some((time) => Math.abs(time - shown) < 1e-6)) continue;
          expect(at(shot('shifts'), frame)).toBeCloseTo(evaluate(base, shown), 6);
          expect(at(shot('mixes'), frame)).toBeCloseTo(now + share * (late - now), 6);
        }
      },
    ),
    { numRuns: 60 },
  );
});

test('baked out, what is shifted by less keeps its whole frames, stepped keys among them', () => {
  const stepped = runEdit(
    'tangents.set',
    puppet({ 'arm_l.rz': curve([0, 0, 5, 8, 11, -4, 17, 2]) }),
    choose({ channels: ['arm_l.rz'] }),
    { kind: 'stepped' },
  ).shot;
  const shot = {
    ...stepped,
    layers: [
      filter(
        'shift',
        ['arm_l'],
        { frames: 4, strength: 'shifts' },
        { id: 's', weight: curve([0, 0, 24, 1]) },
      ),
    ],
  };
  const baked = runEdit('filters.bake', shot, choose({}), { filter: 's', keys: 'every' }).shot;
  for (let frame = 0; frame <= 24; frame += 1) expect(at(baked, frame)).toBeCloseTo(at(shot, frame), 9);
});

test('new ones begin moving and shift by less; files that say nothing mean what they meant', () => {
  const shot = puppet({ 'arm_l.rz': curve([0, 0, 24, 9]) });
  const added = (kind: string) =>
    runEdit('filters.add', shot, choose({ nodes: ['arm_l'] }), { kind }).shot.layers[0]!.settings;
  expect(added('spring')['starts']).toBe('moving');
  expect(added('shift')['strength']).toBe('shifts');
  expect(filter('spring', ['arm_l'], {}).settings['starts']).toBe('rest');
  expect(filter('shift', ['arm_l'], {}).settings['strength']).toBe('mixes');
});

test('on the keys of a control: those of its passes and of its repeats count', () => {
  const base = puppet({
    'arm_l.rz': curve([0, 0, 24, 240], 'linear'),
    'hand_r.rx': { ...curve([2, 1, 5, 4, 8, 1]), leadOut: 'loop' },
  });
  const step = filter('step', ['arm_l'], { like: 'hand_r' }, { id: 'step' });
  const over = pass('p', { members: ['hand_r'] });
  const shot = withCurves({ ...base, layers: [over, step] }, 'p', new Map([['hand_r.rx', curve([10, 3])]]));
  const begins = [2, 5, 8, 10, 11, 14, 17, 20, 23];
  for (let frame = 2; frame <= 24; frame += 1)
    expect([frame, at(shot, frame)]).toEqual([
      frame,
      expect.closeTo(10 * begins.findLast((one) => one <= frame)!, 9),
    ]);
  const muted = { ...shot, layers: [{ ...shot.layers[0]!, muted: true }, shot.layers[1]!] };
  expect(at(muted, 10)).toBeCloseTo(80, 9);
});

test('the grain of a wobble lies between its speed and twice that, and there is none of it without', () => {
  const frames = 480;
  const bare = { ...puppet({ 'arm_l.rz': curve([0, 0, frames, 0]) }), range: { start: 0, end: frames } };
  const part = (grain: number, from: number, to: number) => {
    const shot = {
      ...bare,
      layers: [filter('wobble', ['arm_l'], { speed: 2, grain, still: true, rotation: 4 })],
    };
    const values = Array.from({ length: frames }, (_, frame) => at(shot, frame));
    // The power between two frequencies, Hz, by the discrete Fourier transform; 20 seconds give twentieths.
    let power = 0;
    for (let k = Math.round(from * 20); k < to * 20; k += 1) {
      let [re, im] = [0, 0];
      values.forEach((value, i) => {
        re += value * Math.cos((2 * Math.PI * k * i) / frames);
        im += value * Math.sin((2 * Math.PI * k * i) / frames);
      });
      power += re * re + im * im;
    }
    return power;
  };
  expect(part(0, 2.2, 4.4) / part(0, 0.3, 2.2)).toBeLessThan(0.02);
  const grained = part(1, 2.1, 4.1) / part(1, 0.3, 2.1);
  expect([grained > 0.4, grained < 2.5]).toEqual([true, true]);
  expect(part(1, 4.4, 8) / part(1, 0.3, 4.4)).toBeLessThan(0.02);
});
