/**
 * Live filters against published values (Ogata, Modern Control Engineering; Rao, Mechanical Vibrations; the Fourier transform of a Gaussian)
 * and against themselves on finer grids.
 */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { channelValues, stackOf, valuesAt } from '../../evaluation/evaluation.ts';
import { rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { curve, denseCurve, filter, pass, puppet } from '../../testing/shot-literals.ts';
import type { Curve } from '../../curve/curve.ts';
import type { Layer } from '../layer.ts';
import { heldFrame } from '../../base/pattern.ts';

const at = (shot: Shot, frame: number, id = 'hips.ty') =>
  valuesAt(shot, frame)[rigOf(shot).channelIndex(id)]!;
/** The hips' height under one filter, over as many frames as the curve has. */
function under(layer: Layer, of: Curve, rate = 24): Shot {
  const base = puppet({ 'hips.ty': of });
  return {
    ...base,
    rate: { numerator: rate, denominator: 1 },
    range: { start: of.times[0]!, end: of.times[of.times.length - 1]! },
    layers: [layer],
  };
}
const sine = (frames: number, period: number) =>
  denseCurve(Array.from({ length: frames + 1 }, (_, i) => Math.sin((2 * Math.PI * i) / period)));
const hips = ['hips'];

describe('spring', () => {
  const RATE = 2400;
  // One hertz is so many frames that the straight line from frame to frame of the step's rise does not count.
  const rise = denseCurve([0, ...Array.from({ length: 3 * RATE }, () => 1)]);

  test.each([
    [0.2, 0.526621, 3.206375],
    [0.5, 0.163034, 3.627599],
    [0.7, 0.045988, 4.39911],
  ])('a step at damping %d overshoots by %d, at ω·t = %d (Ogata)', (damping, overshoot, angle) => {
    const shot = under(filter('spring', hips, { frequency: 1, damping }), rise, RATE);
    let [highest, when] = [0, 0];
    for (let frame = 0; frame < RATE; frame += 1)
      if (at(shot, frame) > highest) [highest, when] = [at(shot, frame), frame];
    expect(highest - 1).toBeCloseTo(overshoot, 4);
    // It begins half a frame after the rise does.
    expect((2 * Math.PI * (when - 0.5)) / RATE).toBeCloseTo(angle, 2);
  });

  test('let go it swings with the logarithmic decrement of its damping (closed form: 1.282549830 at 0.2)', () => {
    const shot = under(filter('spring', hips, { frequency: 1, damping: 0.2 }), rise, RATE);
    const swing = (turns: number) => at(shot, 0.5 + (turns * RATE) / Math.sqrt(1 - 0.04)) - 1;
    expect(Math.log(swing(1) / swing(2))).toBeCloseTo(1.28254983, 5);
  });

  test.each([
    [0.5, 1.313827, 3.6215],
    [1, 2.692582, 68.1986],
    [2, 0.412461, 126.4088],
  ])('loop-aware and damped at the joint, shaken at r = %d: gain %d, lag %d° (Rao)', (ratio, gain, lag) => {
    const period = 6000;
    // Frames are so close that straight lines between them are the sine.
    const layer = filter('spring', hips, { frequency: 1 / ratio, damping: 0.2, damped: 'joint', loop: true });
    const shot = under(layer, sine(period, period), period);
    // Its part at the sine's own frequency.
    let [inPhase, late] = [0, 0];
    for (let frame = 0; frame < period; frame += 1) {
      const angle = (2 * Math.PI * frame) / period;
      inPhase += (2 / period) * at(shot, frame) * Math.sin(angle);
      late -= (2 / period) * at(shot, frame) * Math.cos(angle);
    }
    expect(Math.hypot(inPhase, late)).toBeCloseTo(gain, 5);
    expect((Math.atan2(late, inPhase) * 180) / Math.PI).toBeCloseTo(lag, 3);
    // A turn later it is where it was, in value and in slope.
    expect(at(shot, period)).toBeCloseTo(at(shot, 0), 9);
    expect(at(shot, period) - at(shot, period - 1e-3)).toBeCloseTo(at(shot, 1e-3) - at(shot, 0), 8);
  });

  test('behind a steady motion it stays by 2ζ/ω by the air, and not at all at the joint', () => {
    const ramp = denseCurve(Array.from({ length: 1201 }, (_, i) => 3 * i));
    const behind = (damped: string) =>
      3 * 1199.5 - at(under(filter('spring', hips, { frequency: 2, damping: 0.4, damped }), ramp), 1199.5);
    const omega = (2 * Math.PI * 2) / 24;
    expect(behind('air')).toBeCloseTo(3 * ((2 * 0.4) / omega), 6);
    expect(behind('joint')).toBeCloseTo(0, 6);
  });

  test('24, 25, 60 and 120 frames a second give the same at equal times; asked between frames too', () => {
    // Straight from corner to corner, which lie on frames of every rate.
    const corners = [0, 4, 1, -6, 2, 2, 3, 9, 4, 0];
    const value = (rate: number, seconds: number, more: object) => {
      const keys = corners.map((number, i) => (i % 2 === 0 ? number * rate : number));
      const straight = curve(keys, 'linear');
      return at(
        under(filter('spring', hips, { frequency: 1.7, damping: 0.25, ...more }), straight, rate),
        seconds * rate,
      );
    };
    for (const more of [{}, { damped: 'joint' }, { damping: 1 }, { damping: 2.5 }, { loop: true }])
      for (const seconds of [0.31, 1, 1.777, 2.5, 3.99]) {
        const expected = value(24, seconds, more);
        for (const rate of [25, 60, 120]) expect(value(rate, seconds, more)).toBeCloseTo(expected, 9);
      }
  });

  test('it starts at rest on its keys, and nothing is sprung ahead of its range', () => {
    const moving = curve([0, 0, 24, 48], 'linear');
    const shot = under(filter('spring', hips, {}, { range: { start: 10, end: 24 } }), moving);
    for (const frame of [0, 5, 9.9]) expect(at(shot, frame)).toBe(at({ ...shot, layers: [] }, frame));
    expect(at(shot, 10)).toBe(20);
    expect(at(shot, 10.01) - 20).toBeLessThan(0.001);
  });

  test('however long and stiff, no number overflows', () => {
    for (const damping of [0, 1, 1.000001, 10]) {
      const layer = filter('spring', hips, { frequency: 12, damping, loop: true });
      expect(Number.isFinite(at(under(layer, sine(5000, 100)), 4999.5))).toBe(true);
    }
  });
});

describe('shift and stretch', () => {
  const moving = curve([0, 0, 6, 12, 13, -4, 24, 8]);

  test('by frames, more for each member along their order', () => {
    const base = puppet({ 'hips.ty': moving, 'arm_l.rz': moving, 'hand_l.rx': moving });
    const layer = filter('shift', ['hand_l', 'hips', 'arm_l'], { frames: 1.5, step: 2 });
    const shot = { ...base, layers: [layer] };
    for (const frame of [4, 9.25, 20])
      for (const [id, late] of [
        ['hand_l.rx', 1.5],
        ['hips.ty', 3.5],
        ['arm_l.rz', 5.5],
      ] as const)
        expect(at(shot, frame, id)).toBe(at(base, frame - late, id));
  });

  test('at random each control by its own within bounds, the same for the same seed', () => {
    const ids = ['hips', 'arm_l', 'hand_l', 'arm_r'];
    const line = curve([0, 0, 24, 24], 'linear');
    const base = puppet(Object.fromEntries(ids.map((id) => [`${id}.rx`, line])));
    const late = (seed: number) => {
      const shot = { ...base, layers: [filter('shift', ids, { frames: 0, random: 3, seed })] };
      return ids.map((id) => 12 - at(shot, 12, `${id}.rx`));
    };
    expect(new Set(late(4)).size).toBe(4);
    expect(Math.max(...late(4).map(Math.abs))).toBeLessThanOrEqual(3);
    expect(late(4)).toEqual(late(4));
    expect(late(5)).not.toEqual(late(4));
  });

  test('loop-aware, what comes from beyond one end comes from the other', () => {
    const shot = under(filter('shift', hips, { frames: 5, loop: true }), moving);
    // The motion travels from the first frame to the last: a turn earlier it was that much behind.
    const travel = at({ ...shot, layers: [] }, 24) - at({ ...shot, layers: [] }, 0);
    expect(at(shot, 2)).toBeCloseTo(at({ ...shot, layers: [] }, 21) - travel, 12);
    expect(at(shot, 7)).toBe(at({ ...shot, layers: [] }, 2));
  });

  test('stretched about a pivot, which stays', () => {
    const shot = under(filter('stretch', hips, { factor: 2, pivot: 6 }), moving);
    expect(at(shot, 6)).toBe(12);
    expect(at(shot, 20)).toBe(at({ ...shot, layers: [] }, 13));
  });
});

describe('step', () => {
  const line = denseCurve(Array.from({ length: 25 }, (_, i) => i));
  const shown = (layer: Layer, frames = [0, 1, 2, 3, 4, 5]) =>
    frames.map((frame) => at(under(layer, line), frame));

  test('on twos: 0 0 2 2 4 4 (common practice, no source)', () => {
    expect(shown(filter('step', hips))).toEqual([0, 0, 2, 2, 4, 4]);
  });

  test('from any first frame, in a pattern, between frames too', () => {
    expect(shown(filter('step', hips, { first: 1 }), [1, 2, 3, 3.99, 4])).toEqual([1, 1, 3, 3, 3]);
    expect(shown(filter('step', hips, { pattern: [2, 3] }), [0, 1, 2, 3, 4, 5, 6, 7])).toEqual([
      0, 0, 2, 2, 2, 5, 5, 7,
    ]);
    expect(heldFrame([2, 3], 10, 4)).toBe(2);
  });

  test('on the keys of another control', () => {
    const base = puppet({ 'hips.ty': line, 'arm_l.rz': curve([3, 0, 8, 1]), 'arm_l.rx': curve([5, 0]) });
    const shot = { ...base, layers: [filter('step', hips, { like: 'arm_l' })] };
    expect([2, 3, 4, 6, 9, 24].map((frame) => at(shot, frame))).toEqual([2, 3, 3, 5, 8, 8]);
  });

  test('over a range only, both ends included', () => {
    const layer = filter('step', hips, { pattern: [4] }, { range: { start: 6, end: 12 } });
    expect(shown(layer, [5, 6, 9, 10, 12, 13])).toEqual([5, 6, 6, 10, 10, 13]);
  });
});

describe('wobble', () => {
  const still = curve([0, 3, 10_000, 3], 'linear');
  const noise = (settings: object, rate = 24, length = 10_000) => {
    const shot = under(filter('wobble', hips, settings), still, rate);
    return Array.from({ length }, (_, frame) => at(shot, frame) - 3);
  };

  test('its mean is nothing, and it mostly stays within its amount', () => {
    for (const seed of [1, 2, 3]) {
      const values = noise({ position: 2, seed, speed: 1.5 });
      expect(Math.abs(values.reduce((sum, value) => sum + value, 0) / values.length)).toBeLessThan(0.02);
      const within = values.filter((value) => Math.abs(value) <= 2).length / values.length;
      expect(within).toBeGreaterThan(0.9);
      expect(Math.max(...values)).toBeGreaterThan(1);
    }
  });

  test.each([0, 1])('grain %d: no more than 5 % of its energy lies above twice its speed', (grain) => {
    const [speed, rate, length] = [2, 24, 2400];
    const values = noise({ position: 1, speed, grain }, rate, length);
    // A plain Fourier sum over the frequencies from above twice the speed, under a Hann window.
    const windowed = values.map((value, i) => value * (0.5 - 0.5 * Math.cos((2 * Math.PI * i) / length)));
    const energy = windowed.reduce((sum, value) => sum + value * value, 0);
    let above = 0;
    for (let bin = Math.ceil((2 * speed * length) / rate); bin < length / 2; bin += 1) {
      let [real, imaginary] = [0, 0];
      for (let i = 0; i < length; i += 1) {
        real += windowed[i]! * Math.cos((2 * Math.PI * bin * i) / length);
        imaginary += windowed[i]! * Math.sin((2 * Math.PI * bin * i) / length);
      }
      above += (2 * (real * real + imaginary * imaginary)) / length;
    }
    expect(above / energy).toBeLessThan(0.05);
  });

  test('loop-aware its end is its start; amounts by kind and by channel; still channels only when asked', () => {
    const base = puppet({ 'hips.ty': curve([0, 0, 24, 5]), 'hips.rx': curve([0, 0, 24, 5]) });
    const wobbling = (settings: object) => ({ ...base, layers: [filter('wobble', hips, settings)] });
    const looped = wobbling({ loop: true });
    for (const id of ['hips.ty', 'hips.rx'])
      expect(at(looped, 24, id) - at(base, 24, id)).toBeCloseTo(at(looped, 0, id) - at(base, 0, id), 12);
    const only = wobbling({ position: 0, rotation: 0, amounts: { 'hips.rx': 4 } });
    expect(at(only, 7)).toBe(at(base, 7));
    expect(at(only, 7, 'hips.rx')).not.toBe(at(base, 7, 'hips.rx'));
    expect(at(looped, 7, 'hips.tz')).toBe(0);
    expect(at(wobbling({ still: true }), 7, 'hips.tz')).not.toBe(0);
  });

  test('one seed for all moves controls alike, a seed for each does not', () => {
    const base = puppet({ 'arm_l.rz': curve([0, 0, 24, 0]), 'arm_r.rz': curve([0, 0, 24, 0]) });
    const sides = (each: boolean) => {
      const shot = { ...base, layers: [filter('wobble', ['arm_l', 'arm_r'], { each })] };
      return [at(shot, 9, 'arm_l.rz'), at(shot, 9, 'arm_r.rz')];
    };
    expect(sides(false)[0]).toBe(sides(false)[1]);
    expect(sides(true)[0]).not.toBe(sides(true)[1]);
    // The same numbers on any machine: from this implementation, kept against change.
    expect(sides(true)[0]).toBeCloseTo(1.2109239596924084, 12);
  });
});

describe('smooth', () => {
  test('σ of two frames lets 0.291213 of a period of eight through (Fourier transform of a Gaussian)', () => {
    const shot = under(filter('smooth', hips, { width: 2 }), sine(400, 8));
    // Dense straight lines: asked on frames, where the samples are the sine itself.
    for (const frame of [202, 206])
      expect(at(shot, frame) / Math.sin((2 * Math.PI * frame) / 8)).toBeCloseTo(0.291213, 6);
  });

  test('its ends are kept, and a straight line stays what it is', () => {
    const bent = curve([0, 3, 5, 20, 11, -7, 24, 8]);
    const shot = under(filter('smooth', hips, { width: 3 }), bent);
    expect([at(shot, 0), at(shot, 24)]).toEqual([expect.closeTo(3, 9), expect.closeTo(8, 9)]);
    const line = under(
      filter('smooth', hips, { width: 3 }),
      denseCurve(Array.from({ length: 30 }, (_, i) => 2 * i)),
    );
    for (const frame of [0, 3, 14.5, 29]) expect(at(line, frame)).toBeCloseTo(2 * frame, 9);
  });

  test('narrower than frames it still is what it says', () => {
    // A parabola smoothed by σ rises by σ² times its second derivative over two.
    const shot = under(filter('smooth', hips, { width: 0.4 }), curve([-30, 900, 0, 0, 30, 900], 'smooth'));
    const parabola = (frame: number) => at({ ...shot, layers: [] }, frame);
    const bend = (parabola(10.01) - 2 * parabola(10) + parabola(9.99)) / 1e-4;
    expect(at(shot, 10) - parabola(10)).toBeCloseTo((0.16 * bend) / 2, 2);
  });
});

describe('every filter', () => {
  const kinds: [string, object][] = [
    ['spring', { frequency: 3 }],
    ['spring', { loop: true, damped: 'joint' }],
    ['shift', { frames: 2.5 }],
    ['stretch', { factor: 1.4 }],
    ['step', { pattern: [2, 3] }],
    ['wobble', { grain: 0.5 }],
    ['smooth', { width: 1.5 }],
  ];
  const moving = curve([0, 0, 6, 12, 13, -4, 24, 8]);

  test.each(kinds)(
    '%s %j: the order of asking does not matter, whole frames equal columns',
    (kind, settings) => {
      const make = () =>
        under(
          filter(kind, hips, settings, {
            weight: curve([0, 0.2, 24, 1]),
            range: { start: 3, end: 20, rampIn: 4, rampOut: 2 },
          }),
          curve([0, 0, 6, 12, 13, -4, 24, 8]),
        );
      const frames = [17.25, 3, 24, 0, 11.5, 8, 20];
      const [there, back] = [make(), make()];
      const once = frames.map((frame) => at(there, frame));
      const again = [...frames].reverse().map((frame) => at(back, frame));
      expect(again.reverse()).toEqual(once);
      const columns = make();
      const rig = rigOf(columns);
      const values = new Float64Array(rig.channels.length);
      for (const frame of [0, 8, 20, 3]) {
        const single = at(make(), frame);
        channelValues(columns, frame, values, true);
        expect(values[rig.channelIndex('hips.ty')]).toBe(single);
      }
    },
  );

  test.each(kinds)(
    '%s %j: strength 0 is the motion below to the bit, and removing it gives back the same signals',
    (kind, settings) => {
      const shot = under(filter(kind, hips, settings, { weight: curve([0, 0, 24, 0]) }), moving);
      const bare = { ...shot, layers: [] };
      for (const frame of [0, 3.3, 12, 24]) expect(at(shot, frame)).toBe(at(bare, frame));
      const full = { ...bare, layers: [filter(kind, hips, settings)] };
      const below = stackOf(bare).top;
      stackOf(full).top.forEach((signal, c) => {
        const ours = rigOf(full).channels[c]!.id === 'hips.ty';
        expect(signal === below[c]).toBe(!ours);
      });
      expect(stackOf({ ...full, layers: [] }).top.map((signal, c) => signal === below[c])).not.toContain(
        false,
      );
    },
  );

  test.each(kinds)('%s %j: channels without keys below are left alone', (kind, settings) => {
    const shot = { ...puppet({ 'hips.ty': moving }), layers: [filter(kind, ['arm_r'], settings)] };
    expect(at(shot, 9, 'arm_r.rx')).toBe(0);
  });
});

test('one changed key makes new signals for its own channel only, under many layers', () => {
  const curves = {
    'hips.ty': curve([0, 0, 24, 8]),
    'arm_l.rz': curve([0, 4, 24, 1]),
    'arm_l.rx': curve([0, 4, 24, 1]),
  };
  const layers = [
    ...['a', 'b', 'c'].map((id) =>
      pass(id, { members: ['hips', 'arm_l'], curves: [{ ty: curve([3, 4]) }, { rz: curve([2, 2]) }] }),
    ),
    pass('d', {
      kind: 'replace',
      members: ['arm_l'],
      weight: curve([0, 0.4]),
      curves: [undefined, { rx: curve([1, 1]) }],
    }),
    ...['spring', 'shift', 'wobble', 'smooth', 'step'].map((kind) => filter(kind, ['hips', 'arm_l'])),
  ];
  const before = { ...puppet(curves), layers };
  const rig = rigOf(before);
  const table = [...before.curves];
  table[1] = { ...table[1], rz: curve([0, 4, 12, 9, 24, 1]) };
  const [was, is] = [stackOf(before).top, stackOf({ ...before, curves: table }).top];
  const changed = rig.channels.filter((_, c) => was[c] !== is[c]).map(({ id }) => id);
  expect(changed).toEqual(['arm_l.rz']);
});

test('whatever the settings, numbers stay numbers', () => {
  fc.assert(
    fc.property(
      fc.record({
        frequency: fc.double({ min: 0.01, max: 12, noNaN: true }),
        damping: fc.double({ min: 0, max: 10, noNaN: true }),
        loop: fc.boolean(),
      }),
      fc.double({ min: -10, max: 40, noNaN: true }),
      (settings, frame) => {
        const shot = under(filter('spring', hips, settings), curve([0, 0, 6, 12, 13, -4, 24, 8]));
        expect(Math.abs(at(shot, frame))).toBeLessThan(1e6);
      },
    ),
    { numRuns: 60 },
  );
});
