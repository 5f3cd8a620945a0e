/**
 * Apply an action: its curves become keys at a frame, matched by name, or by the structure of the two skeletons. The range that it covers is replaced on the
 * channels that match; what it lacks, what it overwrites and how far it reaches is said.
 */
import { z } from 'zod';
import { frameOption } from '../frame-option.ts';
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import type { Curve } from '../../curve/curve.ts';
import { partOf } from '../../curve/part.ts';
import { evaluate } from '../../curve/evaluate.ts';
import { actionSchema, readAction } from '../../shot/action.ts';
import { selectedChannels } from '../../shot/selection.ts';
import { curveOf, framesPerSecond, rigOf, splitChannel, withCurves } from '../../shot/shot.ts';
import type { ChannelId } from '../../shot/shot.ts';
import { grownTo, layKeys } from '../lay-keys.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { mappedAction, mappingFindings, mappingOptions } from './mapping-options.ts';

export const applyAction = defineEdit({
  id: 'actions.apply',
  title: 'Apply action',
  summary: 'Lays a saved action into the shot as keys, matched by name or by structure.',
  words: 'clip library reuse load paste insert retarget map transfer character',
  group: 'actions',
  locks: 'refuse',
  options: z.object({
    action: actionSchema.meta({ title: 'Action', description: 'As saving made it.' }),
    frame: frameOption('Frame', 'Where its first frame lands.'),
    carryOn: z.boolean().default(false).meta({
      title: 'Carry on',
      description: 'Roots go on from where they stand instead of jumping to where the action began.',
    }),
    onlySelected: z.boolean().default(false).meta({
      title: 'Only on what is selected',
      description: 'Body parts or controls that are selected; the rest of the action is left out.',
    }),
    ...mappingOptions,
    wholeFrames: z.boolean().default(true).meta({
      title: 'Land on whole frames',
      description: 'Where the rates differ keys are rounded to frames; off, they keep the very second.',
    }),
  }),
  run(shot, selection, { action: json, frame, carryOn, onlySelected, wholeFrames, ...choice }) {
    const action = readAction(json);
    const mapped = mappedAction(shot, action, choice);
    const partner = new Map(mapped.pairs.map((pair) => [pair.source, pair.target]));
    const roots = new Set(action.json.roots.map((id) => partner.get(id) ?? id));
    const rig = rigOf(shot);
    // The same seconds: an action of another rate is stretched to this shot's frames.
    const stretch = framesPerSecond(shot.rate) / framesPerSecond(action.json.rate);
    if (!(stretch < MOST_STRETCH && stretch > 1 / MOST_STRETCH))
      return refused(shot, selection, finding('impossibleRate', {}, stretch));
    const length = action.range.end * stretch;
    const covered: FrameRange = { start: frame, end: frame + (wholeFrames ? Math.round(length) : length) };
    const locks = new Set(shot.locked);
    const findings: Finding[] = [];
    const unmatched = new Set<string>(mapped.missing);
    const missing: string[] = [...mapped.lacking];
    const locked: string[] = [];
    const changed = new Map<ChannelId, Curve>();
    let overwritten = 0;
    let lockedKeys = 0;
    let laid = 0;
    const meant = onlySelected ? new Set(selectedChannels(shot, { ...selection, keys: {} })) : null;
    if (meant?.size === 0)
      return refused(shot, selection, finding('nothingSelected', {}, 'controls or channels'));
    for (const [channel, stored] of mapped.curves) {
      if (meant && !meant.has(channel)) continue;
      const curve = within(stored, action.range);
      const { node, name } = splitChannel(channel);
      if (rig.indexOf(node) < 0) unmatched.add(node);
      else if (rig.channelIndex(channel) < 0) missing.push(channel);
      else if (locks.has(channel)) locked.push(channel);
      else {
        const before = curveOf(shot, selection.pass, channel);
        const shift =
          carryOn && roots.has(node) && /^t[xz]$/.test(name)
            ? evaluate(before, frame) - evaluate(curve, 0)
            : 0;
        const after = layKeys(before, curve, {
          covered,
          mode: 'replace',
          stretch,
          wholeFrames,
          shiftAt: () => shift,
        });
        overwritten += after.overwritten;
        lockedKeys += after.lockedKeys;
        laid += curve.times.length;
        changed.set(channel, after.curve);
      }
    }
    findings.push(...mappingFindings(mapped));
    if (unmatched.size > 0) findings.push(finding('unmatchedNodes', {}, [...unmatched]));
    if (missing.length > 0) findings.push(finding('unmatchedChannels', {}, missing));
    if (locked.length > 0) findings.push(finding('lockedChannels', {}, locked));
    if (changed.size === 0)
      return refused(shot, selection, ...(findings.length > 0 ? findings : [finding('emptyAction', {})]));
    findings.push(finding('coveredRange', {}, round(covered.start), round(covered.end)));
    if (overwritten > 0) findings.push(finding('keysOverwritten', {}, overwritten));
    if (lockedKeys > 0) findings.push(finding('lockedKeys', {}, lockedKeys));
    const { shot: after, finding: grown } = grownTo(withCurves(shot, selection.pass, changed), covered.end);
    return outcome(shot, after, selection, {
      touched: [...changed.keys()],
      findings: grown ? [...findings, grown] : findings,
      measures: [
        { name: 'channels', value: changed.size, unit: '' },
        { name: 'keys laid', value: laid, unit: '' },
        { name: 'keys overwritten', value: overwritten, unit: '' },
      ],
    });
  },
});

/** Rates farther apart than this are a broken file. */
const MOST_STRETCH = 1000;

/** The curve without what lies outside the action's length. */
function within(curve: Curve, { start, end }: FrameRange): Curve {
  const { times } = curve;
  const inside = times.length === 0 || (times[0]! >= start - 1e-6 && times[times.length - 1]! <= end + 1e-6);
  return inside ? curve : partOf(curve, { start, end });
}

const round = (frame: number) => Math.round(frame * 100) / 100;
