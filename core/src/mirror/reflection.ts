/**
 * Reflecting channel values from a node to its pair.
 *
 * No sign is looked up in a table of axes. With the rest poses W of a node and V of its pair (turn and scale of all above, and their own
 * turn), the plane's reflection S at rest and S′ now, and the rest linear parts P and Q of what carries them, the turn E becomes
 * (turn of V in Q)⁻¹ · Q⁻¹S′P · (turn of W in P) · E · W⁻¹SV. A node that moves in what has been mirrored already sees S′ = S.
 * A position becomes Q⁻¹S′P of itself; of a node that stands in the world it is reflected as a place. Reflecting twice gives back
 * the same values.
 */
import { mat3, mat4, quat, vec3 } from 'gl-matrix';
import { eulerFromQuat, quatFromEuler } from '../math/euler.ts';
import type { Quaternion, Triple } from '../math/euler.ts';
import { unit } from '../math/quaternion.ts';
import { computeWorld, newWorldPose } from '../rig/pose.ts';
import type { WorldPose } from '../rig/pose.ts';
import type { Seat } from '../rig/relations/relation.ts';
import { newSeat, rotationColumns } from '../rig/relations/seat.ts';
import type { Rig } from '../rig/rig.ts';
import type { MirrorPlane } from './mirror-plane.ts';

/** Values by channel name, of one node. */
export type NodeValues = Readonly<Record<string, number>>;

/** How a node is reflected. */
export interface Mirroring {
  readonly plane: MirrorPlane;
  /** Whether it stands in the world, as what carries it does not move; else it moves in what is mirrored itself. */
  readonly inWorld: boolean;
  /** Whether the values are changes, as a pass that adds holds them, and not a pose. */
  readonly changes: boolean;
}

/** In the plane x = 0 of the rest pose. */
const REST_MIRROR: Mirroring = {
  plane: { atRest: [1, 0, 0], normal: [1, 0, 0], through: [0, 0, 0] },
  inWorld: false,
  changes: false,
};

type Matrix = mat3;
const fresh = () => [1, 0, 0, 0, 1, 0, 0, 0, 1] as unknown as Matrix;
const product = (...factors: readonly Matrix[]): Matrix =>
  factors.reduce((left, right) => mat3.multiply(fresh(), left, right));
const inverse = (of: Matrix): Matrix => mat3.invert(fresh(), of) ?? fresh();

/** I − 2nnᵀ. */
function reflector([x, y, z]: Triple): Matrix {
  const [a, b, c] = [-2 * x * y, -2 * x * z, -2 * y * z];
  return [1 - 2 * x * x, a, b, a, 1 - 2 * y * y, c, b, c, 1 - 2 * z * z];
}

const rests = new WeakMap<Rig, WorldPose>();

/** The world with all channels at rest. */
function restPose(rig: Rig): WorldPose {
  let pose = rests.get(rig);
  if (!pose) {
    pose = newWorldPose(rig);
    computeWorld(
      rig,
      rig.channels.map(({ rest }) => rest),
      pose,
    );
    rests.set(rig, pose);
  }
  return pose;
}

/** The whole matrix of what carries a node, at rest. */
function carrier(rig: Rig, node: number): mat4 {
  const parent = rig.parents[node]!;
  if (parent < 0) return mat4.identity([]);
  return [...restPose(rig).matrices.subarray(parent * 16, parent * 16 + 16)];
}

const linear = (of: mat4) =>
  [of[0], of[1], of[2], of[4], of[5], of[6], of[8], of[9], of[10]] as unknown as Matrix;

/** The parts of a reflection that do not depend on the values. */
interface Reflecting {
  /** For turns: what stands left and right of them. */
  readonly left: Matrix;
  readonly right: Matrix;
  /** For positions in the axes of what carries the nodes. */
  readonly move: Matrix;
}

function reflecting(rig: Rig, from: number, to: number, { plane, inWorld, changes }: Mirroring): Reflecting {
  const [p, q] = [linear(carrier(rig, from)), linear(carrier(rig, to))];
  const [r, v] = [from, to].map((node) =>
    mat3.fromQuat(fresh(), rig.nodes[node]!.rest.rotation as Quaternion),
  ) as [Matrix, Matrix];
  const atRest = reflector(plane.atRest);
  const now = inWorld ? reflector(plane.normal) : atRest;
  const turned = product(inverse(q), inWorld && !changes ? now : atRest, p);
  return {
    left: product(inverse(v), turned, r),
    right: product(inverse(product(p, r)), atRest, product(q, v)),
    move: product(inverse(q), now, p),
  };
}

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
  mirroring: Mirroring = REST_MIRROR,
): NodeValues {
  const result: Record<string, number> = {};
  const signs = rig.nodes[from]!.flipSigns ?? rig.nodes[to]!.flipSigns;
  if (signs) {
    const names = rig.nodes[to]!.channels.filter((name) => name in values);
    return Object.fromEntries(names.map((name) => [name, (signs[name] ?? 1) * values[name]!]));
  }
  const has = (letter: string) => 'xyz'.split('').some((axis) => `${letter}${axis}` in values);
  const triple = (of: NodeValues, letter: string, absent = 0): Triple => [
    of[`${letter}x`] ?? absent,
    of[`${letter}y`] ?? absent,
    of[`${letter}z`] ?? absent,
  ];
  const write = (letter: string, v: ArrayLike<number>) =>
    ['x', 'y', 'z'].forEach((axis, at) => (result[`${letter}${axis}`] = v[at]!));
  const parts = reflecting(rig, from, to, mirroring);
  if (has('r')) {
    const own: Quaternion = [0, 0, 0, 1];
    quatFromEuler(own, 0, ...triple(values, 'r'), rig.nodes[from]!.order);
    const turned = product(parts.left, mat3.fromQuat(fresh(), own), parts.right);
    write('r', eulerFromQuat(turnOf(turned), rig.nodes[to]!.order, triple(near, 'r')));
  }
  if (has('t')) write('t', movedTo(rig, from, to, triple(values, 't'), mirroring, parts));
  if (has('s')) write('s', scaledTo(parts.right, triple(values, 's', 1)));
  for (const [name, value] of Object.entries(values)) if (!(name in result)) result[name] = value;
  return Object.fromEntries(
    Object.entries(result).filter(([name]) => rig.nodes[to]!.channels.includes(name)),
  );
}

/** The turn in a matrix; what it scales besides is left out. */
function turnOf(of: Matrix): Quaternion {
  const m = [...(of as unknown as number[])];
  for (let column = 0; column < 3; column += 1) {
    const length = Math.hypot(m[3 * column]!, m[3 * column + 1]!, m[3 * column + 2]!) || 1;
    for (let row = 0; row < 3; row += 1) m[3 * column + row]! /= length;
  }
  return unit(quat.fromMat3([0, 0, 0, 1], m) as unknown as Quaternion);
}

function movedTo(
  rig: Rig,
  from: number,
  to: number,
  moved: Triple,
  { plane, inWorld, changes }: Mirroring,
  { move }: Reflecting,
): Triple {
  if (!inWorld || changes) return vec3.transformMat3([0, 0, 0], moved, move) as Triple;
  const [here, there] = [rig.nodes[from]!.rest.translation, rig.nodes[to]!.rest.translation];
  const local: Triple = [here[0] + moved[0], here[1] + moved[1], here[2] + moved[2]];
  const world = vec3.transformMat4([0, 0, 0], local, carrier(rig, from));
  const image = reflectedPoint(plane, world as Triple);
  const back = mat4.invert([], carrier(rig, to));
  const seen = back ? (vec3.transformMat4([0, 0, 0], image, back) as Triple) : image;
  return [seen[0] - there[0], seen[1] - there[1], seen[2] - there[2]];
}

/** A place in the world, reflected. */
export function reflectedPoint({ normal, through }: MirrorPlane, place: Triple): Triple {
  const away = [0, 1, 2].reduce((sum, axis) => sum + (place[axis]! - through[axis]!) * normal[axis]!, 0);
  return [0, 1, 2].map((axis) => place[axis]! - 2 * away * normal[axis]!) as Triple;
}

/** Where the pair of `from` lies in the world when it is the mirror image of what lies there. */
export function reflectedPlacement(
  rig: Rig,
  from: number,
  to: number,
  plane: MirrorPlane,
  { matrix, turn }: Seat,
): Seat {
  const rotation = (of: ArrayLike<number>) => mat3.fromQuat(fresh(), of as Quaternion);
  const turned = product(
    reflector(plane.normal),
    rotation(turn),
    inverse(rotation(rig.restTurns[from]!)),
    reflector(plane.atRest),
    rotation(rig.restTurns[to]!),
  );
  const seat = newSeat();
  seat.turn.set(turnOf(turned));
  const axes = rotationColumns(seat.turn);
  for (let column = 0; column < 3; column += 1) {
    // Of even scales it is exact; uneven ones go with the axes that are nearest.
    const length = Math.hypot(matrix[column * 4]!, matrix[column * 4 + 1]!, matrix[column * 4 + 2]!);
    for (let row = 0; row < 3; row += 1) seat.matrix[column * 4 + row] = axes[column * 3 + row]! * length;
  }
  seat.matrix.set(reflectedPoint(plane, [matrix[12]!, matrix[13]!, matrix[14]!]), 12);
  return seat;
}

/** Scales along axes that change places. */
function scaledTo(axes: Matrix, scales: Triple): Triple {
  const m = [...(axes as unknown as number[])];
  return [0, 1, 2].map((column) => {
    const parts = [0, 1, 2].map((row) => m[3 * column + row]! ** 2);
    const all = parts[0]! + parts[1]! + parts[2]!;
    return parts.reduce((sum, part, row) => sum + part * scales[row]!, 0) / all;
  }) as Triple;
}

/** How channels go over to the pair where each does so by itself: value′ = sign · value + shift. */
export interface Signs {
  readonly signs: Readonly<Record<string, 1 | -1>>;
  readonly shifts: Readonly<Record<string, number>>;
}

/**
 * Signs and shifts with which channels go over, where reflecting is no more than that; null where axes mix.
 * @param present values of the node: shifts of angles are those that keep them within half a turn
 */
export function signsBetween(
  rig: Rig,
  from: number,
  to: number,
  mirroring: Mirroring = REST_MIRROR,
  present: NodeValues = {},
): Signs | null {
  const { channels, order, flipSigns } = rig.nodes[from]!;
  const set = flipSigns ?? rig.nodes[to]!.flipSigns;
  const one = (value: 1 | 0) => Object.fromEntries(channels.map((name) => [name, value]));
  if (set)
    return { signs: Object.fromEntries(channels.map((name) => [name, set[name] ?? 1])), shifts: one(0) };
  if (order !== rig.nodes[to]!.order) return null;
  const signs: Record<string, 1 | -1> = one(1) as Record<string, 1>;
  const shifts: Record<string, number> = one(0);
  for (const letter of ['t', 'r', 's']) {
    const names = ['x', 'y', 'z'].map((axis) => `${letter}${axis}`);
    if (!names.some((name) => channels.includes(name))) continue;
    const zero = letter === 's' ? 1 : 0;
    const base = names.map((name) => present[name] ?? zero);
    const values = (of: readonly number[]) =>
      Object.fromEntries(names.map((name, axis) => [name, of[axis]!]));
    const start = reflectedValues(rig, from, to, values(base), values(base), mirroring);
    const triples = letter === 's' ? [[1, 1, 1] as const] : SIGN_TRIPLES;
    const found = triples.find((triple) =>
      PROBES.every((probe) => {
        const moved = base.map((value, axis) => value + (letter === 's' ? probe[axis]! / 100 : probe[axis]!));
        const expected = names.map(
          (name, axis) => (start[name] ?? base[axis]!) + triple[axis]! * (moved[axis]! - base[axis]!),
        );
        const image = reflectedValues(rig, from, to, values(moved), values(expected), mirroring);
        return names.every(
          (name, axis) => !(name in image) || Math.abs(image[name]! - expected[axis]!) < 1e-7,
        );
      }),
    );
    if (!found) return null;
    names.forEach((name, axis) => {
      signs[name] = found[axis]!;
      const shift = (start[name] ?? base[axis]!) - found[axis]! * base[axis]!;
      shifts[name] = Math.abs(shift) < 1e-9 ? 0 : shift;
    });
  }
  return { signs, shifts };
}

const SIGN_TRIPLES = [1, -1].flatMap((x) =>
  [1, -1].flatMap((y) => [1, -1].map((z) => [x, y, z] as (1 | -1)[])),
);
/** Turns and moves without symmetry of their own, degrees or cm. */
const PROBES = [
  [23, -37, 51],
  [-64, 12, 8],
] as const;
