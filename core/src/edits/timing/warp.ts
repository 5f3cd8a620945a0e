/** Warp: a curve of time against time. Keys move with it and stay keys, or the result is sampled on every frame. */
import { z } from 'zod';
import { framesOf } from '../../base/frame-range.ts';
import { finding } from '../../base/finding.ts';
import { SEGMENT, TANGENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { evaluate } from '../../curve/evaluate.ts';
import { buildCurve } from '../../curve/rebuild.ts';
import { retimeCurve } from '../../curve/ripple.ts';
import { foldsAt, warpOf } from '../../curve/warp.ts';
import type { WarpPoint } from '../../curve/warp.ts';
import { retimeShot } from '../../shot/retime.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { MOST_FRAMES } from '../../base/frame-range.ts';
import { channelsIn, leftAlone, scopeOption } from './scope.ts';

const frame = z.number().min(-MOST_FRAMES).max(MOST_FRAMES);

export const warp = defineEdit({
  id: 'timing.warp',
  title: 'Warp',
  summary: 'Bends time: old frames come to lie where a curve says.',
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
    scope: scopeOption,
  }),
  run(shot, selection, { points, mode, backward, scope }) {
    if (!points) return outcome(shot, shot, selection);
    const sorted: WarpPoint[] = [...points].sort((a, b) => a[0] - b[0]);
    const doubled = sorted.find(([from], i) => i > 0 && from === sorted[i - 1]![0]);
    if (doubled) return refused(shot, selection, finding('warpDoubled', { frame: doubled[0] }, doubled[0]));
    const fold = foldsAt(sorted);
    if (fold !== null && !(backward && mode === 'resample'))
      return refused(shot, selection, finding('warpFolds', { frame: fold }, fold));
    if (sorted.every(([from, to]) => from === to)) return outcome(shot, shot, selection);
    const timeOf = warpOf(sorted);
    let merged = 0;
    const { start, end } = shot.range;
    const newEnd = Math.round(timeOf(end));
    const changes = retimeShot(shot, {
      channels: channelsIn(shot, selection, scope),
      from: -Infinity,
      grow: newEnd - end,
      shrink: scope === 'everything',
      frame: (time) => Math.round(timeOf(time)),
      curve: (curve) => {
        if (curve.times.length === 0) return curve;
        if (mode === 'resample') return resampled(curve, sorted, start, Math.max(newEnd, start));
        const moved = retimeCurve(curve, (time) =>
          Number.isInteger(time) ? Math.round(timeOf(time)) : timeOf(time),
        );
        merged += moved.merged;
        return moved.curve;
      },
    });
    const findings = leftAlone(changes);
    if (merged > 0) findings.push(finding('keysMerged', {}, merged));
    return outcome(shot, changes.shot, selection, {
      touched: changes.touched,
      findings,
      measures: [{ name: 'shot ends at', before: end, value: changes.shot.range.end, unit: 'frame' }],
    });
  },
});

/** A key on every new frame, with the value of the old frame that comes to lie there. */
function resampled(curve: Curve, points: readonly WarpPoint[], start: number, end: number): Curve {
  const back = backward(points);
  const frames = framesOf({ start, end });
  return buildCurve(frames.length, (columns) => {
    columns.times.set(frames);
    frames.forEach((at, i) => (columns.values[i] = evaluate(curve, back(at))));
    columns.segments.fill(SEGMENT.linear);
    columns.tangentsIn.fill(TANGENT.linear);
    columns.tangentsOut.fill(TANGENT.linear);
  });
}

/** Which old frame shows on a new one: the first crossing of the way from old to new. */
function backward(points: readonly WarpPoint[]): (frame: number) => number {
  const timeOf = warpOf(points);
  const [low, high] = [points[0]!, points[points.length - 1]!];
  return (frame) => {
    if (frame <= low[1]) return low[0] + (frame - low[1]);
    if (frame >= high[1] && foldsAt(points) === null) return high[0] + (frame - high[1]);
    for (let k = 0; k + 1 < points.length; k += 1) {
      let [a, b] = [points[k]![0], points[k + 1]![0]];
      const [va, vb] = [points[k]![1], points[k + 1]![1]];
      if ((va - frame) * (vb - frame) > 0) continue;
      // Between two points the way is monotone: halving finds the place to the last bit that matters.
      for (let step = 0; step < 60; step += 1) {
        const middle = (a + b) / 2;
        if ((timeOf(middle) - frame) * (vb - va) > 0) b = middle;
        else a = middle;
      }
      return (a + b) / 2;
    }
    return high[0] + (frame - high[1]);
  };
}
