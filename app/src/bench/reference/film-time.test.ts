import { describe, expect, test } from '@jest/globals';
import { frameAtMoment, momentAt } from './film-time.ts';

const plain = { offset: 0, rate: 1, from: 0, to: null };

describe('a film beside the shot', () => {
  test.each([
    [plain, 24, 1],
    [{ ...plain, offset: 12 }, 12, 0],
    [{ ...plain, offset: 12 }, 36, 1],
    [{ ...plain, offset: 12, rate: 0.8 }, 36, 0.8],
    [{ ...plain, offset: -6, rate: 2, from: 0.5 }, 18, 2.5],
  ])('%j shows at frame %d the moment %d s', (place, frame, moment) => {
    expect(momentAt(place, frame, 24, 60)).toBeCloseTo(moment, 9);
    expect(frameAtMoment(place, moment, 24)).toBeCloseTo(frame, 9);
  });

  test('stays at the ends of what is shown', () => {
    expect(momentAt({ ...plain, offset: 12 }, 0, 24, 5)).toBe(0);
    expect(momentAt({ ...plain, from: 1, to: 3 }, 240, 24, 5)).toBe(3);
    expect(momentAt(plain, 1000, 24, 5)).toBe(5);
  });
});
