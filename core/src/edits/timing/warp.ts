/** Warp: a curve of time against time. Keys move with it and stay keys, or the result is sampled on every frame. */
import { z } from 'zod';
import { framesOf, MOST_FRAMES } from '../../base/frame-range.ts';
import { finding } from '../../base/finding.ts';
import { timeBent, timeReader } from '../../base/time-map.ts';
import type { TimeReader } from '../../base/time-map.ts';
import { SEGMENT, TANGENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { evaluate } from '../../curve/evaluate.ts';
import { buildCurve } from '../../curve/rebuild.ts';
import { foldsAt, ratesOf, warpOf } from '../../curve/warp.ts';
import type { WarpPoint } from '../../curve/warp.ts';
import { changeLayers } from '../../document/change-layers.ts';
import type { LayerChanges } from '../../document/change-layers.ts';
import { retimeShot } from '../../document/retime.ts';
import type { Selection } from '../../document/selection.ts';
import { curveOf, layerOf, withLayerTimes } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import type { Outcome } from '../edit.ts';
import { repeatsOption } from '../shared/repeats-option.ts';
import { channelsIn, leftAlone, retimedFindings, scopeOption, wholeFramesOption } from './scope.ts';

const frame = z.number().min(-MOST_FRAMES).max(MOST_FRAMES);

export const warp = defineEdit({
  id: 'timing.warp',
  title: 'Warp',
  summary: 'Bends time: old frames come to lie where a curve says.',
  words: 'retime ramp speed slow motion bend curve time',
  group: 'timing',
  locks: 'none',
  options: z.object({
    points: z
      .array(z.tuple([frame, frame]))
      .min(2)
      .max(500)
      .optional()
      .meta({
        title: 'Points',
        description: 'Pairs of old and new frames, rising; left out, nothing is bent.',
      }),
    mode: z
      .enum(['keys', 'resample'])
      .default('keys')
      .meta({
        title: 'Keys',
        labels: { keys: 'move with it', resample: 'on every frame' },
        description: 'move with it: keys stay keys, on whole frames; on every frame: exact between keys too.',
      }),
    backward: z.boolean().default(false).meta({
      title: 'Time may run backward',
      description: 'For keys on every frame: the curve may fold back.',
    }),
    wholeFrames: wholeFramesOption,
    scope: scopeOption,
    repeats: repeatsOption,
  }),
  run(shot, selection, { points, mode, backward, wholeFrames, scope, repeats }) {
    if (!points) return outcome(shot, shot, selection);
    const sorted: WarpPoint[] = [...points].sort((a, b) => a[0] - b[0]);
    const doubled = sorted.find(([from], i) => i > 0 && from === sorted[i - 1]![0]);
    if (doubled) return refused(shot, selection, finding('warpDoubled', { frame: doubled[0] }, doubled[0]));
    const fold = foldsAt(sorted);
    if (sorted.every(([from, to]) => from === to)) return outcome(shot, shot, selection);
    const channels = channelsIn(shot, selection, scope);
    if (fold !== null) {
      if (!backward || mode !== 'resample')
        return refused(shot, selection, finding('warpFolds', { frame: fold }, fold));
      return playedBackward(shot, selection, sorted, channels);
    }
    const map = timeBent(sorted, ratesOf(sorted));
    const { start, end } = shot.range;
    const changes = retimeShot(shot, map, { channels, repeats, wholeFrames });
    const newEnd = Math.round(timeReader(map).at(end, 1));
    let after = changes.shot;
    if (mode === 'resample') {
      const olds = inverse(timeReader(map), framesOf({ start, end: Math.max(newEnd, start) }));
      after = resampled(shot, changes.shot, channels, olds).shot;
    }
    if (after !== shot && newEnd !== after.range.end && (channels === null || newEnd > end))
      after = { ...after, range: { ...after.range, end: Math.max(newEnd, start) } };
    // Sampled anew, no key is what it was: none has met another.
    const findings = retimedFindings(mode === 'keys' ? changes : { ...changes, merged: 0 });
    return outcome(shot, after, selection, {
      touched: changes.touched,
      time: changes.pieces,
      findings,
      measures: [{ name: 'shot ends at', before: end, value: after.range.end, unit: 'frame' }],
    });
  },
});

/** Which old frame shows on each new one, keys on every frame: time runs as the points say, backward too. */
function playedBackward(
  shot: Shot,
  selection: Selection,
  points: readonly WarpPoint[],
  channels: ReadonlySet<ChannelId> | null,
): Outcome {
  // Read by new frames: between them the old frame goes from point to point, and turns at each that is an extreme.
  const byNew = points.map(([from, to]): WarpPoint => [to, from]).sort((a, b) => a[0] - b[0]);
  const doubled = byNew.find(([to], i) => i > 0 && to === byNew[i - 1]![0]);
  if (doubled) return refused(shot, selection, finding('warpDoubled', { frame: doubled[0] }, doubled[0]));
  const { start } = shot.range;
  const end = Math.max(Math.round(byNew[byNew.length - 1]![0]), start);
  const oldOf = warpOf(byNew);
  const frames = framesOf({ start, end });
  const changes = resampled(
    shot,
    shot,
    channels,
    frames.map((frame) => oldOf(frame)),
  );
  const shorter = channels === null && changes.shot !== shot && end !== shot.range.end;
  const after = shorter ? { ...changes.shot, range: { start, end } } : changes.shot;
  return outcome(shot, after, selection, {
    touched: changes.touched,
    findings: leftAlone(changes),
    measures: [{ name: 'shot ends at', before: shot.range.end, value: after.range.end, unit: 'frame' }],
  });
}

/** The old frames that come to lie on new ones, by halving: the map rises. */
function inverse({ at }: TimeReader, frames: Float64Array): Float64Array {
  return frames.map((frame) => {
    let [low, high] = [frame - 1, frame + 1];
    for (let step = 1; at(low, -1) > frame && step < 1e9; step *= 2) low -= step;
    for (let step = 1; at(high, 1) < frame && step < 1e9; step *= 2) high += step;
    for (let halving = 0; halving < 100 && high - low > 1e-12 * (1 + Math.abs(low)); halving += 1) {
      const middle = (low + high) / 2;
      if (at(middle, 1) > frame) high = middle;
      else low = middle;
    }
    return (low + high) / 2;
  });
}

/** `onto` with a key on every frame of its channels, and of weights, with the values that `shot` has at the old frames. */
function resampled(
  shot: Shot,
  onto: Shot,
  channels: ReadonlySet<ChannelId> | null,
  olds: Float64Array,
): LayerChanges {
  const sample = (curve: Curve, moved: Curve): Curve =>
    curve.times.length < 2
      ? moved
      : buildCurve(olds.length, (columns) => {
          olds.forEach((old, i) => {
            columns.times[i] = shot.range.start + i;
            columns.values[i] = evaluate(curve, old);
          });
          const steps = curve.segments.subarray(0, -1).every((kind) => kind === SEGMENT.stepped);
          columns.segments.fill(steps ? SEGMENT.stepped : SEGMENT.linear);
          columns.tangentsIn.fill(TANGENT.linear);
          columns.tangentsOut.fill(TANGENT.linear);
        });
  const changes = changeLayers(onto, channels, -Infinity, (moved, channel, pass) =>
    sample(curveOf(shot, pass, channel), moved),
  );
  if (channels !== null) return changes;
  const passed = withLayerTimes(changes.shot, ({ id, weight, range }) => ({
    weight: sample(layerOf(shot, id)!.weight, weight),
    range,
  }));
  return { ...changes, shot: passed };
}
