/** Set up a relation: what it goes by, and its settings. A target more changes nothing until it is switched to. */
import { z } from 'zod';
import { finding, refuse } from '../../base/finding.ts';
import { relationKindOf } from '../../rig/relations/kinds.ts';
import { seatOf } from '../../rig/pose.ts';
import type { Relation, RelationKind, RelationTarget, Seat } from '../../rig/relations/relation.ts';
import { newSeat, offsetBetween, targetFrame } from '../../rig/relations/seat.ts';
import { valuesAt, worldAt } from '../../evaluation/evaluation.ts';
import { problemOf } from '../../document/describe-problem.ts';
import { rigOf, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import { motionMeasures, sameMotion, worstOf } from '../shared/same-motion.ts';
import { frameOption } from '../shared/frame-option.ts';
import { keptOffset, SWITCH, targetSeat } from './add-relation.ts';
import { freshChannel, withChannels } from './node-changes.ts';
import { knownRelation, relationOption, targetNode, withRelation } from './relation-option.ts';
import { switchThrough } from './switch-curve.ts';

export const setRelation = defineEdit({
  id: 'spaces.set',
  title: 'Set up relation',
  summary: 'Adds targets to a relation, or changes its settings.',
  words: 'constraint target space axes aim up stretch',
  group: 'spaces',
  worksOn: 'relation',
  locks: 'none',
  options: z.object({
    relation: relationOption,
    add: z.array(z.string()).default([]).meta({
      title: 'Targets more',
      description: 'Controls, or “world”, to which it can be switched from now on.',
    }),
    settings: z
      .record(z.string(), z.unknown())
      .nullable()
      .default(null)
      .meta({ title: 'Settings', description: 'As its kind has them; null leaves them.' }),
    frame: frameOption('Measured at', 'The frame on which the offsets of new targets are measured.'),
  }),
  run(shot, selection, { relation: id, add, settings, frame }) {
    const relation = knownRelation(shot, id);
    const kind = relationKindOf(relation) ?? refuse('unknownRelation', {}, id);
    const parsed = kind.settings.safeParse({ ...relation.settings, ...settings });
    if (!parsed.success) refuse('badOption', { path: 'settings' }, 'settings', problemOf(parsed.error).words);
    const kept =
      settings === null || 'offset' in settings ? {} : keptNow(kind, relation, parsed.data, shot, frame);
    const more = withTargets(
      shot,
      relation,
      add.map((name) => targetNode(shot, name)),
      frame,
    );
    const after =
      settings === null
        ? more.shot
        : withRelation(more.shot, id, (was) => ({ ...was, settings: { ...parsed.data, ...kept } }));
    rigOf(after);
    const fresh = more.relation.targets.length - relation.targets.length;
    const same = fresh === 0 && JSON.stringify(parsed.data) === JSON.stringify(relation.settings);
    const moved = same || settings === null ? null : sameMotion(shot, after, [relation.node], [shot.range]);
    const worst = moved && worstOf(moved);
    return outcome(shot, same ? shot : after, selection, {
      touched: more.relation.switch === relation.switch ? [] : [more.relation.switch!],
      measures: [
        { name: 'targets', value: more.relation.targets.length, unit: '' },
        ...(moved ? motionMeasures(moved).slice(0, 2) : []),
      ],
      findings:
        worst && (worst.mm > 0.01 || worst.degrees > 0.01)
          ? [
              finding(
                'settingsMove',
                { node: worst.node, frame: worst.frame },
                worst.mm,
                worst.degrees,
                worst.node,
                worst.frame,
              ),
            ]
          : [],
    });
  },
});

/**
 * The shot with more targets of a relation, each so that switching to it on a frame moves nothing; those that it has already stay.
 * @returns the relation with them, and with a switch where it had one target alone
 */
export function withTargets(
  shot: Shot,
  relation: Relation,
  targets: readonly (string | null)[],
  frame: number,
): { readonly shot: Shot; readonly relation: Relation } {
  const goals = targets.filter((goal) => !relation.targets.some(({ node }) => node === goal));
  if (goals.length === 0) return { shot, relation };
  const kind = relationKindOf(relation) ?? refuse('unknownRelation', {}, relation.id);
  if (!kind.switches) refuse('oneTarget', {}, kind.title.toLowerCase());
  const rig = rigOf(shot);
  const row = rig.indexOf(relation.node);
  const pose = worldAt(shot, frame);
  // What the targets give together now, whatever part of it holds: a new one gives the same, so that switching to it moves nothing on this frame.
  const compiled = rig.relations[row]?.find(({ relation: one }) => one.id === relation.id);
  const together = newSeat();
  const seat = seatOf(rig, pose, row);
  const offsetTo =
    compiled && targetFrame(together, compiled, valuesAt(shot, frame), pose)
      ? (target: Seat) => offsetBetween(target, together)
      : (target: Seat) => keptOffset(kind, seat, target, rig.nodes[row]!);
  const fresh = goals.map((goal): RelationTarget => {
    const offset = offsetTo(targetSeat(rig, pose, goal)) ?? refuse('flatSpace', { frame }, relation.node);
    return { node: goal, offset, share: null };
  });
  const needsSwitch = relation.switch === null && relation.targets.every(({ share }) => share === null);
  const by = needsSwitch ? freshChannel(rig.nodes[row]!, SWITCH) : null;
  const made = {
    ...relation,
    targets: [...relation.targets, ...fresh],
    switch: by === null ? relation.switch : `${relation.node}.${by}`,
  };
  const after = withRelation(
    by === null ? shot : withChannels(shot, relation.node, [by]),
    relation.id,
    () => made,
  );
  if (by === null) return { shot: after, relation: made };
  const still = switchThrough([{ ...shot.range, target: 0 }]);
  return { shot: withCurves(after, null, new Map([[made.switch!, still]])), relation: made };
}

/** What was made so that the node stays turned as it was is made so with other settings too. */
function keptNow(
  kind: RelationKind,
  relation: Relation,
  settings: object,
  shot: Shot,
  frame: number,
): object {
  const [first] = relation.targets;
  if (!kind.keptSettings || !first) return {};
  const rig = rigOf(shot);
  const row = rig.indexOf(relation.node);
  const pose = worldAt(shot, frame);
  const place = pose.matrices.subarray(row * 16 + 12, row * 16 + 15);
  const target = targetSeat(rig, pose, first.node);
  const kept = kind.keptSettings(
    settings as never,
    seatOf(rig, pose, row),
    rig.nodes[row]!.rest,
    target,
    place,
  );
  const bare = kind.settings.parse({}) as Readonly<Record<string, unknown>>;
  const wasKept = Object.keys(kept).some(
    (name) => JSON.stringify(relation.settings[name] ?? bare[name]) !== JSON.stringify(bare[name]),
  );
  return wasKept ? kept : {};
}
