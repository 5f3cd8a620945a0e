/** Set up a relation: what it goes by, and its settings. A target more changes nothing until it is switched to. */
import { z } from 'zod';
import { refuse } from '../../base/finding.ts';
import { relationKindOf } from '../../rig/relations/kinds.ts';
import { seatOf } from '../../rig/pose.ts';
import type { RelationTarget } from '../../rig/relations/relation.ts';
import { offsetBetween, seatFrom } from '../../rig/relations/seat.ts';
import { worldAt } from '../../evaluation/evaluation.ts';
import { problemOf } from '../../document/describe-problem.ts';
import { rigOf, withCurves } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import { frameOption } from '../shared/frame-option.ts';
import { SWITCH } from './add-relation.ts';
import { freshChannel, withChannels } from './node-changes.ts';
import { knownRelation, relationOption, targetNode, withRelation } from './relation-option.ts';
import { switchThrough } from './switch-curve.ts';

export const setRelation = defineEdit({
  id: 'spaces.set',
  title: 'Set up relation',
  summary: 'Adds targets to a relation, or changes its settings.',
  words: 'constraint target space axes aim up stretch',
  group: 'spaces',
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
    const goals = add
      .map((name) => targetNode(shot, name))
      .filter((goal) => !relation.targets.some(({ node }) => node === goal));
    if (goals.length > 0 && !kind.switches) refuse('oneTarget', {}, kind.title.toLowerCase());
    const rig = rigOf(shot);
    const row = rig.indexOf(relation.node);
    const pose = worldAt(shot, frame);
    const seat = seatOf(rig, pose, row);
    const fresh = goals.map((goal): RelationTarget => {
      const target = seatFrom(pose, goal === null ? -1 : rig.indexOf(goal));
      const offset = offsetBetween(target, seat) ?? refuse('flatSpace', { frame }, relation.node);
      return { node: goal, offset, share: null };
    });
    const needsSwitch =
      fresh.length > 0 && relation.switch === null && relation.targets.every(({ share }) => share === null);
    const by = needsSwitch ? freshChannel(rig.nodes[row]!, SWITCH) : null;
    const switched = by === null ? relation.switch : `${relation.node}.${by}`;
    const channel = by === null ? shot : withChannels(shot, relation.node, [by]);
    let after = withRelation(channel, id, (was) => ({
      ...was,
      targets: [...was.targets, ...fresh],
      switch: switched,
      settings: settings === null ? was.settings : parsed.data,
    }));
    rigOf(after);
    if (by !== null)
      after = withCurves(after, null, new Map([[switched!, switchThrough([{ ...shot.range, target: 0 }])]]));
    const same = fresh.length === 0 && JSON.stringify(parsed.data) === JSON.stringify(relation.settings);
    return outcome(shot, same ? shot : after, selection, {
      touched: by === null ? [] : [switched!],
      measures: [{ name: 'targets', value: relation.targets.length + fresh.length, unit: '' }],
    });
  },
});
