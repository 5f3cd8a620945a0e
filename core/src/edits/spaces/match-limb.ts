/** Match a limb: its joints take the pose that its goal gives, or the goal that of the joints, and it can be switched without a pop. */
import { z } from 'zod';
import type { FrameRange } from '../../base/frame-range.ts';
import { refuse } from '../../base/finding.ts';
import { mat4 } from 'gl-matrix';
import { conjugate, multiply } from '../../math/quaternion.ts';
import type { CompiledChain } from '../../rig/relations/reach.ts';
import type { Seat } from '../../rig/relations/relation.ts';
import { seatFrom } from '../../rig/relations/seat.ts';
import type { Rig } from '../../rig/rig.ts';
import { worldAt } from '../../evaluation/evaluation.ts';
import { curveOf, rigOf, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import { frameIn } from '../timing/scope.ts';
import { keptWithin } from './kept-within.ts';
import type { KeepWishes } from './keep-motion.ts';
import { GOALS_BEGIN, limbGoals } from './limb-goals.ts';
import { knownRelation, relationOption, wishesOf, withinOptions } from './relation-option.ts';
import { placedBy } from './remove-relation.ts';
import { switchThrough, withTarget } from './switch-curve.ts';

export const matchLimb = defineEdit({
  id: 'spaces.matchLimb',
  title: 'Match limb',
  summary: 'Over the chosen range a limb goes over to its goal, or to its joints, and does not move.',
  words: 'ik fk switch pop snap goal joints',
  group: 'spaces',
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
        ? goalMovers(shot, rig, chain, range, wishes)
        : new Map<string, (frame: number) => Seat>();
    const nodes = to === 'goal' ? [...finders.keys()] : joints;
    const rewrites = nodes.map((node) => ({ node, range, keys: 'needed' as const }));
    const wanted = (node: string, frame: number) => finders.get(node)?.(frame) ?? null;
    const kept = yield* keptWithin(shot, switched, rewrites, wishes, joints, wanted, GOALS_BEGIN);
    return outcome(shot, kept.shot, selection, {
      touched: [...(switches ? [weight!] : []), ...kept.touched],
      findings: kept.findings,
      measures: [{ name: 'keys written', value: kept.keys, unit: '' }, ...kept.measures],
    });
  },
});

/** The controls that move goal and pole, and where each must lie; what hangs on others is moved by the nearest one that can be. */
function goalMovers(
  shot: Shot,
  rig: Rig,
  chain: CompiledChain,
  range: FrameRange,
  asked: KeepWishes,
): ReadonlyMap<string, (frame: number) => Seat> {
  const goals = limbGoals(shot, [chain], range, asked);
  const wishes = [
    { row: chain.target, at: (frame: number) => goals.goalAt(0, frame) },
    { row: chain.pole, at: (frame: number) => goals.poleAt(0, frame) },
  ];
  return new Map(
    wishes.flatMap(({ row, at }) => {
      const mover = moverOf(rig, row);
      if (mover < 0) return [];
      const { id } = rig.nodes[mover]!;
      return [[id, (frame: number) => carriedTo(at(frame), frame, shot, row, mover)] as const];
    }),
  );
}

function moverOf(rig: Rig, from: number): number {
  let row = from;
  while (row >= 0 && !rig.nodes[row]!.channels.includes('tx')) row = rig.parents[row]!;
  return row;
}

/** Where a control must lie so that what hangs on it lies there. */
function carriedTo(wish: Seat, frame: number, shot: Shot, row: number, mover: number): Seat {
  if (row === mover) return wish;
  const pose = worldAt(shot, frame);
  const [hanging, moving] = [seatFrom(pose, row), seatFrom(pose, mover)];
  const inverse = mat4.invert(new Float64Array(16), hanging.matrix);
  if (!inverse) return moving;
  const rigid = mat4.multiply(new Float64Array(16), inverse, moving.matrix);
  return {
    matrix: Float64Array.from(mat4.multiply(new Float64Array(16), wish.matrix, rigid)),
    turn: Float64Array.from(multiply(wish.turn, multiply(conjugate(hanging.turn), moving.turn))),
  };
}
