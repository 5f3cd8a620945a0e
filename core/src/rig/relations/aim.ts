/** Aim: one axis of the node points at its target, another as near to a direction as that allows; its own rotation lies on top. */
import { quat, vec3 } from 'gl-matrix';
import { z } from 'zod';
import type { Quaternion, Triple } from '../../math/euler.ts';
import { conjugate, multiply, slerp } from '../../math/quaternion.ts';
import { localPlace, restTurnOn } from './own-place.ts';
import { defineRelation } from './relation.ts';
import { newSeat, placeOn, targetFrame, turnSeat } from './seat.ts';

const AIM_AXES = {
  '+x': [1, 0, 0],
  '+y': [0, 1, 0],
  '+z': [0, 0, 1],
  '-x': [-1, 0, 0],
  '-y': [0, -1, 0],
  '-z': [0, 0, -1],
} as const;
type Axis = keyof typeof AIM_AXES;
const names = Object.keys(AIM_AXES) as [Axis, ...Axis[]];

/** Where the targets' frame is written while a node is placed. */
const frame = newSeat();

export const aim = defineRelation({
  kind: 'aim',
  title: 'Looks at',
  summary: 'One axis of the control points at another; its place stays.',
  words: 'aim look constraint target eyes',
  settings: z.object({
    axis: z
      .enum(names)
      .default('+z')
      .meta({ title: 'Axis', description: 'Of the control; it points at the target.' }),
    up: z
      .enum(names)
      .default('+y')
      .meta({ title: 'Upright', description: 'The axis of the control that stays as upright as it can.' }),
    upNode: z.string().nullable().default(null).meta({
      title: 'Upright toward',
      description: 'A control that the upright axis turns to; none is up in the world.',
    }),
    offset: z.tuple([z.number(), z.number(), z.number(), z.number()]).default([0, 0, 0, 1]).meta({
      title: 'Kept turn',
      description: 'From what the aim says to how the control stood when it was made.',
    }),
  }),
  time: 'none',
  holds: () => ['turn'],
  // Looking is at the target itself.
  standsOn: null,
  keptSettings({ axis, up }, seat, rest, target, place) {
    const toward = unitOf([0, 1, 2].map((k) => target.matrix[12 + k]! - place[k]!) as Triple);
    const turn = toward && aimTurn(AIM_AXES[axis], AIM_AXES[up], toward, [0, 1, 0]);
    const own = multiply(seat.turn, rest.rotation);
    const kept: Quaternion = turn ? multiply(conjugate(turn), own) : [0, 0, 0, 1];
    return { offset: kept };
  },
  reads: ({ upNode }) => (upNode === null ? [] : [upNode]),
  seat(seat, { compiled, values, pose, weight, rig }) {
    if (!targetFrame(frame, compiled, values, pose)) return;
    const { axis, up, upNode, offset } = compiled.settings;
    const local = localPlace(rig, values, compiled.node);
    const at = placeOn(seat, local);
    const toTarget = unitOf([0, 1, 2].map((k) => frame.matrix[12 + k]! - at[k]!) as Triple);
    const row = upNode === null ? -1 : rig.indexOf(upNode);
    const upright: Triple | null =
      row < 0
        ? [0, 1, 0]
        : unitOf([0, 1, 2].map((k) => pose.matrices[row * 16 + 12 + k]! - at[k]!) as Triple);
    const turn = toTarget && aimTurn(AIM_AXES[axis], AIM_AXES[up], toTarget, upright ?? [0, 1, 0]);
    // Right on its target a control points nowhere: it stays as it is.
    if (!turn) return;
    const own = restTurnOn(rig, seat, compiled.node);
    const goal = slerp(own, multiply(turn, offset), weight);
    turnSeat(seat, multiply(goal, conjugate(own)), local);
  },
});

function unitOf(v: Triple): Triple | null {
  const length = Math.hypot(...v);
  return length > 1e-9 ? (v.map((part) => part / length) as Triple) : null;
}

/** The orientation that takes `axis` to `toward` and `up` as near to `upright` as that allows; null where the two axes are one. */
function aimTurn(
  axis: ArrayLike<number>,
  up: ArrayLike<number>,
  toward: ArrayLike<number>,
  upright: ArrayLike<number>,
): Quaternion | null {
  const own = basis(axis, up);
  // Where it points straight up, any direction across is as upright as another.
  const goal = basis(toward, upright) ?? basis(toward, [0, 0, 1]) ?? basis(toward, [1, 0, 0]);
  if (!own || !goal) return null;
  return multiply(turnOf(goal), conjugate(turnOf(own)));
}

/** Three axes: the first as given, the second as near to the given one as may be. */
function basis(first: ArrayLike<number>, second: ArrayLike<number>): [Triple, Triple, Triple] | null {
  const a = [first[0]!, first[1]!, first[2]!] as Triple;
  const across = unitOf(vec3.cross([0, 0, 0], a, second as vec3) as Triple);
  if (!across) return null;
  return [a, vec3.cross([0, 0, 0], across, a) as Triple, across];
}

const turnOf = ([a, b, c]: [Triple, Triple, Triple]): Quaternion =>
  quat.normalize([0, 0, 0, 1], quatOfAxes(a, b, c)) as Quaternion;

/** From three orthogonal axes (Shepperd 1978). gl-matrix's `fromMat3` goes through float32. */
function quatOfAxes(a: Triple, b: Triple, c: Triple): Quaternion {
  const trace = a[0] + b[1] + c[2];
  if (trace > 0) {
    const s = Math.sqrt(trace + 1) * 2;
    return [(b[2] - c[1]) / s, (c[0] - a[2]) / s, (a[1] - b[0]) / s, s / 4];
  }
  if (a[0] > b[1] && a[0] > c[2]) {
    const s = Math.sqrt(1 + a[0] - b[1] - c[2]) * 2;
    return [s / 4, (b[0] + a[1]) / s, (c[0] + a[2]) / s, (b[2] - c[1]) / s];
  }
  if (b[1] > c[2]) {
    const s = Math.sqrt(1 + b[1] - a[0] - c[2]) * 2;
    return [(b[0] + a[1]) / s, s / 4, (c[1] + b[2]) / s, (c[0] - a[2]) / s];
  }
  const s = Math.sqrt(1 + c[2] - a[0] - b[1]) * 2;
  return [(c[0] + a[2]) / s, (c[1] + b[2]) / s, s / 4, (a[1] - b[0]) / s];
}
