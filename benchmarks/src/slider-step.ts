/** One step of the tolerance slider: thinning 60 channels × 2,000 keys, as the worker does it. */
import { NOTHING, readBvh, runEdit } from '@kneader/core';
import { median, timeOf } from './measure.ts';
import type { Row } from './measure.ts';
import { CAPTURED_TEXT } from './open-data.ts';

const BUDGET_MS = 16;

export function sliderStepRows(): Row[] {
  const { shot } = readBvh(CAPTURED_TEXT, '01_01');
  const rotations = shot.nodes.flatMap((node) =>
    node.channels.filter((name) => name.startsWith('r')).map((name) => `${node.id}.${name}`),
  );
  const selection = { ...NOTHING, channels: rotations.slice(0, 60), range: { start: 0, end: 1999 } };
  const step = (rotation: number) =>
    runEdit('clean.thin', shot, selection, { rotation, measureSpace: false });
  // A hand on the slider runs dozens of steps: the first few, which the engine compiles in, are not its time.
  const tolerances = [0.3, 0.4, 0.6, 0.8, 1, 1.4, 2];
  for (let round = 0; round < 3; round += 1) tolerances.forEach(step);
  // Of nine runs the quickest: a budget is about the work, and other tenants of the machine only add to it.
  const times = tolerances.map((rotation) =>
    Math.min(...Array.from({ length: 9 }, () => timeOf(() => step(rotation)))),
  );
  const budgets = median(times) / BUDGET_MS;
  return [
    {
      work: 'one slider step of Thin, 60 channels × 2,000 keys, 0.3° to 2°',
      against: 'a frame budget of 16 ms',
      measured: `${budgets.toFixed(1)} budgets (${Math.round(median(times))} ms)`,
      toReach: '≤ 6 budgets',
      reached: budgets <= 6,
    },
  ];
}
