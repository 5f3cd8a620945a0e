/**
 * Apply an action: its curves become keys at a frame, matched by name, or by the structure of the two skeletons. The range that it covers is replaced on the
 * channels that match; what it lacks, what it overwrites and how far it reaches is said.
 */
import { z } from 'zod';
import { asPart } from '../../base/work.ts';
import { frameOption } from '../shared/frame-option.ts';
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import type { Curve } from '../../curve/curve.ts';
import { effectOf } from '../../layers/kinds.ts';
import { curveOf, layerOf, splitChannel, withCurves } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { grownTo } from '../shared/lay-keys.ts';
import { orStill, replacePart, restOn } from '../shared/lay-part.ts';
import { defineEdit, outcome } from '../edit.ts';
import { actionOnShot, actionOption, layOptions, tidyFrame, nothingTaken } from './action-on-shot.ts';
import type { ActionOnShot } from './action-on-shot.ts';
import { withContactsLaid } from './action-contacts.ts';
import { limbsLed, limbsOption } from './limbs-led.ts';
import { carriedCurves, carryTo, heldAbove, movedRoots } from '../placements/carry-on.ts';

/** Channels that the action does not key and that its turned roots need. */
function neededToo(shot: Shot, { curves, meant }: ActionOnShot, carried: ReadonlyMap<ChannelId, Curve>) {
  const nodes = new Set(meant.map((id) => splitChannel(id).node));
  return [...carried.keys()].filter(
    (id) => !curves.has(id) && nodes.has(splitChannel(id).node) && !shot.locked.includes(id),
  );
}

export const applyAction = defineEdit({
  id: 'actions.apply',
  title: 'Apply action',
  summary: 'Lays a saved action into the shot as keys, matched by name or by structure.',
  words: 'clip library reuse load paste insert retarget map transfer character',
  group: 'actions',
  locks: 'refuse',
  promise: 'nothingOutside',
  options: z.object({
    action: actionOption,
    frame: frameOption('Frame', 'Where its first frame lands.'),
    ...layOptions,
    limbs: limbsOption,
    wholeFrames: z.boolean().default(true).meta({
      title: 'Land on whole frames',
      description: 'Where the rates differ keys are rounded to frames; off, they keep the very second.',
    }),
  }),
  *run(shot, selection, { action, frame, carryOn, onlySelected, wholeFrames, limbs, ...choice }) {
    const taken = yield* asPart(actionOnShot(shot, selection, action, onlySelected, choice), 0, 0.4);
    const { stretch } = taken;
    const findings: Finding[] = [...taken.findings];
    const refusal = nothingTaken(shot, selection, taken);
    if (refusal) return refusal;
    const roots = carryOn ? movedRoots(shot, taken.curves) : [];
    if (carryOn && roots.length === 0) findings.push(finding('nothingTravels', {}, action.name));
    const curves = carriedCurves(shot, roots, taken.curves, carryTo(shot, roots, taken.curves, frame));
    const length = taken.length * stretch;
    const covered: FrameRange = { start: frame, end: frame + (wholeFrames ? Math.round(length) : length) };
    const changed = new Map<ChannelId, Curve>();
    let [overwritten, lockedKeys, laid, together] = [0, 0, 0, 0];
    const baked: ChannelId[] = [];
    const beyond: ChannelId[] = [];
    const pass = selection.layer === null ? null : layerOf(shot, selection.layer);
    const covers = pass !== null && effectOf(pass) === 'covers';
    const held = heldAbove(shot, roots, taken.curves);
    const meant = taken.meant.filter((id) => !held.has(id));
    for (const channel of [...meant, ...neededToo(shot, taken, curves)]) {
      const before = curveOf(shot, selection.layer, channel);
      const curve = curves.get(channel)!;
      // Where a pass covers what lies below, a channel without keys lets it through: a first key covers it everywhere.
      const opens = before.times.length === 0 && covers;
      if (opens) beyond.push(channel);
      const from = opens ? before : orStill(before, shot.range, restOn(selection.layer, channel), covered);
      const after = replacePart(from, curve, covered, shot.range, { stretch, wholeFrames });
      if (after.baked) baked.push(channel);
      overwritten += after.overwritten;
      lockedKeys += after.lockedKeys;
      const frames = new Set(
        [...curve.times].map((time) => (wholeFrames ? Math.round(time * stretch) : time)),
      );
      laid += frames.size;
      together += curve.times.length - frames.size;
      changed.set(channel, after.curve);
    }
    findings.push(finding('coveredRange', {}, tidyFrame(covered.start), tidyFrame(covered.end)));
    if (overwritten > 0) findings.push(finding('keysOverwritten', {}, overwritten));
    if (together > 0) findings.push(finding('keysMerged', {}, together));
    if (lockedKeys > 0) findings.push(finding('lockedKeys', {}, lockedKeys));
    if (baked.length > 0) findings.push(finding('repeatsBaked', {}, baked));
    if (beyond.length > 0) findings.push(finding('coversBeyond', {}, beyond));
    const { shot: grownShot, finding: grown } = grownTo(
      withContactsLaid(withCurves(shot, selection.layer, changed), taken.contacts, covered, (at) =>
        wholeFrames ? Math.round(frame + at * stretch) : frame + at * stretch,
      ),
      covered.end,
    );
    if (taken.contacts.length > 0) findings.push(finding('contactsLaid', {}, taken.contacts.length));
    if (grown) findings.push(grown);
    // A pass over them keeps its place: goals are keyed in the base.
    const led = yield* asPart(
      limbsLed(grownShot, [...changed.keys()], covered, selection.layer === null ? limbs : 'leave'),
      0.4,
      1,
    );
    return outcome(shot, led.shot, selection, {
      touched: [...new Set([...changed.keys(), ...led.touched])],
      findings: [...findings, ...led.findings],
      measures: [
        { name: 'channels', value: changed.size, unit: '' },
        { name: 'keys laid', value: laid, unit: '' },
        { name: 'keys overwritten', value: overwritten, unit: '' },
        ...led.measures,
      ],
    });
  },
});
