/**
 * From channel values to world transforms.
 *
 * Layout: `matrices` holds 16 numbers for each node, column-major; `turns` 4, the world orientation without
 * scale. A limb is solved when its root's turn comes in `rig.order`: its target and pole are ready by then.
 */
import { mat4, vec3 } from 'gl-matrix';
import { quatFromEuler } from '../math/euler.ts';
import type { Quaternion, Triple } from '../math/euler.ts';
import { conjugate, multiply, rotate, rotationBetween, slerp } from '../math/quaternion.ts';
import type { CompiledChain } from './relations/reach.ts';
import type { CompiledRelation, OtherTimes, Placing, Seat, WorldPose } from './relations/relation.ts';
import { seatFrom } from './relations/seat.ts';
import type { Rig } from './rig.ts';
import { solveTwoBone } from './two-bone.ts';

export type { OtherTimes, WorldPose };

export function newWorldPose(rig: Rig): WorldPose {
  return {
    matrices: new Float64Array(rig.nodes.length * 16),
    turns: new Float64Array(rig.nodes.length * 4),
    seats: [],
  };
}

const euler = new Float64Array(4);
const local = new Float64Array(4);
const axes = new Float64Array(9);

/**
 * Writes the world transforms of all nodes.
 * @param values one number for each of `rig.channels`
 * @param times poses at other times, for relations that ask for them; without it those do nothing
 */
export function computeWorld(
  rig: Rig,
  values: ArrayLike<number>,
  out: WorldPose,
  times: OtherTimes | null = null,
): void {
  const driven = chainsByRoot(rig);
  // What IK has decided for joints whose turn is still to come.
  const held: Held = [];
  for (let at = 0; at < rig.order.length; at += 1) {
    const i = rig.order[at]!;
    const related = rig.relations[i];
    if (related === undefined) placeNode(rig, values, out, i, held[i] ?? null);
    else placeRelated(rig, values, out, i, times);
    const chain = driven[i];
    if (chain) solveChain(rig, values, out, chain, held);
  }
}

/** A node that relations place: they change what carries it, and some of them where it lies then. */
function placeRelated(
  rig: Rig,
  values: ArrayLike<number>,
  out: WorldPose,
  i: number,
  times: OtherTimes | null,
): void {
  const placing = placingOf(rig, values, out, i, times);
  const seat = seatFrom(out, rig.parents[i]!);
  for (const one of placing) one.compiled.kind.seat?.(seat, one);
  out.seats[i] = seat;
  placeOn(rig, values, out, i, { turn: null, stretch: 1 }, seat);
  for (const one of placing) one.compiled.kind.hold?.(one);
}

/** The relations of a node that hold at all. */
const placingOf = (
  rig: Rig,
  values: ArrayLike<number>,
  pose: WorldPose,
  i: number,
  times: OtherTimes | null,
): Placing<Record<string, unknown>>[] =>
  (rig.relations[i] ?? [])
    .map((compiled) => {
      const weight = compiled.weight < 0 ? 1 : Math.min(1, Math.max(0, values[compiled.weight]!));
      return {
        rig,
        values,
        pose,
        compiled: compiled as CompiledRelation<Record<string, unknown>>,
        weight,
        times,
      };
    })
    .filter(({ weight }) => weight > 0);

/** What would carry a node in a pose in which all that it goes by stands already. */
export function seatIn(rig: Rig, values: ArrayLike<number>, pose: WorldPose, i: number): Seat {
  const seat = seatFrom(pose, rig.parents[i]!);
  for (const one of placingOf(rig, values, pose, i, null)) one.compiled.kind.seat?.(seat, one);
  return seat;
}

/** What carries a node: the seat that its relations gave it, or its parent. */
export const seatOf = (rig: Rig, pose: WorldPose, i: number): Seat =>
  (rig.relations[i] && pose.seats[i]) ?? seatFrom(pose, rig.parents[i]!);

/** What a limb has decided for a joint: its orientation in the world, and how much longer the bone to it is. */
interface HeldJoint {
  readonly turn: Quaternion | null;
  readonly stretch: number;
}
type Held = (HeldJoint | undefined)[];
const FREE: HeldJoint = { turn: null, stretch: 1 };

const chainTables = new WeakMap<Rig, readonly (CompiledChain | undefined)[]>();

/** The chain that is solved once a node, its root, is placed. */
function chainsByRoot(rig: Rig): readonly (CompiledChain | undefined)[] {
  const known = chainTables.get(rig);
  if (known) return known;
  const table: (CompiledChain | undefined)[] = [];
  for (const chain of rig.chains) table[chain.root] = chain;
  chainTables.set(rig, table);
  return table;
}

/** @param parent the node in whose space it is placed; −1 is the world */
function placeNode(
  rig: Rig,
  values: ArrayLike<number>,
  out: WorldPose,
  i: number,
  held: HeldJoint | null,
  parent = rig.parents[i]!,
): void {
  if (parent < 0) placeOn(rig, values, out, i, held ?? FREE, null);
  else placeIn(rig, values, out, i, held ?? FREE, out.matrices, parent * 16, out.turns, parent * 4);
}

const placeOn = (
  rig: Rig,
  values: ArrayLike<number>,
  out: WorldPose,
  i: number,
  held: HeldJoint,
  seat: Seat | null,
): void => placeIn(rig, values, out, i, held, seat?.matrix ?? null, 0, seat?.turn ?? NO_TURNS, 0);

const NO_TURNS = Float64Array.of(0, 0, 0, 1);

/**
 * Places a node in the axes of what carries it. A held turn replaces its own world orientation where IK has solved it; it is kept as a turn in
 * those axes, so that the scale of what stands above stays.
 * @param matrices, p where the matrix of what carries it begins; null is the world
 * @param carriers, c likewise of its orientation
 */
function placeIn(
  rig: Rig,
  values: ArrayLike<number>,
  out: WorldPose,
  i: number,
  { turn, stretch }: HeldJoint,
  carrier: Float64Array | null,
  p: number,
  carriers: Float64Array,
  c: number,
): void {
  const { slots } = rig;
  const node = rig.nodes[i]!;
  const read = (slot: number, absent: number) => {
    const channel = slots[i * 9 + slot]!;
    return channel < 0 ? absent : values[channel]!;
  };
  const rest = node.rest;
  const x = (rest.translation[0] + read(0, 0)) * stretch;
  const y = (rest.translation[1] + read(1, 0)) * stretch;
  const z = (rest.translation[2] + read(2, 0)) * stretch;
  const { matrices, turns } = out;
  const q = i * 4;
  if (turn) {
    turns.set(turn, q);
    local.set(carrier === null ? turn : multiply(conjugate(carriers.subarray(c, c + 4)), turn));
  } else {
    quatFromEuler(euler, 0, read(3, 0), read(4, 0), read(5, 0), node.order);
    multiplyAt(local, 0, rest.rotation, 0, euler, 0);
    if (carrier === null) turns.set(local, q);
    else multiplyAt(turns, q, carriers, c, local, 0);
  }
  const m = i * 16;
  const [sx, sy, sz] = [rest.scale[0] * read(6, 1), rest.scale[1] * read(7, 1), rest.scale[2] * read(8, 1)];
  if (carrier === null) {
    axesOf(turns, q, axes);
    scaleAxes(sx, sy, sz);
  } else {
    axesOf(local, 0, axes);
    scaleAxes(sx, sy, sz);
    turnAxes(carrier, p);
  }
  for (let column = 0; column < 3; column += 1) {
    matrices[m + column * 4] = axes[column * 3]!;
    matrices[m + column * 4 + 1] = axes[column * 3 + 1]!;
    matrices[m + column * 4 + 2] = axes[column * 3 + 2]!;
    matrices[m + column * 4 + 3] = 0;
  }
  if (carrier === null) {
    matrices[m + 12] = x;
    matrices[m + 13] = y;
    matrices[m + 14] = z;
  } else {
    for (let row = 0; row < 3; row += 1) {
      matrices[m + 12 + row] =
        carrier[p + row]! * x +
        carrier[p + 4 + row]! * y +
        carrier[p + 8 + row]! * z +
        carrier[p + 12 + row]!;
    }
  }
  matrices[m + 15] = 1;
}

function multiplyAt(
  out: Float64Array,
  o: number,
  a: ArrayLike<number>,
  i: number,
  b: ArrayLike<number>,
  j: number,
): void {
  const [ax, ay, az, aw] = [a[i]!, a[i + 1]!, a[i + 2]!, a[i + 3]!];
  const [bx, by, bz, bw] = [b[j]!, b[j + 1]!, b[j + 2]!, b[j + 3]!];
  out[o] = aw * bx + ax * bw + ay * bz - az * by;
  out[o + 1] = aw * by + ay * bw + az * bx - ax * bz;
  out[o + 2] = aw * bz + az * bw + ax * by - ay * bx;
  out[o + 3] = aw * bw - ax * bx - ay * by - az * bz;
}

/** The three axes of an orientation, one after the other. */
function axesOf(q: ArrayLike<number>, at: number, out: Float64Array): void {
  const [x, y, z, w] = [q[at]!, q[at + 1]!, q[at + 2]!, q[at + 3]!];
  out[0] = 1 - 2 * (y * y + z * z);
  out[1] = 2 * (x * y + z * w);
  out[2] = 2 * (x * z - y * w);
  out[3] = 2 * (x * y - z * w);
  out[4] = 1 - 2 * (x * x + z * z);
  out[5] = 2 * (y * z + x * w);
  out[6] = 2 * (x * z + y * w);
  out[7] = 2 * (y * z - x * w);
  out[8] = 1 - 2 * (x * x + y * y);
}

function scaleAxes(sx: number, sy: number, sz: number): void {
  if (sx === 1 && sy === 1 && sz === 1) return;
  for (let row = 0; row < 3; row += 1) {
    axes[row]! *= sx;
    axes[3 + row]! *= sy;
    axes[6 + row]! *= sz;
  }
}

/** Turns `axes` by the upper 3×3 of a matrix, scale included. */
function turnAxes(matrices: Float64Array, p: number): void {
  for (let column = 0; column < 3; column += 1) {
    const [x, y, z] = [axes[column * 3]!, axes[column * 3 + 1]!, axes[column * 3 + 2]!];
    for (let row = 0; row < 3; row += 1) {
      axes[column * 3 + row] =
        matrices[p + row]! * x + matrices[p + 4 + row]! * y + matrices[p + 8 + row]! * z;
    }
  }
}

/** Where limbs are solved: one pose for each rig, written anew each time. */
const benches = new WeakMap<Rig, WorldPose>();

function benchOf(rig: Rig): WorldPose {
  let bench = benches.get(rig);
  if (!bench) benches.set(rig, (bench = newWorldPose(rig)));
  return bench;
}

/** Tries to close what scales of the limb's own joints leave open, and how near is near enough, cm. */
const MOST_TRIES = 60;
const NEAR_ENOUGH = 1e-9;

/**
 * Solves a limb once its root is placed; its other joints are placed again in their turn, as `held` says. All is done in the space
 * of the root's parent, so that the scale of what stands above does not bend it; joints between the three keep their own turns.
 */
function solveChain(
  rig: Rig,
  values: ArrayLike<number>,
  out: WorldPose,
  chain: CompiledChain,
  held: Held,
): void {
  const weight = chain.blend < 0 ? 1 : Math.min(1, Math.max(0, values[chain.blend]!));
  if (weight <= 0) return;
  const { root, middle, end, upper, lower, tip } = chain;
  const bench = benchOf(rig);
  const above = rig.parents[root]!;
  const aboveTurn: Quaternion = above < 0 ? [0, 0, 0, 1] : turnOf(out, above);
  const inSpace = (place: Triple): Triple => (above < 0 ? place : placeInSpace(out, above, place));
  const goal = inSpace(placeOf(out, chain.target));
  const pole = inSpace(placeOf(out, chain.pole));
  const place = (turns: readonly [Quaternion | null, Quaternion | null, Quaternion | null], stretch = 1) => {
    placeNode(rig, values, bench, root, { turn: turns[0], stretch: 1 }, -1);
    for (const i of upper) placeNode(rig, values, bench, i, { turn: null, stretch });
    placeNode(rig, values, bench, middle, { turn: turns[1], stretch });
    for (const i of lower) placeNode(rig, values, bench, i, { turn: null, stretch });
    placeNode(rig, values, bench, end, { turn: turns[2], stretch });
  };
  place([null, null, null]);
  const rootAt = placeOf(bench, root);
  const fkTurns = [root, middle, end].map((i) => turnOf(bench, i)) as [Quaternion, Quaternion, Quaternion];
  const bones = {
    root: boneOf(bench, root, middle, chain.boneRoot),
    middle: boneOf(bench, middle, end, chain.boneMiddle),
  };
  const endTurn = multiply(conjugate(aboveTurn), multiply(turnOf(out, chain.target), chain.endTurn));
  const length =
    distance(rootAt, placeOf(bench, middle)) + distance(placeOf(bench, middle), placeOf(bench, end));
  // Beyond its reach a limb that stretches grows by what is missing.
  const longer = chain.stretch && length > 0 ? Math.max(1, distance(rootAt, goal) / length) : 1;
  const first = distance(rootAt, placeOf(bench, middle)) * longer;
  const second = distance(placeOf(bench, middle), placeOf(bench, end)) * longer;
  const hinges = chain.rollOfJoints
    ? (hingesOf(bench, chain, fkTurns) ?? chain)
    : { hingeRoot: chain.hingeRoot, hingeMiddle: chain.hingeMiddle };
  let turns = fkTurns;
  let [aim, step, best] = [goal, 1, Infinity];
  for (let attempt = 0; attempt < MOST_TRIES; attempt += 1) {
    const solved = solveTwoBone(rootAt, aim, pole, first, second, rotate(fkTurns[0], ...bones.root));
    const { normal } = solved;
    const tried: typeof fkTurns = [
      frameTurn(bones.root, hinges.hingeRoot, direction(rootAt, solved.middle), normal),
      frameTurn(bones.middle, hinges.hingeMiddle, direction(solved.middle, solved.end), normal),
      endTurn,
    ];
    place(tried, longer);
    const at = placeOf(bench, end);
    const away = distance(at, goal);
    if (away < best) turns = tried;
    // Where no joint of the limb scales unevenly, bones are as long as they were and the first answer is the answer.
    if (attempt === 0 && distance(at, solved.end) < NEAR_ENOUGH) break;
    if (away < NEAR_ENOUGH) break;
    // Uneven scales bend the bones between: the aim is corrected by what is missing, by less where that went too far.
    step = away < best ? Math.min(1, step * 1.5) : step / 2;
    best = Math.min(best, away);
    aim = [0, 1, 2].map((axis) => aim[axis]! + step * (goal[axis]! - at[axis]!)) as Triple;
  }
  const blended = turns.map((turn, k) => multiply(aboveTurn, slerp(fkTurns[k]!, turn, weight)));
  const stretch = 1 + weight * (longer - 1);
  placeNode(rig, values, out, root, { turn: blended[0]!, stretch: 1 });
  held[middle] = { turn: blended[1]!, stretch };
  held[end] = { turn: blended[2]!, stretch };
  if (stretch !== 1) for (const i of [...upper, ...lower]) held[i] = { turn: null, stretch };
  if (tip) {
    for (const i of [...upper, middle, ...lower, end]) placeNode(rig, values, out, i, held[i] ?? null);
    placeNode(rig, values, out, tip.joint, null);
    const own = multiply(conjugate(turnOf(out, end)), turnOf(out, tip.joint));
    const atRest = multiply(conjugate(rig.restTurns[end]!), rig.restTurns[tip.joint]!);
    const followed = multiply(multiply(turnOf(out, tip.follows), tip.turn), multiply(conjugate(atRest), own));
    held[tip.joint] = { turn: slerp(turnOf(out, tip.joint), followed, weight), stretch: 1 };
  }
}

/** A limb whose bend is less than this part of its length has none. */
const STRAIGHT = 1e-4;

/** About what the limb bends as its joints are keyed, in their own axes; null where it is straight. */
function hingesOf(
  out: WorldPose,
  { root, middle, end }: CompiledChain,
  turns: readonly [Quaternion, Quaternion, Quaternion],
): { hingeRoot: Triple; hingeMiddle: Triple } | null {
  const [a, b, c] = [placeOf(out, root), placeOf(out, middle), placeOf(out, end)];
  const normal = vec3.cross([0, 0, 0], direction(a, c), [b[0] - a[0], b[1] - a[1], b[2] - a[2]]) as Triple;
  const length = Math.hypot(...normal);
  if (length < STRAIGHT * (distance(a, b) + distance(b, c))) return null;
  const hinge = normal.map((part) => part / length) as Triple;
  return {
    hingeRoot: rotate(conjugate(turns[0]), ...hinge),
    hingeMiddle: rotate(conjugate(turns[1]), ...hinge),
  };
}

/** The direction to a joint in the axes of the one that carries it, as the limb stands; `atRest` where they coincide. */
function boneOf(out: WorldPose, from: number, to: number, atRest: Triple): Triple {
  const [a, b] = [placeOf(out, from), placeOf(out, to)];
  if (distance(a, b) < 1e-9) return atRest;
  return rotate(conjugate(turnOf(out, from)), ...direction(a, b));
}

/** A place in the world seen from a node, its scale taken out; where that is nothing, the place is the node's own. */
export function placeInSpace({ matrices }: Pick<WorldPose, 'matrices'>, node: number, place: Triple): Triple {
  const m = node * 16;
  const inverse = mat4.invert([], matrices.subarray(m, m + 16));
  if (!inverse) return [0, 0, 0];
  return vec3.transformMat4([0, 0, 0], place, inverse) as Triple;
}

/** A place in the world seen from a seat. */
export const placeOnSeat = ({ matrix }: Seat, place: Triple): Triple =>
  placeInSpace({ matrices: matrix }, 0, place);

const placeOf = (out: WorldPose, i: number): Triple => [
  out.matrices[i * 16 + 12]!,
  out.matrices[i * 16 + 13]!,
  out.matrices[i * 16 + 14]!,
];
const turnOf = (out: WorldPose, i: number): Quaternion => [
  out.turns[i * 4]!,
  out.turns[i * 4 + 1]!,
  out.turns[i * 4 + 2]!,
  out.turns[i * 4 + 3]!,
];
const distance = (a: Triple, b: Triple) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

function direction(from: Triple, to: Triple): Triple {
  const length = distance(from, to) || 1;
  return [(to[0] - from[0]) / length, (to[1] - from[1]) / length, (to[2] - from[2]) / length];
}

/** The orientation that takes `bone` to `along` and `hinge` as near to `normal` as that allows. */
function frameTurn(bone: Triple, hinge: Triple, along: Triple, normal: Triple): Quaternion {
  const swing = rotationBetween(bone, along);
  const swung = rotate(swing, ...hinge);
  const cosine = swung[0] * normal[0] + swung[1] * normal[1] + swung[2] * normal[2];
  const cross: Triple = [
    swung[1] * normal[2] - swung[2] * normal[1],
    swung[2] * normal[0] - swung[0] * normal[2],
    swung[0] * normal[1] - swung[1] * normal[0],
  ];
  const sine = cross[0] * along[0] + cross[1] * along[1] + cross[2] * along[2];
  const half = Math.atan2(sine, cosine) / 2;
  const s = Math.sin(half);
  return multiply([along[0] * s, along[1] * s, along[2] * s, Math.cos(half)], swing);
}
