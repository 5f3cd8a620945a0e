/** Sampling 1,000 curves of 200 keys at 2,000 frames. */
import BezierEasing from 'bezier-easing';
import { CubicInterpolant } from 'three';
import { buildCurve, FLAG, sampleInto, seededRandom } from '@kneader/core';
import type { Curve } from '@kneader/core';
import { fasterRow, ratioOf } from './measure.ts';
import type { Row } from './measure.ts';

const CURVES = 1000;
const KEYS = 200;
const FRAMES = Float64Array.from({ length: 2000 }, (_, i) => (i * (KEYS - 1) * 10) / 2000);

function curves(weighted: boolean): Curve[] {
  const random = seededRandom(1);
  return Array.from({ length: CURVES }, () =>
    buildCurve(KEYS, (columns) => {
      for (let i = 0; i < KEYS; i += 1) {
        columns.times[i] = i * 10;
        columns.values[i] = random.gaussian() * 20;
        if (!weighted) continue;
        columns.flags[i] = FLAG.weightedIn | FLAG.weightedOut;
        columns.lengthsIn[i] = 1 + random.next() * 8;
        columns.lengthsOut[i] = 1 + random.next() * 8;
      }
    }),
  );
}

export function samplingRows(): Row[] {
  const out = new Float64Array(FRAMES.length);
  const plain = curves(false);
  const interpolants = plain.map(
    ({ times, values }) => new CubicInterpolant(times, values, 1, new Float64Array(1)),
  );
  const ours = (list: readonly Curve[]) => () =>
    list.forEach((curve) => sampleInto(out, 0, 1, curve, FRAMES));
  const theirs = () => {
    for (const interpolant of interpolants)
      for (let i = 0; i < FRAMES.length; i += 1) out[i] = interpolant.evaluate(FRAMES[i]!)[0]!;
  };
  const weighted = curves(true);
  // One easing for each segment, made beforehand: only evaluating is timed.
  const easings = weighted.map(({ lengthsIn, lengthsOut, slopesIn, slopesOut, times, values }) =>
    Array.from({ length: KEYS - 1 }, (_, i) => {
      const gap = times[i + 1]! - times[i]!;
      const rise = values[i + 1]! - values[i]! || 1;
      return BezierEasing(
        lengthsOut[i]! / gap,
        (lengthsOut[i]! * slopesOut[i]!) / rise,
        1 - lengthsIn[i + 1]! / gap,
        1 - (lengthsIn[i + 1]! * slopesIn[i + 1]!) / rise,
      );
    }),
  );
  const easing = () =>
    weighted.forEach(({ times, values }, c) => {
      for (let i = 0, row = 0; i < FRAMES.length; i += 1) {
        while (row < KEYS - 2 && FRAMES[i]! >= times[row + 1]!) row += 1;
        const u = (FRAMES[i]! - times[row]!) / (times[row + 1]! - times[row]!);
        out[i] = values[row]! + (values[row + 1]! - values[row]!) * easings[c]![row]!(u);
      }
    });
  const work = 'sample 1,000 curves × 200 keys at 2,000 frames';
  return [
    fasterRow(`${work}, one-third handles`, "three's CubicInterpolant", ratioOf(ours(plain), theirs), 5),
    fasterRow(
      `${work}, weighted`,
      '`bezier-easing`, one for each segment',
      ratioOf(ours(weighted), easing),
      5,
    ),
  ];
}
