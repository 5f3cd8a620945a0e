/** Rates from what files give: NTSC's slowed rates are fractions of 1001 (SMPTE ST 12-1, from memory). */
import { expect, test } from '@jest/globals';
import { rateOfFrameTime, rateOfTimes } from './rate.ts';

test.each([
  ['0.0333333', 30, 1],
  ['0.0333667', 30000, 1001],
  ['0.0416667', 24, 1],
  ['0.041708', 24000, 1001],
  ['0.008333', 120, 1],
  ['0.0083417', 120000, 1001],
  ['0.04', 25, 1],
  ['0.0277778', 36, 1],
  ['2', 1, 2],
])('a frame time of %s is %i/%i', (text, numerator, denominator) => {
  expect(rateOfFrameTime(Number(text))).toEqual({ numerator, denominator });
});

const single = (times: readonly number[]) => Float32Array.from(times);

test('times of keys on whole frames: the rate that they lie on, and others that fit as well', () => {
  expect(rateOfTimes(single([0, 7 / 24, 19 / 24]))).toMatchObject({
    rate: { numerator: 24, denominator: 1 },
    fits: true,
  });
  const slowed = [0, 3, 8, 100, 2001].map((frame) => (frame * 1001) / 24000);
  expect(rateOfTimes(single(slowed))).toMatchObject({
    rate: { numerator: 24000, denominator: 1001 },
    fits: true,
  });
  // Half seconds lie on frames of nearly every rate.
  const halves = rateOfTimes(single([0, 0.5, 1]));
  expect(halves.rate).toEqual({ numerator: 24, denominator: 1 });
  expect(halves.rivals.map(({ numerator }) => numerator)).toEqual(expect.arrayContaining([30, 50]));
  expect(halves.rivals.map(({ numerator }) => numerator)).not.toContain(48);
  expect(rateOfTimes(single([0, 0.0137, 0.21, 0.777]))).toMatchObject({ fits: false });
});
