/**
 * How passes change channel values, and how to find the value on a pass that shows a wanted pose.
 *
 * An offset pass adds weight × its value to each channel; where its rotations compose as orientations it
 * turns below · slerp(1, offset, weight) instead. A replace pass takes weight of its own value and the rest
 * of what lies below. Both can be turned round step by step, which is how posing on a pass works.
 */
import type { Curve } from '../curve/curve.ts';
import { eulerFromQuat, quatFromEuler } from '../math/euler.ts';
import type { Quaternion } from '../math/euler.ts';
import { angleBetween, conjugate, multiply, power } from '../math/quaternion.ts';
import { NO_TURN } from '../rig/node.ts';
import type { Rig } from '../rig/rig.ts';
import type { NodeCurves, Pass, Shot } from './shot.ts';

/** Gives a curve's value at the frame that is meant; `absent` where there is no curve. */
export type Reader = (curve: Curve | undefined, absent: number) => number;

/** The passes that count, from bottom to top: not muted, and only the solo ones where there are any. */
export function soundingPasses(shot: Shot): readonly Pass[] {
  const solo = shot.passes.some((pass) => pass.solo);
  return shot.passes.filter((pass) => !pass.muted && (!solo || pass.solo));
}

/** Changes `values` by one pass. */
export function applyPass(rig: Rig, pass: Pass, read: Reader, values: Float64Array): void {
  const weight = read(pass.weight, 1);
  if (weight === 0) return;
  for (let i = 0; i < rig.nodes.length; i += 1) {
    const entries = pass.curves[i];
    if (entries) applyToNode(rig, pass, weight, i, entries, read, values);
  }
}

function applyToNode(
  rig: Rig,
  pass: Pass,
  weight: number,
  i: number,
  entries: NodeCurves,
  read: Reader,
  values: Float64Array,
): void {
  const composed = composedSlots(rig, pass, i);
  for (let c = rig.firstChannel[i]!; c < rig.firstChannel[i + 1]!; c += 1) {
    const curve = entries[rig.channels[c]!.name];
    if (!curve || composed?.includes(c)) continue;
    const own = read(curve, 0);
    values[c] = pass.kind === 'offset' ? values[c]! + weight * own : values[c]! + weight * (own - values[c]!);
  }
  if (!composed) return;
  const order = rig.nodes[i]!.order;
  const below = turnOf(composed, values, order);
  const own = quaternion(
    composed.map((c) => read(entries[rig.channels[c]!.name], 0)),
    order,
  );
  writeTurn(composed, multiply(below, power(own, weight)), order, values);
}

/** The channel indices of rx, ry, rz where the pass composes orientations on a node that has all three. */
function composedSlots(rig: Rig, pass: Pass, i: number): [number, number, number] | null {
  if (pass.kind !== 'offset' || pass.rotations !== 'orientations') return null;
  const slots = [3, 4, 5].map((slot) => rig.slots[i * 9 + slot]!) as [number, number, number];
  return slots.every((slot) => slot >= 0) ? slots : null;
}

type Order = Rig['nodes'][number]['order'];

function quaternion(angles: readonly number[], order: Order): Quaternion {
  const q: Quaternion = [0, 0, 0, 1];
  quatFromEuler(q, 0, angles[0]!, angles[1]!, angles[2]!, order);
  return q;
}

const turnOf = (slots: readonly number[], values: Float64Array, order: Order) =>
  quaternion(
    slots.map((c) => values[c]!),
    order,
  );

function writeTurn(slots: readonly number[], turn: Quaternion, order: Order, values: Float64Array): void {
  const near = slots.map((c) => values[c]!);
  eulerFromQuat(turn, order, near).forEach((angle, axis) => (values[slots[axis]!] = angle));
}

/**
 * The values that a layer must have at a frame so that the channels show `wanted` on top of all passes.
 * @param layer a pass's id, or null for the base
 * @param base all channel values below every pass
 * @param wanted all channel values that shall show
 * @returns for each channel index asked for its value on the layer, or why none can show it: it is hidden, or the pass would have
 *   to turn beyond half a turn. Where a pass composes orientations all three angles of a node come back, since they make one
 *   orientation.
 */
export function valuesOnLayer(
  shot: Shot,
  rig: Rig,
  layer: string | null,
  read: Reader,
  base: Float64Array,
  wanted: Float64Array,
  asked: readonly number[],
): Map<number, number | 'hidden' | 'beyond'> {
  const passes = soundingPasses(shot);
  const at = passes.findIndex((pass) => pass.id === layer);
  const result = new Map<number, number | 'hidden' | 'beyond'>(asked.map((c) => [c, 'hidden']));
  if (layer !== null && at < 0) return result;
  const needed = wanted.slice();
  const hidden = new Set<number>();
  for (const pass of passes.slice(at + 1).reverse()) undoPass(rig, pass, read, needed, hidden);
  const asksFor = new Set(asked);
  const pass = passes[at];
  if (!pass) {
    for (const c of withWholeTurns(shot, rig, asksFor)) result.set(c, hidden.has(c) ? 'hidden' : needed[c]!);
    return result;
  }
  const weight = read(pass.weight, 1);
  if (Math.abs(weight) < 1e-9) return result;
  const below = base.slice();
  for (const lower of passes.slice(0, at)) applyPass(rig, lower, read, below);
  for (let i = 0; i < rig.nodes.length; i += 1) {
    const composed = composedSlots(rig, pass, i);
    if (composed?.some((c) => asksFor.has(c))) {
      const order = rig.nodes[i]!.order;
      const offset = multiply(conjugate(turnOf(composed, below, order)), turnOf(composed, needed, order));
      // Half a turn is the most that a part of a turn can be told from.
      const reachable = angleBetween(NO_TURN, offset) <= 180 * Math.abs(weight) * (1 + 1e-12);
      const near = composed.map((c) => read(pass.curves[i]?.[rig.channels[c]!.name], 0));
      const angles = eulerFromQuat(power(offset, 1 / weight), order, near);
      composed.forEach((c, axis) =>
        result.set(c, hidden.has(c) ? 'hidden' : reachable ? angles[axis]! : 'beyond'),
      );
    }
    for (let c = rig.firstChannel[i]!; c < rig.firstChannel[i + 1]!; c += 1) {
      if (!asksFor.has(c) || composed?.includes(c) || hidden.has(c)) continue;
      const own = (needed[c]! - below[c]!) / weight;
      result.set(c, pass.kind === 'offset' ? own : below[c]! + own);
    }
  }
  return result;
}

/** The channels asked for, with all three angles of a node where any pass composes its orientation. */
function withWholeTurns(shot: Shot, rig: Rig, asked: ReadonlySet<number>): Set<number> {
  const result = new Set(asked);
  for (const pass of soundingPasses(shot)) {
    for (const c of asked) {
      const i = rig.channels[c]!.node;
      const composed = pass.curves[i] ? composedSlots(rig, pass, i) : null;
      if (composed?.includes(c)) for (const slot of composed) result.add(slot);
    }
  }
  return result;
}

/** Takes a pass off `values`; channels that it hides wholly are noted in `hidden`. */
function undoPass(rig: Rig, pass: Pass, read: Reader, values: Float64Array, hidden: Set<number>): void {
  const weight = read(pass.weight, 1);
  if (weight === 0) return;
  for (let i = 0; i < rig.nodes.length; i += 1) {
    const entries = pass.curves[i];
    if (!entries) continue;
    const composed = composedSlots(rig, pass, i);
    if (composed) {
      const order = rig.nodes[i]!.order;
      const own = quaternion(
        composed.map((c) => read(entries[rig.channels[c]!.name], 0)),
        order,
      );
      writeTurn(
        composed,
        multiply(turnOf(composed, values, order), conjugate(power(own, weight))),
        order,
        values,
      );
    }
    for (let c = rig.firstChannel[i]!; c < rig.firstChannel[i + 1]!; c += 1) {
      const curve = entries[rig.channels[c]!.name];
      if (!curve || composed?.includes(c)) continue;
      if (pass.kind === 'offset') values[c]! -= weight * read(curve, 0);
      else if (Math.abs(1 - weight) < 1e-9) hidden.add(c);
      else values[c] = (values[c]! - weight * read(curve, 0)) / (1 - weight);
    }
  }
}
