/** Blend poses: toward the column before or after, the rest pose, or a stored one; beyond 100 % too. */
import { effectOf } from '../../layers/kinds.ts';
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { isChoice, isSwitch } from '../../document/switches.ts';
import { eulerFromQuat, quatFromEuler } from '../../math/euler.ts';
import type { EulerOrder, Quaternion, Triple } from '../../math/euler.ts';
import { conjugate, multiply, power } from '../../math/quaternion.ts';
import type { Rig } from '../../rig/rig.ts';
import { valuesAt } from '../../evaluation/evaluation.ts';
import { poseColumns } from '../../document/pose-columns.ts';
import { selectedChannels } from '../../document/selection.ts';
import type { Selection } from '../../document/selection.ts';
import { poseSchema } from '../../evaluation/stored-pose.ts';
import type { StoredPose } from '../../evaluation/stored-pose.ts';
import { curveOf, rigOf, withLayer } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import type { Outcome } from '../edit.ts';
import type { RepeatWay } from '../../curve/with-key.ts';
import { repeatsOption } from '../shared/repeats-option.ts';
import { frameOption } from '../shared/frame-option.ts';
import { writePose } from './write-pose.ts';

const TOWARD = ['previous', 'next', 'rest', 'stored'] as const;

export const blendPose = defineEdit({
  id: 'poses.blend',
  title: 'Blend pose',
  summary: 'Moves the pose at a frame toward another: a breakdown that favours one side, or an overshoot.',
  words: 'breakdown inbetween tween favour mix between previous next',
  group: 'poses',
  locks: 'refuse',
  options: z.object({
    frame: frameOption('At frame', 'The pose that changes.'),
    toward: z.enum(TOWARD).default('previous').meta({
      title: 'Toward',
      description: 'previous, next: the pose column before or after; rest; stored: the copied pose.',
    }),
    amount: z.number().min(-2).max(3).default(0.25).meta({
      title: 'Amount',
      unit: '',
      step: 0.05,
      description: '1 is that pose; beyond 1 overshoots, below 0 goes away from it.',
    }),
    pose: poseSchema
      .optional()
      .meta({ title: 'Pose', description: 'For stored: values by channel address.' }),
    repeats: repeatsOption,
  }),
  run(shot, selection, { frame, toward, amount, pose, repeats }) {
    const target = targetOf(shot, frame, toward, pose ?? null);
    if (target === null)
      return toward === 'stored'
        ? refused(shot, selection, finding('nothingSelected', {}, 'a pose to blend toward: copy one'))
        : refused(shot, selection, finding('noNeighbour', { frame }, toward, frame));
    return blended(shot, selection, meantChannels(shot, selection), frame, target, amount, repeats);
  },
});

/**
 * The pose at a frame moved toward another: three angles of a joint as one orientation, by the shorter way; switches stay.
 * @param target what the other pose has, null where it has nothing
 */
export function blended(
  shot: Shot,
  selection: Selection,
  meant: readonly ChannelId[],
  frame: number,
  target: (id: ChannelId) => number | null,
  amount: number,
  repeats: RepeatWay,
): Outcome {
  if (amount === 0) return outcome(shot, shot, selection);
  const rig = rigOf(shot);
  const present = valuesAt(shot, frame);
  const wanted = new Map<ChannelId, number>();
  const switches: string[] = [];
  const whole = blendedTurns(rig, meant, present, target, amount);
  for (const id of meant) {
    const turned = whole.get(id);
    const other = target(id);
    const now = present[rig.channelIndex(id)]!;
    if (turned !== undefined) {
      if (Math.abs(turned - now) > 1e-9) wanted.set(id, turned);
    } else if (other !== null && Math.abs(other - now) > 1e-9) {
      if (isSwitch(shot, id)) switches.push(id);
      else wanted.set(id, now + amount * (other - now));
    }
  }
  const written = writePose(shot, selection.layer, wanted, frame, repeats);
  return outcome(shot, written.shot, selection, {
    touched: written.touched,
    findings: [...written.findings, ...(switches.length > 0 ? [finding('switchesStay', {}, switches)] : [])],
    measures: [{ name: 'channels keyed', value: written.touched.length, unit: '' }],
  });
}

/** The blended angles of every joint of which all three are meant and known: blended as orientations, by the shorter way. */
function blendedTurns(
  rig: Rig,
  meant: readonly ChannelId[],
  present: Float64Array,
  target: (id: ChannelId) => number | null,
  amount: number,
): Map<ChannelId, number> {
  const result = new Map<ChannelId, number>();
  const chosen = new Set(meant);
  for (const node of rig.nodes) {
    const ids = ['rx', 'ry', 'rz'].map((name) => `${node.id}.${name}`);
    const others = ids.map((id) => (chosen.has(id) && rig.channelIndex(id) >= 0 ? target(id) : null));
    if (others.some((other) => other === null)) continue;
    const now = ids.map((id) => present[rig.channelIndex(id)]!) as Triple;
    const [from, to] = [quaternionOf(now, node.order), quaternionOf(others as Triple, node.order)];
    const turn = multiply(from, power(multiply(conjugate(from), to), amount));
    eulerFromQuat(turn, node.order, now).forEach((angle, axis) => result.set(ids[axis]!, angle));
  }
  return result;
}

function quaternionOf(angles: Triple, order: EulerOrder): Quaternion {
  const turn: Quaternion = [0, 0, 0, 1];
  quatFromEuler(turn, 0, ...angles, order);
  return turn;
}

/** The selected channels, or all that are keyed on the layer. */
function meantChannels(shot: Shot, selection: Selection): ChannelId[] {
  const chosen = selectedChannels(shot, selection);
  if (chosen.length > 0) return chosen;
  return rigOf(shot)
    .channels.map(({ id }) => id)
    .filter((id) => curveOf(shot, selection.layer, id).times.length > 0);
}

function targetOf(
  shot: Shot,
  frame: number,
  toward: (typeof TOWARD)[number],
  pose: StoredPose | null,
): ((id: ChannelId) => number | null) | null {
  const rig = rigOf(shot);
  if (toward === 'rest') return (id) => rig.channels[rig.channelIndex(id)]!.rest;
  if (toward === 'stored') return pose && ((id) => pose.values[id] ?? null);
  const { frames } = poseColumns(shot);
  const neighbour =
    toward === 'previous'
      ? frames.filter((at) => at < frame - 1e-6).pop()
      : frames.find((at) => at > frame + 1e-6);
  if (neighbour === undefined) return null;
  const values = valuesAt(shot, neighbour);
  return (id) => values[rig.channelIndex(id)]!;
}

export const restPose = defineEdit({
  id: 'poses.rest',
  title: 'Rest pose',
  summary: 'Puts the selected controls, or all keyed ones, at rest; on an offset pass, at nothing.',
  words: 'zero reset default bind neutral home',
  group: 'poses',
  locks: 'refuse',
  options: z.object({
    frame: frameOption('At frame', 'Where the rest pose is keyed.'),
    repeats: repeatsOption,
  }),
  run(shot, selection, { frame, repeats }) {
    const rig = rigOf(shot);
    const pass = shot.layers.find(({ id }) => id === selection.layer);
    const values = valuesAt(shot, frame);
    const wanted = new Map<ChannelId, number>();
    // Without anything of its own at this frame an offset pass shows what lies below.
    const below = pass && effectOf(pass) === 'adds' ? valuesAt(withoutPass(shot, pass.id), frame) : null;
    const choices: string[] = [];
    for (const id of meantChannels(shot, selection)) {
      const c = rig.channelIndex(id);
      if (isChoice(shot, id)) {
        if (values[c] !== rig.channels[c]!.rest) choices.push(id);
        continue;
      }
      const rest = below ? below[c]! : rig.channels[c]!.rest;
      if (Math.abs(values[c]! - rest) > 1e-9 || curveOf(shot, selection.layer, id).times.length > 0)
        wanted.set(id, rest);
    }
    const written = writePose(shot, selection.layer, wanted, frame, repeats);
    return outcome(shot, written.shot, selection, {
      touched: written.touched,
      findings: [...written.findings, ...(choices.length > 0 ? [finding('choicesLeft', {}, choices)] : [])],
      measures: [{ name: 'channels keyed', value: written.touched.length, unit: '' }],
    });
  },
});

/** The pass stays, and stays solo where it is; it holds nothing. */
const withoutPass = (shot: Shot, id: string): Shot =>
  withLayer(shot, id, (pass) => ({ ...pass, curves: [] }));
