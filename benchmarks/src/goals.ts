/** Goals for captured limbs: made from the motion of a whole file, and joints again. */
import { readBvh, runEdit } from '@kneader/core';
import type { Shot } from '@kneader/core';
import { CAPTURED_TEXT } from './open-data.ts';
import { median, timeOf } from './measure.ts';
import type { Row } from './measure.ts';

const CHOICE = { nodes: [], channels: [], keys: {}, range: null, layer: null };
const MOST = 10;

export function goalsRows(): Row[] {
  const { shot } = readBvh(CAPTURED_TEXT, '01_01');
  const { start, end } = shot.range;
  const short: Shot = { ...shot, range: { start, end: start + Math.round((end - start) / 10) } };
  const made = (of: Shot) => runEdit('spaces.addGoals', of, CHOICE, {});
  const whole = median([0, 1, 2].map(() => timeOf(() => made(shot)))) / 1000;
  const tenth = median([0, 1, 2].map(() => timeOf(() => made(short)))) / 1000;
  return [
    {
      work: 'goals and poles for the four limbs of 01_01.bvh (2,752 frames), within 1 mm and 0.2°',
      against: 'ten seconds',
      measured: `${whole.toFixed(1)} s`,
      toReach: `≤ ${MOST} s`,
      reached: whole <= MOST,
    },
    {
      work: 'goals and poles, growth',
      against: 'a tenth of its frames',
      measured: `${(whole / tenth).toFixed(1)}× the time`,
      toReach: 'about 10×',
      reached: whole / tenth <= 12,
    },
  ];
}
