import { expect, test } from '@jest/globals';
import { frameAt, PictureRate, playedRange } from './playback-clock.ts';

const range = { start: 10, end: 33 };
const at = (now: number, more = {}) => frameAt({ began: 1000, frame: 10, speed: 1, ...more }, range, 24, now);

test('whole frames by the clock: each lasts a 24th of a second', () => {
  expect([1000, 1041, 1042, 1084, 1500].map((now) => at(now))).toEqual([10, 10, 11, 12, 22]);
});

test('it goes on from where it began, and from the last frame to the first', () => {
  expect(at(1000, { frame: 30 })).toBe(30);
  expect(at(1000 + 1000 * (3.5 / 24), { frame: 30 })).toBe(33);
  expect(at(1000 + 1000 * (4.5 / 24), { frame: 30 })).toBe(10);
  expect(at(1000 + 1000 * (24.5 / 24))).toBe(10);
});

test('half speed takes twice as long', () => {
  expect(at(2000, { speed: 0.5 })).toBe(22);
});

test('a play-head beyond the range begins at its end', () => {
  expect(at(1000, { frame: 90 })).toBe(33);
  expect(at(1000, { frame: 2 })).toBe(10);
});

test('of a marked range what lies in the shot is played; the whole shot where that is nothing', () => {
  expect(playedRange(range, { start: 12.5, end: 20.5 }, true)).toEqual({ start: 13, end: 20 });
  expect(playedRange(range, { start: 12, end: 90 }, true)).toEqual({ start: 12, end: 33 });
  expect(playedRange(range, { start: 40, end: 90 }, true)).toBe(range);
  expect(playedRange(range, { start: 12, end: 20 }, false)).toBe(range);
  expect(playedRange(range, null, true)).toBe(range);
});

test('fewer pictures than the shot has are told, twice a second at most, and no others', () => {
  const told = (every: number, wanted: number) => {
    const rate = new PictureRate();
    const all: (number | null)[] = [];
    for (let now = 100; now < 4100; now += every) {
      const one = rate.drawn(now, wanted);
      if (one !== undefined) all.push(one);
    }
    return all;
  };
  expect(told(1000 / 15, 24)).toEqual(expect.arrayContaining([15]));
  expect(new Set(told(1000 / 15, 24)).size).toBeLessThanOrEqual(2);
  expect(told(1000 / 15, 24).length).toBeLessThanOrEqual(7);
  expect(new Set(told(1000 / 24, 24))).toEqual(new Set([null]));
  expect(new Set(told(1000 / 15, 15))).toEqual(new Set([null]));
});
