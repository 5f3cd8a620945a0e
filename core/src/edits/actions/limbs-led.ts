/**
 * Limbs that hang on goals where an action turns their joints: the joints alone would say nothing there. The goals get the keys that make the pose, or the limbs are
 * led by their joints over the range, by choice.
 */
import { z } from 'zod';
import { finding, InputError } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { framesOf } from '../../base/frame-range.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import type { Work } from '../../base/work.ts';
import { CurveReader } from '../../curve/evaluate.ts';
import type { CompiledChain } from '../../rig/relations/reach.ts';
import type { Relation } from '../../rig/relations/relation.ts';
import { curveOf, rigOf, splitChannel, withCurves } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import type { Measure } from '../edit.ts';
import { denselyKeyed } from '../shared/densely-keyed.ts';
import { isHeldByLocks } from '../spaces/keep-motion.ts';
import { keptWithin } from '../spaces/kept-within.ts';
import { GOALS_BEGIN, goalMovers, moverOf } from '../spaces/limb-goals.ts';
import { placedBy } from '../spaces/remove-relation.ts';
import { switchThrough, withTarget } from '../spaces/switch-curve.ts';

export const limbsOption = z
  .enum(['goals', 'joints', 'leave'])
  .default('goals')
  .meta({
    title: 'Limbs on goals',
    labels: { goals: 'key the goals', joints: 'switch to joints', leave: 'leave them' },
    description: 'Where the action turns joints of a limb that its goal leads.',
  });
export type LimbsChoice = z.infer<typeof limbsOption>;

export interface LimbsLed {
  readonly shot: Shot;
  readonly touched: readonly ChannelId[];
  readonly findings: readonly Finding[];
  readonly measures: readonly Measure[];
}

/** How near goals keep the joints where the action is keyed sparsely. */
const WISHES = { distance: 0.1, angle: 0.2 };

/** A limb whose joints the action turns and which its goal leads at some frame of the range. */
interface Led {
  readonly relation: Relation;
  readonly chain: CompiledChain;
}

/** @param laid channels that the action has laid into the base */
export function* limbsLed(
  shot: Shot,
  laid: readonly ChannelId[],
  range: FrameRange,
  choice: LimbsChoice,
): Work<LimbsLed, Shot> {
  const all = ledLimbs(shot, laid, range);
  const target = choice === 'joints' ? 0 : 1;
  const shut = all.filter((one) => isShut(shot, one, range, target));
  const led = all.filter((one) => !shut.includes(one));
  const names = led.map(({ relation }) => relation.node);
  const as = (more: Partial<LimbsLed>): LimbsLed => ({
    shot,
    touched: [],
    findings: [],
    measures: [],
    ...more,
  });
  const locked = shut.map(({ relation }) => relation.node);
  const left = locked.length > 0 ? [finding('limbsStay', {}, locked)] : [];
  if (led.length === 0) return as({ findings: left });
  const fixed = led.filter(({ relation }) => relation.weight === null).map(({ relation }) => relation.node);
  if (choice === 'leave' || (choice === 'joints' && fixed.length > 0))
    return as({
      findings: [finding('limbsStay', {}, [...locked, ...(choice === 'leave' ? names : fixed)])],
    });
  // A switch that stands there already is not touched.
  const weights = led.flatMap(({ relation: { weight } }) =>
    weight === null || standsAt(shot, weight, range, target) ? [] : [weight],
  );
  const whole = { start: Math.ceil(range.start), end: Math.floor(range.end) };
  const switched = withCurves(
    shot,
    null,
    new Map(
      weights.map((id) => [
        id,
        switchThrough(withTarget(curveOf(shot, null, id), shot.range, whole, target)),
      ]),
    ),
  );
  if (choice === 'joints')
    return as({ shot: switched, touched: weights, findings: [...left, finding('limbsSwitched', {}, names)] });
  const free = {
    ...shot,
    relations: shot.relations.filter((one) => !led.some(({ relation }) => relation === one)),
  };
  const finders = goalMovers(
    free,
    led.map(({ chain }) => chain),
    whole,
    WISHES,
  );
  const joints = led.flatMap(({ relation }) => placedBy(shot, relation));
  const own = laid.filter((id) => joints.includes(splitChannel(id).node));
  const keys = denselyKeyed(shot, own, whole) ? ('frames' as const) : ('needed' as const);
  try {
    const kept = yield* keptWithin(
      free,
      switched,
      [...finders.keys()].map((node) => ({ node, range: whole, keys })),
      WISHES,
      joints,
      (node, frame) => finders.get(node)?.(frame) ?? null,
      GOALS_BEGIN,
    );
    return {
      shot: kept.shot,
      touched: [...weights, ...kept.touched],
      findings: [...left, finding('goalsKeyed', {}, names), ...kept.findings],
      measures: kept.measures,
    };
  } catch (error) {
    // What lies over the goals hides them, say: the joints are laid, and why they do not show is said.
    if (!(error instanceof InputError)) throw error;
    return as({ findings: [finding('limbsStay', {}, [...locked, ...names]), error.finding] });
  }
}

function standsAt(shot: Shot, weight: ChannelId, range: FrameRange, target: number): boolean {
  const curve = new CurveReader(curveOf(shot, null, weight));
  return framesOf(range).every((frame) => curve.at(frame) === target);
}

/** Whether a weight is a switch that may be written: one that blends would show otherwise outside the range too. */
const canSwitch = (shot: Shot, weight: ChannelId): boolean =>
  !shot.locked.includes(weight) &&
  curveOf(shot, null, weight).values.every((value) => value === 0 || value === 1);

/** Said of what is laid over the base, where goals are not keyed. */
export function stayingLimbs(shot: Shot, laid: readonly ChannelId[], range: FrameRange): Finding[] {
  const names = ledLimbs(shot, laid, range).map(({ relation }) => relation.node);
  return names.length > 0 ? [finding('limbsStay', {}, names)] : [];
}

/** Whether the goal, the pole or the switch of a limb cannot be written. */
function isShut(shot: Shot, { relation, chain }: Led, range: FrameRange, target: number): boolean {
  const rig = rigOf(shot);
  const movers = [chain.target, chain.pole].map((row) => moverOf(rig, row)).filter((row) => row >= 0);
  const { weight } = relation;
  return (
    Math.ceil(range.start) > Math.floor(range.end) ||
    (weight !== null && !standsAt(shot, weight, range, target) && !canSwitch(shot, weight)) ||
    movers.some((row) => isHeldByLocks(shot, rig.nodes[row]!.id, range))
  );
}

function ledLimbs(shot: Shot, laid: readonly ChannelId[], range: FrameRange): Led[] {
  const rig = rigOf(shot);
  const turned = new Set(
    laid.map(splitChannel).flatMap(({ node, name }) => (/^r[xyz]$/.test(name) ? [node] : [])),
  );
  const moved = new Set(laid.map((id) => splitChannel(id).node));
  return shot.relations.flatMap((relation): Led[] => {
    const chain = rig.chains.find(({ end }) => rig.nodes[end]!.id === relation.node);
    if (relation.kind !== 'reach' || !chain) return [];
    const isTurned = [chain.root, chain.middle].some((row) => turned.has(rig.nodes[row]!.id));
    // Whoever says where the goal goes means that.
    const mover = moverOf(rig, chain.target);
    const ownGoal = mover >= 0 && moved.has(rig.nodes[mover]!.id);
    if (!isTurned || ownGoal) return [];
    const weight = relation.weight === null ? null : new CurveReader(curveOf(shot, null, relation.weight));
    return weight === null || framesOf(range).some((frame) => weight.at(frame) > 0)
      ? [{ relation, chain }]
      : [];
  });
}
