import { expect, test } from '@jest/globals';
import { overThePuddle } from '../demo/over-the-puddle.ts';
import { NOTHING } from '../document/selection.ts';
import { runEdit } from '../edits/run-edit.ts';
import { leansOver, supportAt } from './support.ts';

test('leans along time are those of each frame, of whoever leans most, in mm', () => {
  const leap = runEdit('contacts.find', overThePuddle(), NOTHING, {}).shot;
  const { frames, profile, most } = leansOver(leap)!;
  frames.forEach((frame, f) =>
    expect(profile[f]).toBeCloseTo(10 * (supportAt(leap, 'bram', frame)!.lean ?? 0), 9),
  );
  expect(most.mm).toBe(Math.max(...profile));
  expect([most.name, profile[most.frame - leap.range.start]]).toEqual(['Bram', most.mm]);
  // In the air nothing carries him, and he leans on nothing.
  expect(profile[24]).toBe(0);
  expect(leansOver(overThePuddle())).toBeNull();
  const dwarf = { ...leap, characters: leap.characters.map((one) => ({ ...one, height: 17.17 })) };
  expect(leansOver(dwarf)!.most.mm / most.mm).toBeCloseTo(0.1, 2);
});
