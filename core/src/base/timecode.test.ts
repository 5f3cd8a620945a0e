import { expect, test } from '@jest/globals';
import { timecode } from './timecode.ts';

// By SMPTE ST 12-1, from memory: an hour of non-drop code holds 108,000 frames at 29.97 (30 counted), 86,400 at 23.976.
test.each([
  [0, 24, '00:00:00:00'],
  [23, 24, '00:00:00:23'],
  [24, 24000 / 1001, '00:00:01:00'],
  [108_000, 30000 / 1001, '01:00:00:00'],
  [86_399, 24000 / 1001, '00:59:59:23'],
  [61, 12, '00:00:05:01'],
  [-5, 24, '-00:00:00:05'],
])('frame %d at %d is %s', (frame, rate, code) => expect(timecode(frame, rate)).toBe(code));
