/**
 * Thin: the same curves within a tolerance, with as few keys as a fit needs. Dense keys of captured or baked motion
 * become curves that can be edited by hand.
 */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { driftBetween } from '../../advice/drift.ts';
import type { Drift } from '../../advice/drift.ts';
import { channelKind } from '../../rig/node.ts';
import { movedBy } from '../../rig/influence.ts';
import { poseColumns } from '../../document/pose-columns.ts';
import { rigOf, splitChannel } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import type { Measure } from '../edit.ts';
import { lockedKeysFinding } from '../shared/targets.ts';
import { toleranceOption } from '../shared/tolerance-option.ts';

import { fitErrors, thinChannels } from './thin-channels.ts';
import type { FitErrors, Thinned } from './thin-channels.ts';
import { thinInSpace } from './thin-in-space.ts';

const tolerance = (title: string, unit: string, start: number, most: number, step: number) =>
  toleranceOption(
    {
      title,
      unit,
      step,
      description: `Greatest distance from the curve as it was, for ${title.toLowerCase()} channels.`,
    },
    start,
    most,
  );

export const thin = defineEdit({
  id: 'clean.thin',
  title: 'Thin',
  summary: 'Fits the curves with as few keys as hold them within a tolerance.',
  words: 'reduce simplify fewer keys decimate optimise sparse fit noise capture clean',
  group: 'clean',
  needs: 'keys',
  locks: 'strip',
  promise: 'nothingOutside',
  options: z.object({
    measure: z
      .enum(['channels', 'space'])
      .default('channels')
      .meta({
        title: 'Tolerance',
        labels: { channels: 'by kind of channel', space: 'in space' },
        description:
          'By kind of channel, in its own unit; or in space, for every joint that the controls move.',
      }),
    space: z.number().gt(0).max(1000).default(2).meta({
      title: 'In space',
      unit: 'mm',
      step: 0.5,
      description: 'No joint of the limbs leaves its place by more, between frames too.',
    }),
    position: tolerance('Position', 'cm', 0.2, 100, 0.01),
    rotation: tolerance('Rotation', '°', 0.6, 90, 0.05),
    scale: tolerance('Scale', '×', 0.005, 10, 0.001),
    other: tolerance('Other', '', 0.01, 100, 0.001),
    keepPeaks: z.boolean().default(true).meta({
      title: 'Keep peaks and valleys',
      description: 'A key stays on each that stands out by more than the tolerance.',
    }),
    keepColumns: z.boolean().default(false).meta({
      title: 'Keep pose columns',
      onlyWith: 'columns',
      description: 'Every curve keeps, or gets, a key on each pose column and marked frame.',
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
  *run(shot, selection, options) {
    const range = selection.range ?? shot.range;
    const frames = options.keepColumns ? poseColumns(shot).frames : [];
    const wishes = {
      ...options,
      keepFrames: [...new Set([...options.keepFrames, ...frames])].sort((a, b) => a - b),
    };
    let thinned: Thinned;
    let drift: Drift | null = null;
    if (options.measure === 'space') {
      const fit = yield* thinInSpace(shot, selection, wishes, options.space / 10, range);
      if (fit === null) {
        return outcome(shot, shot, selection, { findings: [finding('nothingThinner', {}, options.space)] });
      }
      ({ thinned, drift } = fit);
    } else {
      thinned = yield* thinChannels(
        shot,
        selection,
        wishes,
        (id) => options[channelKind(splitChannel(id).name)],
      );
    }
    const errors = fitErrors(thinned);
    if (drift === null && options.measureSpace && thinned.shot !== shot) {
      const rig = rigOf(shot);
      const nodes = thinned.touched.map((id) => rig.indexOf(splitChannel(id).node));
      drift = driftBetween(shot, thinned.shot, range, { watched: movedBy(rig, nodes) });
    }
    const findings = lockedKeysFinding(thinned.lockedKeys);
    // In space the channels' own tolerances are means, not ends.
    if (options.measure === 'channels' && errors.coarse.size > 0)
      findings.push(finding('coarseSamples', {}, [...errors.coarse.keys()], [...errors.coarse.values()]));
    return outcome(shot, thinned.shot, selection, {
      touched: thinned.touched,
      measures: measuresOf(thinned, errors, drift),
      findings,
    });
  },
});

function measuresOf(thinned: Thinned, errors: FitErrors, drift: Drift | null): Measure[] {
  const keys = { name: 'keys', before: thinned.keysBefore, value: thinned.keysAfter, unit: '' };
  if (drift === null) return [keys, ...errors.measures];
  // On long ranges a live report looks at every so many frames, and says so.
  const looks = drift.step > 1 ? `, every ${drift.step} frames` : '';
  return [
    keys,
    {
      name: `greatest drift in space${looks}`,
      value: drift.greatest * 10,
      unit: 'mm',
      where: { node: drift.node, frame: drift.frame },
    },
    { name: 'RMS drift in space', value: drift.rms * 10, unit: 'mm' },
    ...errors.measures,
  ];
}
