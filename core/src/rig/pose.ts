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
import type { CompiledChain, Rig } from './rig.ts';
import { solveTwoBone } from './two-bone.ts';

export interface WorldPose {
  readonly matrices: Float64Array;
  readonly turns: Float64Array;
}

export function newWorldPose(rig: Rig): WorldPose {
  return { matrices: new Float64Array(rig.nodes.length * 16), turns: new Float64Array(rig.nodes.length * 4) };
}

const euler = new Float64Array(4);
const local = new Float64Array(4);
const axes = new Float64Array(9);

/**
 * Writes the world transforms of all nodes.
 * @param values one number for each of `rig.channels`
 */
export function computeWorld(rig: Rig, values: ArrayLike<number>, out: WorldPose): void {
  const driven = chainsByRoot(rig);
  // World orientations that IK has decided for joints whose turn is still to come.
  const held: Held = [];
  for (let at = 0; at < rig.order.length; at += 1) {
    const i = rig.order[at]!;
    placeNode(rig, values, out, i, held[i] ?? null);
    const chain = driven[i];
    if (chain) solveChain(rig, values, out, chain, held);
  }
}

type Held = (Quaternion | undefined)[];

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

/**
 * `turn` replaces the node's own world orientation where IK has solved it; it is kept as a turn in the parent's axes, so that the
 * scale of what stands above stays.
 * @param parent the node in whose space it is placed; −1 is the world
 */
function placeNode(
  rig: Rig,
  values: ArrayLike<number>,
  out: WorldPose,
  i: number,
  turn: Quaternion | null,
  parent = rig.parents[i]!,
): void {
  const { slots } = rig;
  const node = rig.nodes[i]!;
  const read = (slot: number, absent: number) => {
    const c = slots[i * 9 + slot]!;
    return c < 0 ? absent : values[c]!;
  };
  const rest = node.rest;
  const x = rest.translation[0] + read(0, 0);
  const y = rest.translation[1] + read(1, 0);
  const z = rest.translation[2] + read(2, 0);
  const { matrices, turns } = out;
  const q = i * 4;
  if (turn) {
    turns.set(turn, q);
    local.set(parent < 0 ? turn : multiply(conjugate(turnOf(out, parent)), turn));
  } else {
    quatFromEuler(euler, 0, read(3, 0), read(4, 0), read(5, 0), node.order);
    multiplyAt(local, 0, rest.rotation, 0, euler, 0);
    if (parent < 0) turns.set(local, q);
    else multiplyAt(turns, q, turns, parent * 4, local, 0);
  }
  const m = i * 16;
  const [sx, sy, sz] = [rest.scale[0] * read(6, 1), rest.scale[1] * read(7, 1), rest.scale[2] * read(8, 1)];
  if (parent < 0) {
    axesOf(turns, q, axes);
    scaleAxes(sx, sy, sz);
  } else {
    axesOf(local, 0, axes);
    scaleAxes(sx, sy, sz);
    turnAxes(matrices, parent * 16);
  }
  for (let column = 0; column < 3; column += 1) {
    matrices[m + column * 4] = axes[column * 3]!;
    matrices[m + column * 4 + 1] = axes[column * 3 + 1]!;
    matrices[m + column * 4 + 2] = axes[column * 3 + 2]!;
    matrices[m + column * 4 + 3] = 0;
  }
  if (parent < 0) {
    matrices[m + 12] = x;
    matrices[m + 13] = y;
    matrices[m + 14] = z;
  } else {
    const p = parent * 16;
    for (let row = 0; row < 3; row += 1) {
      matrices[m + 12 + row] =
        matrices[p + row]! * x +
        matrices[p + 4 + row]! * y +
        matrices[p + 8 + row]! * z +
        matrices[p + 12 + row]!;
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
  const place = (turns: readonly [Quaternion | null, Quaternion | null, Quaternion | null]) => {
    placeNode(rig, values, bench, root, turns[0], -1);
    for (const i of upper) placeNode(rig, values, bench, i, null);
    placeNode(rig, values, bench, middle, turns[1]);
    for (const i of lower) placeNode(rig, values, bench, i, null);
    placeNode(rig, values, bench, end, turns[2]);
  };
  place([null, null, null]);
  const rootAt = placeOf(bench, root);
  const fkTurns = [root, middle, end].map((i) => turnOf(bench, i)) as [Quaternion, Quaternion, Quaternion];
  const bones = {
    root: boneOf(bench, root, middle, chain.boneRoot),
    middle: boneOf(bench, middle, end, chain.boneMiddle),
  };
  const endTurn = multiply(conjugate(aboveTurn), multiply(turnOf(out, chain.target), chain.endTurn));
  const first = distance(rootAt, placeOf(bench, middle));
  const second = distance(placeOf(bench, middle), placeOf(bench, end));
  let turns = fkTurns;
  let [aim, step, best] = [goal, 1, Infinity];
  for (let attempt = 0; attempt < MOST_TRIES; attempt += 1) {
    const solved = solveTwoBone(rootAt, aim, pole, first, second, rotate(fkTurns[0], ...bones.root));
    const { normal } = solved;
    const tried: typeof fkTurns = [
      frameTurn(bones.root, chain.hingeRoot, direction(rootAt, solved.middle), normal),
      frameTurn(bones.middle, chain.hingeMiddle, direction(solved.middle, solved.end), normal),
      endTurn,
    ];
    place(tried);
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
  placeNode(rig, values, out, root, blended[0]!);
  held[middle] = blended[1]!;
  held[end] = blended[2]!;
  if (tip) {
    for (const i of upper) placeNode(rig, values, out, i, null);
    placeNode(rig, values, out, middle, blended[1]!);
    for (const i of lower) placeNode(rig, values, out, i, null);
    placeNode(rig, values, out, end, blended[2]!);
    placeNode(rig, values, out, tip.joint, null);
    const own = multiply(conjugate(turnOf(out, end)), turnOf(out, tip.joint));
    const atRest = multiply(conjugate(rig.restTurns[end]!), rig.restTurns[tip.joint]!);
    const followed = multiply(multiply(turnOf(out, tip.follows), tip.turn), multiply(conjugate(atRest), own));
    held[tip.joint] = slerp(turnOf(out, tip.joint), followed, weight);
  }
}

/** The direction to a joint in the axes of the one that carries it, as the limb stands; `atRest` where they coincide. */
function boneOf(out: WorldPose, from: number, to: number, atRest: Triple): Triple {
  const [a, b] = [placeOf(out, from), placeOf(out, to)];
  if (distance(a, b) < 1e-9) return atRest;
  return rotate(conjugate(turnOf(out, from)), ...direction(a, b));
}

/** A place in the world seen from a node, its scale taken out; where that is nothing, the place is the node's own. */
export function placeInSpace({ matrices }: WorldPose, node: number, place: Triple): Triple {
  const m = node * 16;
  const inverse = mat4.invert([], matrices.subarray(m, m + 16));
  if (!inverse) return [0, 0, 0];
  return vec3.transformMat4([0, 0, 0], place, inverse) as Triple;
}

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
