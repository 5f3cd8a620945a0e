/** Add a relation: the selected controls follow others from now on; they do not jump on the frame on which it is made. */
import { z } from 'zod';
import { finding, refuse } from '../../base/finding.ts';
import { FOLLOW } from '../../rig/node.ts';
import { seatOf } from '../../rig/pose.ts';
import { alreadyHolding } from '../../rig/relations/held-twice.ts';
import { RELATION_KINDS, relationKindOf } from '../../rig/relations/kinds.ts';
import { NO_OFFSET } from '../../rig/relations/relation.ts';
import type { Offset, Relation, RelationKind, Seat } from '../../rig/relations/relation.ts';
import type { Node } from '../../rig/node.ts';
import type { WorldPose } from '../../rig/pose.ts';
import type { Rig } from '../../rig/rig.ts';
import { offsetBetween, seatFrom } from '../../rig/relations/seat.ts';
import { worldAt } from '../../evaluation/evaluation.ts';
import { constantCurve, rigOf, withCurves } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import type { Curve } from '../../curve/curve.ts';
import { defineEdit, outcome } from '../edit.ts';
import { frameOption } from '../shared/frame-option.ts';
import { chosenNodes } from '../shared/chosen-nodes.ts';
import { motionMeasures, sameMotion } from '../shared/same-motion.ts';
import { keptWithin } from './kept-within.ts';
import { freshChannel, withChannels } from './node-changes.ts';
import { freshRelationId, targetNode, wishesOf, withinOptions } from './relation-option.ts';
import { switchThrough } from './switch-curve.ts';

const OFFERED = RELATION_KINDS.filter(({ ownEdit }) => !ownEdit).map(({ kind }) => kind);
export const SWITCH = 'space';

export const addRelation = defineEdit({
  id: 'spaces.add',
  title: 'Add relation',
  summary: 'The selected controls follow, stay at, turn with or look at others; their keys lie on top.',
  words: 'constraint parent attach follow aim look point orient space',
  group: 'spaces',
  needs: 'channels',
  locks: 'none',
  options: z.object({
    kind: z
      .enum(OFFERED as [string, ...string[]])
      .default('parent')
      .meta({
        title: 'Kind',
        labels: Object.fromEntries(RELATION_KINDS.map(({ kind, title }) => [kind, title.toLowerCase()])),
        description: 'What it does to the control.',
      }),
    targets: z
      .array(z.string())
      .default([])
      .meta({ title: 'What', description: 'The controls that it goes by; “world” is none of them.' }),
    several: z
      .enum(['switch', 'blend'])
      .default('switch')
      .meta({
        title: 'Of several',
        labels: { switch: 'one at a time', blend: 'parts of each' },
        description: 'One holds at a time and can be switched; or each by a share that can be keyed.',
      }),
    keep: z.boolean().default(true).meta({
      title: 'Keep the offset',
      description: 'On the frame it stays where it is; off, it comes to lie on its target.',
    }),
    motion: z
      .enum(['follow', 'stay'])
      .default('follow')
      .meta({
        title: 'Motion',
        labels: { follow: 'goes with it', stay: 'stays as it is' },
        description: 'Its keys stay and it goes along; or it moves as it did, with new keys.',
      }),
    frame: frameOption('Made at', 'The frame on which the offset is measured.'),
    ...withinOptions({ motion: 'stay' }),
  }),
  *run(shot, selection, { kind, targets, several, keep, motion, frame, ...given }) {
    const nodes = chosenNodes(shot, selection).filter((id) => !targets.includes(id));
    if (targets.length === 0) refuse('noTargets', {});
    if (nodes.length === 0) refuse('onlyTargets', {});
    const goals = targets.map((name) => targetNode(shot, name));
    let after = shot;
    const keyed = new Map<ChannelId, Curve>();
    for (const node of nodes) {
      const made = related(after, node, kind, goals, several, keep, frame);
      after = { ...made.shot, relations: [...made.shot.relations, made.relation] };
      if (made.relation.switch !== null)
        keyed.set(made.relation.switch, switchThrough([{ ...shot.range, target: 0 }]));
      for (const [at, { share }] of made.relation.targets.entries())
        if (share !== null) keyed.set(share, constantCurve(at === 0 ? 1 : 0, shot.range.start));
    }
    // A circle is refused here, naming its nodes.
    rigOf(after);
    after = withCurves(after, null, keyed);
    const rewrites = nodes.map((node) => ({ node, range: shot.range, keys: 'existing' as const }));
    const kept = motion === 'stay' ? yield* keptWithin(shot, after, rewrites, wishesOf(given), nodes) : null;
    return outcome(shot, kept?.shot ?? after, selection, {
      touched: [...keyed.keys(), ...(kept?.touched ?? [])],
      measures: [
        { name: 'controls', value: nodes.length, unit: '' },
        ...(kept?.measures ??
          motionMeasures(sameMotion(shot, after, nodes, [{ start: frame, end: frame }])).slice(0, 2)),
      ],
      findings: [...(keep ? [] : [finding('laidOnTarget', {}, nodes)]), ...(kept?.findings ?? [])],
    });
  },
});

export function related(
  shot: Shot,
  node: string,
  kind: string,
  goals: readonly (string | null)[],
  several: 'switch' | 'blend',
  keep: boolean,
  frame: number,
): { readonly shot: Shot; readonly relation: Relation } {
  const rig = rigOf(shot);
  const row = rig.indexOf(node);
  const found = relationKindOf({ kind })!;
  refuseHeld(shot, node, kind);
  const pose = worldAt(shot, frame);
  const seat = seatOf(rig, pose, row);
  const own = rig.nodes[row]!;
  const follow = freshChannel(own, FOLLOW);
  const switched = found.switches === true && several === 'switch' && goals.length > 1;
  const by = switched ? freshChannel(own, SWITCH) : null;
  const shares =
    !switched && goals.length > 1
      ? goals.map((_, i) =>
          freshChannel(
            { ...own, channels: [...own.channels, ...goals.slice(0, i).map((__, k) => `share${k + 1}`)] },
            `share${i + 1}`,
          ),
        )
      : null;
  const settings = found.settings.parse({});
  const targets = goals.map((goal, i) => ({
    node: goal,
    offset:
      (keep && keptOffset(found, seat, targetSeat(rig, pose, goal), own)) ||
      (keep && found.standsOn !== null ? refuse('flatSpace', {}, node) : NO_OFFSET),
    share: shares ? `${node}.${shares[i]!}` : null,
  }));
  const place = pose.matrices.subarray(row * 16 + 12, row * 16 + 15);
  const kept = keep
    ? found.keptSettings?.(settings, seat, own.rest, targetSeat(rig, pose, goals[0]!), place)
    : {};
  return {
    shot: withChannels(shot, node, [follow, ...(by ? [by] : []), ...(shares ?? [])]),
    relation: {
      id: freshRelationId(shot),
      kind,
      node,
      targets,
      weight: `${node}.${follow}`,
      switch: by ? `${node}.${by}` : null,
      settings: { ...settings, ...kept },
    },
  };
}

export const targetSeat = (rig: Rig, pose: WorldPose, goal: string | null): Seat =>
  seatFrom(pose, goal === null ? -1 : rig.indexOf(goal));

/** From the target to what the node is carried by, so that it stays where it is; null where no offset says that, or the target is flat. */
export function keptOffset(kind: RelationKind, seat: Seat, target: Seat, node: Node): Offset | null {
  if (kind.standsOn === null) return null;
  return offsetBetween(target, kind.standsOn?.(seat, node.rest) ?? seat);
}

/** Two relations that hold the same of one control would undo each other; a joint of a limb is turned by its reach. */
function refuseHeld(shot: Shot, node: string, kind: string): void {
  const added = relationKindOf({ kind })!;
  const parentOf = (id: string) => shot.nodes.find((one) => one.id === id)?.parent ?? null;
  const other = alreadyHolding(shot.relations, node, added.holds(added.settings.parse({})), parentOf);
  if (other !== null) refuse('alreadyHeld', { node }, node, other.title.toLowerCase());
}
