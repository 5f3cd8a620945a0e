/** Flip: left and right exchange their poses at a frame. Mirror: one side is copied to the other. */
import { withCarriedFlipped } from './flipped-spaces.ts';
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { valuesAt } from '../../evaluation/evaluation.ts';
import { oddOnes } from '../../mirror/flip-test.ts';
import { selectedChannels } from '../../document/selection.ts';
import type { Selection } from '../../document/selection.ts';
import { curveOf, rigOf, splitChannel } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import type { Outcome } from '../edit.ts';
import { frameOption } from '../shared/frame-option.ts';
import type { PlaneChoice } from '../../mirror/mirror-plane.ts';
import { excludedNodes, exclusionOptions, flippedPose, planeChoice, planeOptions } from './flipped-pose.ts';
import { writePose } from './write-pose.ts';

const atFrame = frameOption('At frame', 'The pose that is flipped.');

export const flipPose = defineEdit({
  id: 'poses.flip',
  title: 'Flip pose',
  summary:
    'Left and right exchange their poses, of the selected controls and their partners, or of the whole body.',
  words: 'mirror left right swap opposite symmetry',
  group: 'poses',
  locks: 'refuse',
  options: z.object({ frame: atFrame, ...exclusionOptions, ...planeOptions }),
  run: (shot, selection, { frame, ...given }) =>
    flipped(shot, selection, frame, excludedNodes(shot, given), planeChoice(shot, given), null),
});

export const mirrorPose = defineEdit({
  id: 'poses.mirror',
  title: 'Mirror pose',
  summary: 'Copies the pose of one side to the other, reflected.',
  words: 'flip left right copy other side symmetry opposite',
  group: 'poses',
  locks: 'refuse',
  options: z.object({
    frame: atFrame,
    from: z.enum(['left', 'right']).default('left').meta({
      title: 'From',
      description: 'The side that gives its pose.',
    }),
    ...exclusionOptions,
    ...planeOptions,
  }),
  run: (shot, selection, { frame, from, ...given }) =>
    flipped(shot, selection, frame, excludedNodes(shot, given), planeChoice(shot, given), from),
});

function flipped(
  shot: Shot,
  selection: Selection,
  frame: number,
  left: ReadonlySet<string>,
  choice: PlaneChoice,
  side: 'left' | 'right' | null,
): Outcome {
  const rig = rigOf(shot);
  const nodes = nodesWithPartners(shot, selection);
  const values = valuesAt(shot, frame);
  const given = new Map<ChannelId, number>();
  rig.channels.forEach(({ id, node }, c) => {
    if (nodes.has(rig.nodes[node]!.id) && !left.has(rig.nodes[node]!.id)) given.set(id, values[c]!);
  });
  const pose = flippedPose(shot, given, frame, left, choice, side);
  if (pose.values.size === 0) return refused(shot, selection, finding('noPairs', {}));
  // A channel that has no keys and does not change gets none.
  const wanted = new Map(
    [...pose.values].filter(
      ([id, value]) =>
        Math.abs(value - values[rig.channelIndex(id)]!) > 1e-9 ||
        curveOf(shot, selection.layer, id).times.length > 0,
    ),
  );
  const written = writePose(shot, selection.layer, wanted, frame);
  const taking = new Set([...nodes].filter((node) => !left.has(node)));
  const touched = new Set(written.touched);
  const { shot: after, carried } = withCarriedFlipped(
    shot,
    written.shot,
    taking,
    frame,
    choice,
    side,
    (now, own) => {
      const changed = new Map(
        [...own].filter(
          ([id, value]) => Math.abs(value - valuesAt(now, frame)[rig.channelIndex(id)]!) > 1e-9,
        ),
      );
      const placed = writePose(now, selection.layer, changed, frame);
      for (const id of placed.touched) touched.add(id);
      return placed.shot;
    },
  );
  const findings: Finding[] = [...written.findings];
  if (carried.length > 0) findings.push(finding('carriedAsBefore', { frame }, carried));
  const skipped = [...left].filter((node) => nodes.has(node));
  if (skipped.length > 0) findings.push(finding('excluded', {}, skipped));
  if (pose.alone.length > 0) findings.push(finding('withoutPartner', {}, pose.alone));
  const odd = oddOnes(shot, nodes).filter((node) => !left.has(node));
  if (odd.length > 0) findings.push(finding('notAMirror', {}, odd));
  if (written.overwritten > 0) findings.push(finding('keysOverwritten', { frame }, written.overwritten));
  return outcome(shot, after, selection, {
    touched: [...touched],
    findings,
    measures: [
      { name: 'controls', value: new Set([...touched].map((id) => splitChannel(id).node)).size, unit: '' },
      { name: 'channels keyed', value: touched.size, unit: '' },
    ],
  });
}

/** The controls of the selection and their partners; all that have channels when nothing is selected. */
export function nodesWithPartners(shot: Shot, selection: Selection): ReadonlySet<string> {
  const chosen = new Set(selectedChannels(shot, selection).map((id) => splitChannel(id).node));
  if (chosen.size === 0)
    return new Set(shot.nodes.filter(({ channels }) => channels.length > 0).map(({ id }) => id));
  for (const { id, pair } of shot.nodes) if (chosen.has(id) && pair !== null) chosen.add(pair);
  return chosen;
}
