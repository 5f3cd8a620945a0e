/**
 * Each format over the crowded shot: a reader gets what showed. On whole frames every format that holds motion gives it back within half a millimetre and a quarter of a degree,
 * and figures that are mirrored or uneven too, by as much as they are larger; or says before what it loses.
 */
import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { worldAt } from '../evaluation/evaluation.ts';
import { worldDifference } from '../evaluation/measure.ts';
import { rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';
import { anyCrowd, crowdedShot, LAST } from '../testing/crowded-shot.ts';
import { FORMATS } from './formats.ts';
import { readFile } from './read-file.ts';

const FRAMES = Array.from({ length: LAST + 1 }, (_, i) => i);

function apart(shot: Shot, back: Shot) {
  const rows = shot.nodes.map(({ id }) => rigOf(back).indexOf(id));
  const matrices = new Float64Array(shot.nodes.length * 16);
  return worldDifference(
    rigOf(shot),
    (frame) => worldAt(shot, frame).matrices,
    (frame) => {
      const there = worldAt(back, frame).matrices;
      rows.forEach((row, i) => {
        if (row >= 0) matrices.set(there.subarray(row * 16, row * 16 + 16), i * 16);
      });
      return matrices;
    },
    FRAMES,
    Uint8Array.from(rows, (row) => (row >= 0 ? 1 : 0)),
  );
}

// What holds values of channels and no figure is tried where it is read; a humanoid's file is written only where one came (`gltf/into-source.test.ts`).
const MOVING = FORMATS.filter(({ ending }) => ending !== '.csv' && ending !== '.vrm');

test.each(MOVING.map(({ ending }) => ending))('%s', async (ending) => {
  const format = FORMATS.find((one) => one.ending === ending)!;
  let exact = 0;
  await fc.assert(
    fc.asyncProperty(anyCrowd, async (crowd) => {
      const shot = crowdedShot(crowd);
      const written = await format.write(shot);
      const bytes = typeof written === 'string' ? new TextEncoder().encode(written) : written;
      const { shot: back } = await readFile(`x${ending}`, bytes);
      const { place, turn } = apart(shot, back);
      // A figure that is twice as wide and half as deep makes twice and four times as much of what its joints are off by.
      const kept = crowd.scales
        ? place.amount < 0.1 && turn.amount < 1
        : place.amount < 0.05 && turn.amount < 0.25;
      const said = format.lost(shot).some(({ code }) => code !== 'marksStay');
      if (kept) exact += 1;
      expect([place, turn, kept || said]).toEqual([place, turn, true]);
    }),
    { numRuns: 10 },
  );
  expect(exact).toBeGreaterThan(3);
});
