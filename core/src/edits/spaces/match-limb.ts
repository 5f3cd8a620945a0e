/** Match a limb: its joints take the pose that its goal gives, or the goal that of the joints, and it can be switched without a pop. */
import { z } from 'zod';
import { refuse } from '../../base/finding.ts';
import type { Standing } from '../../rig/relations/seat.ts';
import { curveOf, rigOf, withCurves } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import { frameIn } from '../timing/scope.ts';
import { keptWithin } from './kept-within.ts';
import { GOALS_BEGIN, goalMovers } from './limb-goals.ts';
import { knownRelation, relationOption, wishesOf, withinOptions } from './relation-option.ts';
import { placedBy } from './remove-relation.ts';
import { switchThrough, withTarget } from './switch-curve.ts';

export const matchLimb = defineEdit({
  id: 'spaces.matchLimb',
  title: 'Match limb',
  summary: 'Over the chosen range a limb goes over to its goal, or to its joints, and does not move.',
  words: 'ik fk switch pop snap goal joints',
  group: 'spaces',
  worksOn: 'relation',
  locks: 'none',
  options: z.object({
    relation: relationOption,
    to: z
      .enum(['goal', 'joints'])
      .default('goal')
      .meta({ title: 'To', description: 'Whose keys make the pose over the range.' }),
    switch: z.boolean().default(true).meta({
      title: 'Switch too',
      description: 'Over the range the limb is led by them; off, only the keys are written.',
    }),
    ...withinOptions(),
  }),
  *run(shot, selection, { relation: id, to, switch: switches, ...given }) {
    const relation = knownRelation(shot, id);
    if (relation.kind !== 'reach') refuse('noLimb', { node: relation.node }, relation.node);
    const { weight } = relation;
    if (switches && weight === null) refuse('noWeight', {}, relation.node);
    const rig = rigOf(shot);
    const chain = rig.chains.find(({ end }) => rig.nodes[end]!.id === relation.node)!;
    // A single frame too: there it takes the pose of the other.
    const chosen = selection.range ?? shot.range;
    const range = {
      start: frameIn(shot, Math.round(chosen.start)),
      end: frameIn(shot, Math.round(chosen.end)),
    };
    const spans =
      weight === null
        ? []
        : withTarget(curveOf(shot, null, weight), shot.range, range, to === 'goal' ? 1 : 0);
    const switched = switches ? withCurves(shot, null, new Map([[weight!, switchThrough(spans)]])) : shot;
    const joints = placedBy(shot, relation);
    const wishes = wishesOf(given);
    const finders =
      to === 'goal'
        ? goalMovers(shot, [chain], range, wishes)
        : new Map<string, (frame: number) => Standing>();
    const nodes = to === 'goal' ? [...finders.keys()] : joints;
    const rewrites = nodes.map((node) => ({
      ...{ node, range, keys: 'needed' as const },
      ...(to === 'goal' ? { follows: relation.node } : {}),
    }));
    const wanted = (node: string, frame: number) => finders.get(node)?.(frame) ?? null;
    const kept = yield* keptWithin(shot, switched, rewrites, wishes, joints, wanted, GOALS_BEGIN);
    return outcome(shot, kept.shot, selection, {
      touched: [...(switches ? [weight!] : []), ...kept.touched],
      findings: kept.findings,
      measures: [{ name: 'keys written', value: kept.keys, unit: '' }, ...kept.measures],
    });
  },
});
