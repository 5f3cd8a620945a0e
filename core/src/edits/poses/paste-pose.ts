/** Paste a pose: keys a copied pose at a frame, as it is or flipped to the other side. */
import { z } from 'zod';
import { frameOption } from '../shared/frame-option.ts';
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { poseSchema } from '../../evaluation/stored-pose.ts';
import { valuesAt } from '../../evaluation/evaluation.ts';
import { rigOf, splitChannel } from '../../document/shot.ts';
import { isChoice } from '../../document/switches.ts';
import type { ChannelId } from '../../document/shot.ts';
import { repeatsOption } from '../shared/repeats-option.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { flippedPose, planeChoice, planeOptions } from './flipped-pose.ts';
import { wholeOption } from './whole-option.ts';
import { writePose } from './write-pose.ts';

export const pastePose = defineEdit({
  id: 'poses.paste',
  title: 'Paste pose',
  summary: 'Keys a copied pose at a frame, as it is or flipped left to right.',
  words: 'copy apply mirror flip clipboard',
  group: 'poses',
  locks: 'refuse',
  options: z.object({
    pose: poseSchema.meta({
      title: 'Pose',
      description: 'Channel values by address, as copying gives them.',
    }),
    frame: frameOption('Frame', 'Where the keys are written.'),
    flip: z.boolean().default(false).meta({
      title: 'Flip',
      description: 'Left and right exchange their poses, reflected in the rest pose.',
    }),
    exclude: z
      .array(z.string())
      .default([])
      .meta({ title: 'Leave out', description: 'Controls that keep their pose: hands, props.' }),
    ...planeOptions,
    repeats: repeatsOption,
    whole: wholeOption,
  }),
  run(shot, selection, { pose, frame, flip, exclude, plane, about, repeats, whole }) {
    const rig = rigOf(shot);
    const left = new Set(exclude);
    const given = Object.entries(pose.values).filter(([id]) => !left.has(splitChannel(id).node));
    if (given.length === 0)
      return refused(shot, selection, finding('nothingSelected', {}, 'a pose with at least one control'));
    const known = given.filter(([id]) => rig.channelIndex(id) >= 0);
    const now = valuesAt(shot, frame);
    const others = known.filter(([id, value]) => isChoice(shot, id) && now[rig.channelIndex(id)] !== value);
    if (known.length === 0) return refused(shot, selection, finding('unknownChannel', {}, given[0]![0]));
    const findings: Finding[] = [];
    const skipped = exclude.filter((id) => rig.indexOf(id) >= 0);
    if (skipped.length > 0) findings.push(finding('excluded', {}, skipped));
    if (others.length > 0)
      findings.push(
        finding(
          'switchesNotPasted',
          {},
          others.map(([id]) => id),
        ),
      );
    let values: ReadonlyMap<ChannelId, number> = new Map(given.filter(([id]) => !isChoice(shot, id)));
    if (flip) {
      const flipped = flippedPose(shot, new Map(known), frame, left, planeChoice(shot, { plane, about }));
      values = flipped.values;
      if (flipped.alone.length > 0) findings.push(finding('withoutPartner', {}, flipped.alone));
    }
    const written = writePose(shot, selection.layer, values, frame, repeats);
    if (whole && written.missed.length > 0) return refused(shot, selection, ...written.missed);
    findings.push(...written.findings);
    if (written.overwritten > 0) findings.push(finding('keysOverwritten', { frame }, written.overwritten));
    return outcome(shot, written.shot, selection, {
      touched: written.touched,
      findings,
      measures: [{ name: 'channels keyed', value: written.touched.length, unit: '' }],
    });
  },
});
