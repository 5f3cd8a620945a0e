import { expect, test } from '@jest/globals';
import { seededRandom } from '../base/random.ts';
import { SEGMENT, TANGENT } from './curve.ts';
import { buildCurve } from './rebuild.ts';
import { straightCurvesOn } from './straight-curves.ts';
import { brokenRule } from './validate.ts';

test('curves of captured motion are what is built key by key, to the bit, and share what no value changes', () => {
  const { next } = seededRandom(4);
  for (const count of [1, 2, 3, 200]) {
    let at = -5 * next();
    const times = Float64Array.from({ length: count }, () => (at += 0.01 + next() * 3));
    const make = straightCurvesOn(times);
    const [first, second] = [0, 1].map(() => {
      const values = Float64Array.from({ length: count }, () => (next() - 0.5) * 400);
      const made = make(values);
      const built = buildCurve(count, (columns) => {
        columns.times.set(times);
        columns.values.set(values);
        columns.segments.fill(SEGMENT.linear);
        columns.tangentsIn.fill(TANGENT.linear);
        columns.tangentsOut.fill(TANGENT.linear);
      });
      expect(made).toEqual(built);
      expect(brokenRule(made)).toBeNull();
      return made;
    });
    expect(first!.lengthsIn).toBe(second!.lengthsIn);
  }
});
