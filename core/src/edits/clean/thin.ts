/**
 * Thin: the same curves within a tolerance, with as few keys as a fit needs. Dense keys of captured or baked motion
 * become curves that can be edited by hand.
 */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import type { Curve } from '../../curve/curve.ts';
import { differenceOf } from '../../curve/difference.ts';
import { BEND_SHARE, thinCurve } from '../../curve/thin.ts';
import { driftBetween } from '../../shot/drift.ts';
import { channelKind } from '../../rig/node.ts';
import type { ChannelKind } from '../../rig/node.ts';
import { splitChannel } from '../../shot/shot.ts';
import type { ChannelId } from '../../shot/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import type { Measure } from '../edit.ts';
import { changeTargets, lockedKeysFinding, needsKeys } from '../targets.ts';
import { targetsOf } from '../../shot/selection.ts';

const tolerance = (title: string, unit: string, start: number, most: number, step: number) =>
  z
    .number()
    .gt(0)
    .max(most)
    .default(start)
    .meta({
      title,
      unit,
      step,
      description: `Greatest distance from the curve as it was, for ${title.toLowerCase()} channels.`,
    });

/** Says where samples were too coarse for the tolerance to hold between them; see `difference.ts`. */
function coarseFinding(beside: ReadonlyMap<ChannelId, string>): Finding[] {
  if (beside.size === 0) return [];
  return [finding('coarseSamples', {}, [...beside.keys()], [...beside.values()])];
}

export const thin = defineEdit({
  id: 'clean.thin',
  title: 'Thin',
  summary: 'Fits the curves with as few keys as hold them within a tolerance.',
  group: 'clean',
  acts: 'on the selection',
  options: z.object({
    position: tolerance('Position', 'cm', 0.2, 100, 0.01),
    rotation: tolerance('Rotation', '°', 0.6, 90, 0.05),
    scale: tolerance('Scale', '×', 0.005, 10, 0.001),
    other: tolerance('Other', '', 0.01, 100, 0.001),
    keepPeaks: z.boolean().default(true).meta({
      title: 'Keep peaks and valleys',
      description: 'A key stays on each that stands out by more than the tolerance.',
    }),
    keepFrames: z
      .array(z.number())
      .default([])
      .meta({ title: 'Keep frames', description: 'Frames that keep, or get, a key on every curve.' }),
    joined: z.boolean().default(true).meta({
      title: 'Joined tangents',
      description: 'Each key gets one direction for both sides; off, corners save keys.',
    }),
    weighted: z.boolean().default(false).meta({
      title: 'Free handle lengths',
      description: 'Handles may have any length: fewer keys still, weighted tangents.',
    }),
    wholeFrames: z
      .boolean()
      .default(true)
      .meta({ title: 'Keys on whole frames', description: 'No key is put between two frames.' }),
    measureSpace: z
      .boolean()
      .default(true)
      .meta({ title: 'Measure drift in space', description: 'Reports how far any joint moves.' }),
  }),
  accepts: needsKeys,
  run(shot, selection, options, progress) {
    const total = targetsOf(shot, selection).length;
    const worst = new Map<ChannelKind, Measure>();
    const perChannel: Measure[] = [];
    const coarse = new Map<ChannelId, string>();
    let done = 0;
    let before = 0;
    let after = 0;
    const change = (curve: Curve, rows: readonly number[], channel: ChannelId) => {
      progress.step(done / total);
      done += 1;
      const kind = channelKind(splitChannel(channel).name);
      const part = new Uint8Array(curve.times.length);
      for (const row of rows) part[row] = 1;
      const result = thinCurve(curve, {
        tolerance: options[kind],
        keepPeaks: options.keepPeaks,
        keepFrames: options.keepFrames,
        joined: options.joined,
        weighted: options.weighted,
        wholeFrames: options.wholeFrames,
        takesPart: (row) => part[row] === 1,
      });
      before += curve.times.length;
      after += result.times.length;
      if (result === curve) return curve;
      // Nothing changes beyond the neighbours of what takes part.
      const last = Math.min(rows[rows.length - 1]! + 1, curve.times.length - 1);
      const range = { start: curve.times[Math.max(rows[0]! - 1, 0)]!, end: curve.times[last]! };
      const unit = { position: 'cm', rotation: '°', scale: '×', other: '' }[kind];
      const everywhere = differenceOf(curve, result, range);
      const { rms } = everywhere;
      let { greatest, frame } = everywhere;
      if (greatest > options[kind]) {
        coarse.set(channel, `${greatest.toPrecision(3)} ${unit}`.trim());
        ({ greatest, frame } = differenceOf(curve, result, range, options[kind] * BEND_SHARE));
      }
      const measure = { name: `greatest ${kind} error`, value: greatest, unit, where: { channel, frame } };
      perChannel.push(
        { ...measure, name: 'greatest error' },
        { name: 'RMS error', value: rms, unit, where: { channel } },
      );
      if (greatest > (worst.get(kind)?.value ?? -1)) worst.set(kind, measure);
      return result;
    };
    const changes = changeTargets(shot, selection, change);
    const measures: Measure[] = [{ name: 'keys', before, value: after, unit: '' }, ...worst.values()];
    if (options.measureSpace && changes.shot !== shot) {
      const drift = driftBetween(shot, changes.shot, selection.range ?? shot.range);
      measures.push(
        {
          name: 'greatest drift in space',
          value: drift.greatest,
          unit: 'cm',
          where: { node: drift.node, frame: drift.frame },
        },
        { name: 'RMS drift in space', value: drift.rms, unit: 'cm' },
      );
    }
    return outcome(shot, changes.shot, selection, {
      touched: changes.touched,
      measures: [...measures, ...perChannel],
      findings: [...lockedKeysFinding(changes.lockedKeys), ...coarseFinding(coarse)],
    });
  },
});
