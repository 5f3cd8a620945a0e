/** Recording: even samples out of uneven inputs, a feed's clock, and takes laid over each other. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { runEdit } from '../edits/run-edit.ts';
import { grumble, GRUMBLE_CHANNELS } from '../demo/grumble.ts';
import { valuesAt } from '../evaluation/evaluation.ts';
import { curveOf, rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { choose, curve, keysOf, puppet } from '../testing/shot-literals.ts';
import { FeedClock, readFeedMessage } from './feed.ts';
import { evenTimes, Take } from './sampled.ts';

describe('samples', () => {
  test('however unevenly and in whatever order inputs came, samples lie on the motion at even times, none missing', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0.5, max: 90, noNaN: true }), { minLength: 30, maxLength: 120 }),
        fc.boolean(),
        (gaps, reversed) => {
          let time = 1000;
          const inputs = gaps.map((gap) => ({ time: (time += gap), values: { x: 3 * time } }));
          const take = new Take();
          for (const input of reversed ? [...inputs].reverse() : inputs) take.push(input);
          const [first, last] = [inputs[0]!.time, inputs[inputs.length - 1]!.time];
          const times = evenTimes(first, 1000 / 24, Math.floor((last - first) / (1000 / 24)) + 1);
          const { x } = take.sampled(times);
          expect(x).toHaveLength(times.length);
          times.forEach((at, i) => expect(x![i]).toBeCloseTo(3 * at, 6));
        },
      ),
      { numRuns: 50 },
    );
  });

  test('of several inputs at one time the last that came counts, and one that comes late is put where it belongs', () => {
    const take = new Take();
    for (const [time, value] of [
      [0, 1],
      [100, 5],
      [100, 7],
      [50, 3],
      [50, 2],
      [0, 4],
    ] as const)
      take.push({ time, values: { x: value } });
    expect(take.sampled(Float64Array.of(0, 25, 50, 75, 100))).toEqual({ x: [4, 3, 2, 4.5, 7] });
    expect(take.traces.get('x')!.end).toBe(100);
  });

  test('ahead of the first input and past the last it holds; what is no number is left out', () => {
    const take = new Take();
    for (const [time, value] of [
      [10, 5],
      [20, 9],
      [15, NaN],
      [NaN, 3],
    ] as const)
      take.push({ time, values: { x: value } });
    expect(take.sampled(Float64Array.of(0, 15, 40))).toEqual({ x: [5, 7, 9] });
  });
});

describe('a feed', () => {
  test('a message may be as long as a million letters and no longer; values keep their order', () => {
    const sample = JSON.stringify({ kind: 'sample', time: 5, values: [3, 1, 2] });
    const padded = (length: number) => sample + ' '.repeat(length - sample.length);
    expect(readFeedMessage(padded(1e6))).toMatchObject({ values: [3, 1, 2] });
    expect(readFeedMessage(padded(1e6 + 1))).toBeNull();
    const hello = (channels: number, rate: number) =>
      readFeedMessage(
        JSON.stringify({
          kind: 'hello',
          name: 'x',
          rate,
          channels: Array.from({ length: channels }, (_, i) => `c${i}`),
        }),
      );
    expect(
      [hello(2000, 1000), hello(2001, 1000), hello(1, 1000.5), hello(0, 60)].map((one) => one === null),
    ).toEqual([false, true, true, true]);
  });

  test('nonsense is none of its messages', () => {
    const good = { kind: 'sample', time: 4, values: [1, 2] };
    expect(readFeedMessage(JSON.stringify(good))).toEqual(good);
    for (const bad of [
      '',
      '{',
      '[]',
      '{"kind":"sample"}',
      '{"kind":"sample","time":"4","values":[]}',
      7,
      `"${'x'.repeat(2e6)}"`,
    ])
      expect(readFeedMessage(bad)).toBeNull();
  });

  test('a message that comes late was made when it was made', () => {
    const clock = new FeedClock();
    const heard = [0, 3, 40, 1].map((delay, i) => clock.heard(100 * i, 5000 + 100 * i + delay));
    expect(heard.map((one) => one!.late)).toEqual([0, 3, 40, 1]);
    expect(heard.map((one) => one!.made)).toEqual([5000, 5100, 5200, 5300]);
  });

  test('a time that makes no sense spoils no other: it and the way back from it are left out', () => {
    for (const nonsense of [1e12, -1e12, 9000]) {
      const clock = new FeedClock();
      const times = [0, 100, nonsense, 300, 400, 500];
      const heard = times.map((time, i) => clock.heard(time, 5000 + 100 * i)?.made ?? null);
      expect(heard).toEqual([5000, 5100, null, null, 5400, 5500]);
    }
  });

  test('each seed grumbles in its own way, the same again', () => {
    expect(grumble(7)(1.25)).toEqual(grumble(7)(1.25));
    expect(grumble(8)(1.25)).not.toEqual(grumble(7)(1.25));
    expect(grumble(7)(1.25)).toHaveLength(GRUMBLE_CHANNELS.length);
  });
});

describe('takes', () => {
  const shot = puppet({ 'arm_l.rz': curve([0, 10, 24, -20]), 'hips.ty': curve([0, 1, 24, 9]) });
  const take = (of: Shot, options: object) => runEdit('actions.record', of, choose({}), options);
  const at = (of: Shot, id: string, frame: number) => valuesAt(of, frame)[rigOf(of).channelIndex(id)]!;

  test('show what was driven, there and nowhere else', () => {
    const { shot: after, selection } = take(shot, { start: 6, values: { 'arm_l.rz': [30, 31, 34, 40] } });
    expect([6, 7, 8, 9].map((frame) => at(after, 'arm_l.rz', frame))).toEqual([30, 31, 34, 40]);
    for (const frame of [0, 5, 5.9, 9.1, 20])
      expect(at(after, 'arm_l.rz', frame)).toBe(at(shot, 'arm_l.rz', frame));
    expect(after.layers[0]).toMatchObject({ id: selection.layer, kind: 'replace', name: 'Take 1' });
  });

  test('over a take only its channels change, only in its frames', () => {
    const first = take(shot, {
      start: 4,
      values: { 'arm_l.rz': Array.from({ length: 13 }, (_, i) => i), 'hips.ty': [5, 5] },
    });
    const over = take(first.shot, {
      start: 8,
      values: { 'arm_l.rz': [50, 52, 54] },
      onto: first.selection.layer,
    });
    const pass = over.shot.layers[0]!;
    expect(over.shot.layers).toHaveLength(1);
    for (let frame = 4; frame <= 16; frame += 1) {
      const driven = frame >= 8 && frame <= 10;
      expect([frame, at(over.shot, 'arm_l.rz', frame)]).toEqual([
        frame,
        driven ? 50 + 2 * (frame - 8) : frame - 4,
      ]);
      expect(at(over.shot, 'hips.ty', frame)).toBe(at(first.shot, 'hips.ty', frame));
    }
    const longer = take(over.shot, { start: 14, values: { 'arm_l.ry': [1, 2, 3, 4, 5, 6] }, onto: pass.id });
    expect(longer.shot.layers[0]!.range).toMatchObject({ start: 4, end: 19 });
    expect(keysOf(curveOf(longer.shot, pass.id, 'arm_l.ry'))).toBe('14:1 15:2 16:3 17:4 18:5 19:6');
  });

  test('onto what is locked, or is no replace pass: a sentence, and nothing lost', () => {
    const codes = (of: Shot, options: object) => take(of, options).report.findings.map(({ code }) => code);
    const locked = { ...shot, locked: ['arm_l.rz'] };
    expect(codes(locked, { start: 0, values: { 'arm_l.rz': [1] } })).toEqual(['lockedChannels']);
    expect(codes(shot, { start: 0, values: { 'arm_l.rz': [1] }, onto: 'gone' })).toEqual(['unknownPass']);
    expect(codes(shot, { start: 0, values: { 'tail.rz': [1] } })).toEqual(['unmatchedChannels']);
  });
});
