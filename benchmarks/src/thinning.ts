/**
 * Thinning captured motion against `fit-curve` (Schneider, Graphics Gems, 1990) at the same greatest vertical error: its
 * tolerance is searched for channel by channel, outside the time that is taken.
 */
import fitCurve from 'fit-curve';
import {
  buildCurve,
  curvesIn,
  FLAG,
  sampleInto,
  SEGMENT,
  splitChannel,
  TANGENT,
  thinCurve,
  channelKind,
  readBvh,
} from '@kneader/core';
import type { Curve } from '@kneader/core';
import { median, timeOf } from './measure.ts';
import type { Row } from './measure.ts';
import { CAPTURED_TEXT } from './open-data.ts';

type Bezier = readonly (readonly [number, number])[];

const TOLERANCES = { position: 0.2, rotation: 0.6, scale: 0.005, other: 0.01 };

/** The greatest vertical distance of the pieces from the samples, on whole frames. */
function verticalError(pieces: readonly Bezier[], samples: Float64Array): number {
  const curve = buildCurve(pieces.length + 1, (columns) => {
    columns.segments.fill(SEGMENT.cubic);
    columns.tangentsIn.fill(TANGENT.free);
    columns.tangentsOut.fill(TANGENT.free);
    columns.flags.fill(FLAG.broken | FLAG.weightedIn | FLAG.weightedOut);
    pieces.forEach(([a, b, c, d], i) => {
      columns.times[i] = a![0];
      columns.values[i] = a![1];
      columns.times[i + 1] = d![0];
      columns.values[i + 1] = d![1];
      columns.lengthsOut[i] = b![0] - a![0];
      columns.slopesOut[i] = (b![1] - a![1]) / Math.max(b![0] - a![0], 1e-9);
      columns.lengthsIn[i + 1] = d![0] - c![0];
      columns.slopesIn[i + 1] = (d![1] - c![1]) / Math.max(d![0] - c![0], 1e-9);
    });
  });
  const frames = Float64Array.from(samples, (_, i) => i);
  const values = new Float64Array(samples.length);
  sampleInto(values, 0, 1, curve, frames);
  return values.reduce((greatest, value, i) => Math.max(greatest, Math.abs(value - samples[i]!)), 0);
}

/** The largest of its tolerances with which `fit-curve` stays within `error`. */
function matchingTolerance(points: [number, number][], samples: Float64Array, error: number): number {
  let low = error * error * 1e-3;
  let high = error * error * 64;
  for (let step = 0; step < 7; step += 1) {
    const middle = Math.sqrt(low * high);
    if (verticalError(fitCurve(points, middle), samples) <= error) low = middle;
    else high = middle;
  }
  return low;
}

/** A channel that moves, as points, with the tolerance of `fit-curve` that gives the same greatest error as ours. */
function rivals() {
  const { shot } = readBvh(CAPTURED_TEXT, '01_01');
  return [...curvesIn(shot.curves, shot.nodes)]
    .filter(([, { values }]) => values.some((value) => value !== values[0]))
    .map(([channel, curve]) => {
      const tolerance = TOLERANCES[channelKind(splitChannel(channel).name)];
      const points = Array.from(curve.times, (time, row): [number, number] => [time, curve.values[row]!]);
      const matching = matchingTolerance(points, curve.values, tolerance);
      const fit = () => fitCurve(points, matching);
      return { curve, tolerance, fit, keys: fit().length + 1 };
    });
}

const WAYS = [
  { name: 'one-third handles, joined', joined: true, weighted: false },
  { name: 'free handles, joined', joined: true, weighted: true },
  { name: 'one-third handles, corners allowed', joined: false, weighted: false },
];

export function thinningRows(): Row[] {
  const channels = rivals();
  return WAYS.flatMap(({ name, joined, weighted }) => {
    const total = { keys: 0, theirKeys: 0, ours: 0, theirs: 0 };
    const ratios: number[] = [];
    for (const { curve, tolerance, fit, keys } of channels) {
      const thin = (): Curve =>
        thinCurve(curve, {
          tolerance,
          keepPeaks: false,
          keepFrames: [],
          joined,
          weighted,
          wholeFrames: true,
          takesPart: () => true,
        });
      total.keys += thin().times.length;
      total.theirKeys += keys;
      const [ours, theirs] = [timeOf(thin), timeOf(fit)];
      total.ours += ours;
      total.theirs += theirs;
      ratios.push(theirs / ours);
    }
    const speed = total.theirs / total.ours;
    const share = total.keys / total.theirKeys;
    const work = `thin ${channels.length} moving channels × 2,752 frames (01_01.bvh), ${name}`;
    return [
      {
        work,
        against: '`fit-curve` at the same greatest error: time',
        measured: `${speed.toFixed(1)}× as fast (median channel ${median(ratios).toFixed(1)}×)`,
        toReach: `≥ ${weighted ? 5 : 10}×`,
        reached: speed >= (weighted ? 5 : 10),
      },
      {
        work,
        against: '`fit-curve` at the same greatest error: keys',
        measured: `${Math.round(share * 100)} % (${total.keys.toLocaleString('en-US')})`,
        toReach: '≤ 70 %',
        reached: share <= 0.7,
      },
    ];
  });
}
