/**
 * Unwrap: takes steps out of angles over time. The orientation on every key stays what it was.
 *
 * A step of one channel by more than half a turn goes back by whole turns. Captured joints step otherwise too: near the angle
 * at which the outer two axes coincide, all three change at once though the joint hardly turns. Such a step is found on the
 * orientations of neighbouring samples, and every key after it takes the nearest angles that mean the same.
 */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import type { Curve } from '../../curve/curve.ts';
import { TANGENT } from '../../curve/curve.ts';
import { rebuild } from '../../curve/rebuild.ts';
import { quatFromEuler, wholeTurns } from '../../math/euler.ts';
import type { EulerOrder, Quaternion, Triple } from '../../math/euler.ts';
import { angleBetween } from '../../math/quaternion.ts';
import { channelKind } from '../../rig/node.ts';
import { targetsOf } from '../../document/selection.ts';
import type { Selection, Target } from '../../document/selection.ts';
import { rigOf, splitChannel, withCurves } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { defineEdit, outcome } from '../edit.ts';
import type { Measure } from '../edit.ts';
import { lockedKeysFinding, openRows } from '../shared/targets.ts';

export const unwrap = defineEdit({
  id: 'clean.unwrap',
  title: 'Unwrap angles',
  summary: 'Takes steps out of rotation curves: by whole turns, and where all three angles of a joint flip.',
  words: 'euler gimbal flips continuity wrap 360 turns jumps rotation',
  group: 'clean',
  needs: 'keys',
  locks: 'strip',
  options: z.object({}),
  run(shot, selection) {
    const done = withoutSteps(shot, selection, Infinity);
    const findings = lockedKeysFinding(done.lockedKeys);
    if (done.others.length > 0) findings.push(finding('notRotation', {}, done.others));
    if (done.remaining.length > 0) findings.push(finding('stepRemains', {}, done.remaining));
    return outcome(shot, done.shot, selection, {
      touched: done.touched,
      findings,
      measures: [
        { name: 'steps taken out', value: done.steps.length, unit: '' },
        { name: 'keys turned', value: done.turned, unit: '' },
        ...done.steps.map(({ channel, frame, degrees }): Measure => ({
          name: 'step',
          value: degrees,
          unit: '°',
          where: { channel, frame },
        })),
      ],
    });
  },
});

interface WrapStep {
  readonly channel: ChannelId;
  readonly frame: number;
  /** From the key before to this one, as it was. */
  readonly degrees: number;
}

interface Unwrapped {
  readonly shot: Shot;
  readonly touched: readonly ChannelId[];
  /** By frame. */
  readonly steps: readonly WrapStep[];
  readonly turned: number;
  readonly lockedKeys: number;
  /** Chosen channels that are no rotations. */
  readonly others: readonly ChannelId[];
  /** Channels that step after the last chosen key now. */
  readonly remaining: readonly ChannelId[];
}

/** Samples stand no farther apart than this, in frames; keys that do are poses, whose angles are meant. */
export const SAMPLE_GAP = 2;

/** The shot without steps in the chosen angles. @param widest only steps between keys so many frames apart or fewer */
export function withoutSteps(shot: Shot, selection: Selection, widest: number): Unwrapped {
  const rig = rigOf(shot);
  const changed = new Map<ChannelId, Curve>();
  const others: ChannelId[] = [];
  const remaining: ChannelId[] = [];
  const steps: WrapStep[] = [];
  let [turned, lockedKeys] = [0, 0];
  const joints = new Map<string, Map<string, Target>>();
  for (const target of targetsOf(shot, selection)) {
    const { node, name } = splitChannel(target.channel);
    if (channelKind(name) !== 'rotation') others.push(target.channel);
    else joints.set(node, (joints.get(node) ?? new Map<string, Target>()).set(name, target));
  }
  for (const [node, targets] of joints) {
    const { order } = rig.nodes[rig.indexOf(node)]!;
    const axes = ['rx', 'ry', 'rz'].map((name) => targets.get(name));
    const whole = axes.every((axis) => axis !== undefined && sameFrames(axis, axes[0]!));
    const groups = whole ? [axes as Target[]] : [...targets.values()].map((target) => [target]);
    for (const group of groups) {
      const plan = whole ? unwoundJoint(group, order, widest) : unwoundChannel(group[0]!, widest);
      group.forEach(({ channel, curve }, k) => {
        const { rows, locked } = openRows(group[k]!);
        lockedKeys += locked;
        const values = plan.values[k]!;
        const moved = rows.filter((row) => values[row] !== curve.values[row]);
        if (moved.length === 0) return;
        turned += moved.length;
        steps.push(...plan.steps[k]!.map((row) => stepAt(channel, curve, row)));
        if (stepsAfter(curve, values, rows)) remaining.push(channel);
        changed.set(channel, withValues(curve, values, plan.turnedOver[k]!));
      });
    }
  }
  steps.sort((a, b) => a.frame - b.frame);
  return {
    shot: withCurves(shot, selection.layer, changed),
    touched: [...changed.keys()],
    steps,
    turned,
    lockedKeys,
    others,
    remaining,
  };
}

const stepAt = (channel: ChannelId, { times, values }: Curve, row: number): WrapStep => ({
  channel,
  frame: times[row]!,
  degrees: values[row]! - values[row - 1]!,
});

function sameFrames(a: Target, b: Target): boolean {
  return (
    a.curve.times.length === b.curve.times.length && a.curve.times.every((t, row) => t === b.curve.times[row])
  );
}

/** Whether the key after the last that may turn stands more than half a turn off, though it did not. */
function stepsAfter(curve: Curve, values: Float64Array, rows: readonly number[]): boolean {
  const last = rows[rows.length - 1]!;
  if (last + 1 >= values.length) return false;
  const was = wholeTurns(curve.values[last + 1]! - curve.values[last]!);
  return was === 0 && wholeTurns(values[last + 1]! - values[last]!) !== 0;
}

/** What the angles become, one entry for each channel. */
interface Plan {
  readonly values: readonly Float64Array[];
  /** Rows at which a step was taken out. */
  readonly steps: readonly (readonly number[])[];
  /** 1 for each row whose angle runs the other way now. */
  readonly turnedOver: readonly Uint8Array[];
}

function unwoundChannel(target: Target, widest: number): Plan {
  const { curve } = target;
  const open = new Set(openRows(target).rows);
  const values = curve.values.slice();
  const steps: number[] = [];
  let turns = 0;
  for (let row = 1; row < values.length; row += 1) {
    if (!open.has(row)) continue;
    const near = curve.times[row]! - curve.times[row - 1]! <= widest + 1e-6;
    const more = near ? wholeTurns(curve.values[row]! + turns * 360 - values[row - 1]!) : 0;
    if (more !== 0) steps.push(row);
    turns -= more;
    values[row] = curve.values[row]! + turns * 360;
  }
  return { values: [values], steps: [steps], turnedOver: [new Uint8Array(values.length)] };
}

/** Beyond this a joint turned, and did not flip, degrees. */
const MOST_TURN = 90;
/** By so much, in degrees of all three angles, the other way of writing an orientation must be nearer. */
const WORTH = 90;

/** The three channels of a joint, keyed on the same frames; a key of which one angle is locked stays whole. */
function unwoundJoint(targets: readonly Target[], order: EulerOrder, widest: number): Plan {
  const { times } = targets[0]!.curve;
  const open = targets.map((target) => new Set(openRows(target).rows));
  const raw = targets.map(({ curve }) => curve.values);
  const values = raw.map((column) => column.slice());
  const steps = targets.map((): number[] => []);
  const turnedOver = targets.map(() => new Uint8Array(times.length));
  const turns: Triple = [0, 0, 0];
  let over = false;
  for (let row = 1; row < times.length; row += 1) {
    if (!open.every((rows) => rows.has(row))) {
      over = false;
      continue;
    }
    const gap = times[row]! - times[row - 1]!;
    const near = angles(values, row - 1);
    const was = angles(raw, row);
    const flips = gap <= Math.min(widest, SAMPLE_GAP) + 1e-6 && flipsAt(was, near, over, order);
    if (flips) over = !over;
    const next = over ? otherWay(was, order) : was;
    values.forEach((column, k) => {
      const more = gap <= widest + 1e-6 ? wholeTurns(next[k]! + turns[k]! * 360 - near[k]!) : 0;
      turns[k]! -= more;
      column[row] = next[k]! + turns[k]! * 360;
      if (flips || more !== 0) steps[k]!.push(row);
      if (over && k === 'xyz'.indexOf(order[1]!)) turnedOver[k]![row] = 1;
    });
  }
  return { values, steps, turnedOver };
}

const angles = (columns: readonly Float64Array[], row: number) =>
  columns.map((column) => column[row]!) as Triple;

/** The other three angles of the same orientation: outer axes half a turn on, the middle one mirrored. */
function otherWay(of: Triple, order: EulerOrder): Triple {
  return of.map((angle, axis) => (order[1] === 'xyz'[axis] ? 180 - angle : angle + 180)) as Triple;
}

/** Whether the joint hardly turns from `near` while its angles step, and written the other way they would not. */
function flipsAt(angles: Triple, near: Triple, over: boolean, order: EulerOrder): boolean {
  const [plain, other] = [angles, otherWay(angles, order)].map((of) =>
    near.reduce((sum, from, k) => sum + Math.abs(remainder(of[k]! - from)), 0),
  ) as [number, number];
  const gain = over ? other - plain : plain - other;
  if (gain <= WORTH) return false;
  const [before, after]: Quaternion[] = [
    [0, 0, 0, 1],
    [0, 0, 0, 1],
  ];
  quatFromEuler(before!, 0, ...near, order);
  quatFromEuler(after!, 0, ...angles, order);
  return angleBetween(before!, after!) < MOST_TURN;
}

/** A step without its whole turns. */
const remainder = (step: number) => step - 360 * wholeTurns(step);

/** The curve with other values; where an angle runs the other way its free slopes do too. */
function withValues(curve: Curve, values: Float64Array, turnedOver: Uint8Array): Curve {
  return rebuild(curve, null, (columns) => {
    columns.values.set(values);
    for (let row = 0; row < values.length; row += 1) {
      if (!turnedOver[row]) continue;
      if (columns.tangentsIn[row] === TANGENT.free) columns.slopesIn[row]! *= -1;
      if (columns.tangentsOut[row] === TANGENT.free) columns.slopesOut[row]! *= -1;
    }
  });
}
