/**
 * Reflecting channel values from a node to its pair, in the YZ plane of the rest pose.
 *
 * The signs are not looked up in a table of axes: a node's turn C against its world rest orientation W is
 * the world turn W·C·W⁻¹; its mirror image M, set against the pair's rest orientation V, is V⁻¹·M·V. Positions are
 * reflected likewise through the rest orientations of the parents. Reflecting twice gives back the same values.
 */
import { eulerFromQuat, quatFromEuler } from '../math/euler.ts';
import type { Quaternion } from '../math/euler.ts';
import { conjugate, mirrorX, multiply, rotate } from '../math/quaternion.ts';
import { NO_TURN } from '../rig/node.ts';
import type { Rig } from '../rig/rig.ts';

/** Values by channel name, of one node. */
export type NodeValues = Readonly<Record<string, number>>;

/**
 * The values that the pair of `from` has when it is the mirror image of `from`.
 * Channels that are given in part are completed with rest values, since a reflection mixes them.
 * @param near the pair's present values; angles come out within half a turn of them
 */
export function reflectedValues(
  rig: Rig,
  from: number,
  to: number,
  values: NodeValues,
  near: NodeValues,
): NodeValues {
  const result: Record<string, number> = {};
  const signs = rig.nodes[from]!.flipSigns ?? rig.nodes[to]!.flipSigns;
  if (signs) {
    const names = rig.nodes[to]!.channels.filter((name) => name in values);
    return Object.fromEntries(names.map((name) => [name, (signs[name] ?? 1) * values[name]!]));
  }
  const has = (letter: string) => 'xyz'.split('').some((axis) => `${letter}${axis}` in values);
  const triple = (of: NodeValues, letter: string): [number, number, number] => [
    of[`${letter}x`] ?? 0,
    of[`${letter}y`] ?? 0,
    of[`${letter}z`] ?? 0,
  ];
  const write = (letter: string, v: ArrayLike<number>) =>
    ['x', 'y', 'z'].forEach((axis, at) => (result[`${letter}${axis}`] = v[at]!));
  if (has('r')) {
    const own: Quaternion = [0, 0, 0, 1];
    quatFromEuler(own, 0, ...triple(values, 'r'), rig.nodes[from]!.order);
    const inWorld = turnBetween(rig.restTurns[from]!, own);
    const mirrored = turnBetween(conjugate(rig.restTurns[to]!), mirrorX(inWorld));
    write('r', eulerFromQuat(mirrored, rig.nodes[to]!.order, triple(near, 'r')));
  }
  if (has('t')) {
    const inWorld = rotate(parentTurn(rig, from), ...triple(values, 't'));
    write('t', rotate(conjugate(parentTurn(rig, to)), -inWorld[0], inWorld[1], inWorld[2]));
  }
  for (const [name, value] of Object.entries(values)) if (!(name in result)) result[name] = value;
  return Object.fromEntries(
    Object.entries(result).filter(([name]) => rig.nodes[to]!.channels.includes(name)),
  );
}

/** The signs with which channels go over to the pair, where reflecting is no more than that; null where axes mix. */
export function signsBetween(rig: Rig, from: number, to: number): Readonly<Record<string, 1 | -1>> | null {
  const { channels, order, flipSigns } = rig.nodes[from]!;
  const set = flipSigns ?? rig.nodes[to]!.flipSigns;
  if (set) return Object.fromEntries(channels.map((name) => [name, set[name] ?? 1]));
  if (order !== rig.nodes[to]!.order) return null;
  const signs: Record<string, 1 | -1> = Object.fromEntries(channels.map((name) => [name, 1]));
  for (const letter of ['t', 'r']) {
    const names = ['x', 'y', 'z'].map((axis) => `${letter}${axis}`);
    if (!names.some((name) => channels.includes(name))) continue;
    const found = SIGN_TRIPLES.find((triple) =>
      PROBES.every((probe) => {
        const given = Object.fromEntries(names.map((name, axis) => [name, probe[axis]!]));
        const signed = Object.fromEntries(names.map((name, axis) => [name, triple[axis]! * probe[axis]!]));
        const image = reflectedValues(rig, from, to, given, signed);
        return names.every((name) => !(name in image) || Math.abs(image[name]! - signed[name]!) < 1e-7);
      }),
    );
    if (!found) return null;
    names.forEach((name, axis) => (signs[name] = found[axis]!));
  }
  return signs;
}

const SIGN_TRIPLES = [1, -1].flatMap((x) =>
  [1, -1].flatMap((y) => [1, -1].map((z) => [x, y, z] as (1 | -1)[])),
);
/** Turns and moves without symmetry of their own, degrees or cm. */
const PROBES = [
  [23, -37, 51],
  [-64, 12, 8],
] as const;

/** w · q · w⁻¹: the turn q seen in the axes that w turns. */
function turnBetween(w: Quaternion, q: Quaternion): Quaternion {
  return multiply(multiply(w, q), conjugate(w));
}

function parentTurn(rig: Rig, node: number): Quaternion {
  const parent = rig.parents[node]!;
  return parent < 0 ? [...NO_TURN] : rig.restTurns[parent]!;
}
