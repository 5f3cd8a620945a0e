/** What is drawn of the finder is what it goes by: between its lines stands what it finds. */
import { expect, test } from '@jest/globals';
import { overThePuddle } from '../../demo/over-the-puddle.ts';
import { contactsOf } from '../../document/contacts.ts';
import { NOTHING } from '../../document/selection.ts';
import { puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';
import { contactCurves } from './find-contacts.ts';

const leap = overThePuddle();

test.each([{}, { slow: 0.6, fast: 0.9, low: 0.09 }])(
  'with %j it stands where both lie below their lines',
  (options) => {
    const { frames, limits, points } = contactCurves(leap, NOTHING, options)!;
    expect(limits).toMatchObject(options);
    const { shot } = runEdit('contacts.find', leap, NOTHING, options);
    let standing = 0;
    for (const { name, lifts, speeds } of points) {
      const own = contactsOf(shot).filter(({ node, point }) => `${node} ${point}` === name);
      for (const { start } of own) {
        const k = frames.indexOf(start);
        expect([lifts[k]! < limits.low, speeds[k]! < limits.slow]).toEqual([true, true]);
        if (k > 0) expect(lifts[k - 1]! < limits.low && speeds[k - 1]! < limits.slow).toBe(false);
        standing += 1;
      }
    }
    expect(standing).toBe(contactsOf(shot).length);
    expect(standing).toBeGreaterThan(3);
  },
);

test('of nobody with feet, or with options that are none, nothing is drawn', () => {
  const nobody = { ...puppet(), characters: [] };
  expect(contactCurves(nobody, NOTHING, {})).toBeNull();
  expect(contactCurves(leap, NOTHING, { slow: 'much' })).toBeNull();
});
