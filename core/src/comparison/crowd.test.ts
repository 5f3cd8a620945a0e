/** Two compared, and sheets, over the crowded shot: a shot is like itself, whatever is in it, and every sheet of it is made of numbers. */
import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { sheetOptions } from '../sheets/sheet.ts';
import { SHEETS } from '../sheets/sheets.ts';
import { svgOf } from '../sheets/svg.ts';
import { anyCrowd, crowdedShot } from '../testing/crowded-shot.ts';
import { alignedByPoses, besideFrame } from './alignment.ts';
import { contactsCompared, differencesOf, keysCompared } from './differences.ts';
import { pairedNodes } from './paired.ts';

test('a shot and its copy are one, at the time that is found too', () => {
  fc.assert(
    fc.property(anyCrowd, (crowd) => {
      const [shot, copy] = [crowdedShot(crowd), crowdedShot(crowd)];
      const paired = pairedNodes(shot, copy);
      expect([paired.aloneInA, paired.aloneInB, paired.isMapped]).toEqual([[], [], false]);
      const found = alignedByPoses(shot, copy, paired);
      for (let frame = shot.range.start; frame <= shot.range.end; frame += 1)
        expect(besideFrame(found, frame)).toBeCloseTo(frame, 6);
      const { mm, degrees } = differencesOf(shot, copy, paired, found);
      expect(Math.max(...mm)).toBeLessThan(1e-3);
      expect(Math.max(...degrees)).toBeLessThan(1e-3);
      expect(keysCompared(shot, copy)).toEqual([]);
      for (const { a, b } of contactsCompared(shot, copy, found)) expect(a).toBeCloseTo(b!, 6);
    }),
    { numRuns: 12 },
  );
});

test('every sheet is made, and none of its numbers is missing', () => {
  fc.assert(
    fc.property(anyCrowd, (crowd) => {
      const shot = crowdedShot(crowd);
      for (const { pages } of SHEETS) {
        const svg = svgOf(pages(shot, sheetOptions.parse({})), shot.name);
        expect(svg).not.toMatch(/NaN|Infinity|undefined|null/);
        expect(svg.length).toBeGreaterThan(500);
      }
    }),
    { numRuns: 12 },
  );
});
