/**
 * How a limb reaches: the law of cosines in the plane of root, goal and pole, in the axes of what carries the root. Joints between its three keep
 * their own turns, and scales of its own joints are closed in on.
 */
import { mat4, vec3 } from 'gl-matrix';
import type { Quaternion, Triple } from '../../math/euler.ts';
import { conjugate, multiply, rotate, rotationBetween, slerp } from '../../math/quaternion.ts';
import { placeNode } from '../place-node.ts';
import type { Placed } from '../place-node.ts';
import type { Rig } from '../rig.ts';
import { solveTwoBone } from '../two-bone.ts';
import type { CompiledChain } from './reach.ts';

/** What a limb has decided for a joint: its orientation in the world, and how much longer the bone to it is. */
export interface HeldJoint {
  readonly turn: Quaternion | null;
  readonly stretch: number;
}

/** Where limbs are tried: transforms for each rig, written anew each time. */
const trials = new WeakMap<Rig, Placed>();

function trialOf(rig: Rig): Placed {
  let trial = trials.get(rig);
  if (!trial) {
    const count = rig.nodes.length;
    trials.set(rig, (trial = { matrices: new Float64Array(count * 16), turns: new Float64Array(count * 4) }));
  }
  return trial;
}

const NO_TURN: Quaternion = [0, 0, 0, 1];

type LimbTurns = readonly [Quaternion, Quaternion, Quaternion];

/** Tries to close what scales of the limb's own joints leave open, and how near is near enough, cm. */
const MOST_TRIES = 60;
const NEAR_ENOUGH = 1e-9;

/** Places the limb by itself: its root as if nothing carried it, held at these turns or as its joints are keyed. */
function tryLimb(
  rig: Rig,
  values: ArrayLike<number>,
  trial: Placed,
  { root, middle, end, upper, lower }: CompiledChain,
  turns: LimbTurns | null,
  stretch = 1,
): void {
  const { parents } = rig;
  placeNode(rig, values, trial, root, trial, -1, turns && turns[0]);
  for (const i of upper) placeNode(rig, values, trial, i, trial, parents[i]!, null, stretch);
  placeNode(rig, values, trial, middle, trial, parents[middle]!, turns && turns[1], stretch);
  for (const i of lower) placeNode(rig, values, trial, i, trial, parents[i]!, null, stretch);
  placeNode(rig, values, trial, end, trial, parents[end]!, turns && turns[2], stretch);
}

/**
 * Solves a limb and places its root; its other joints are placed in their turn, as `held` says. All is done in the space of what
 * carries the root, so that its scale does not bend the limb. False, and nothing done, where the limb is its joints' own.
 */
export function solveReach(
  rig: Rig,
  values: ArrayLike<number>,
  out: Placed,
  chain: CompiledChain,
  carriers: Placed,
  above: number,
  held: (HeldJoint | undefined)[],
): boolean {
  const weight = chain.blend < 0 ? 1 : Math.min(1, Math.max(0, values[chain.blend]!));
  if (weight <= 0) return false;
  const { root, middle, end, upper, lower, tip } = chain;
  const trial = trialOf(rig);
  const aboveTurn: Quaternion = above < 0 ? [0, 0, 0, 1] : turnOf(carriers, above);
  const [goal, pole] = seenFrom(carriers, above, placeOf(out, chain.target), placeOf(out, chain.pole));
  tryLimb(rig, values, trial, chain, null);
  const rootAt = placeOf(trial, root);
  const middleAt = placeOf(trial, middle);
  const endAt = placeOf(trial, end);
  const fkTurns: LimbTurns = [turnOf(trial, root), turnOf(trial, middle), turnOf(trial, end)];
  const boneRoot = boneOf(rootAt, middleAt, fkTurns[0], chain.boneRoot);
  const boneMiddle = boneOf(middleAt, endAt, fkTurns[1], chain.boneMiddle);
  const endTurn = multiply(conjugate(aboveTurn), multiply(turnOf(out, chain.target), chain.endTurn));
  const length = distance(rootAt, middleAt) + distance(middleAt, endAt);
  // Beyond its reach a limb that stretches grows by what is missing.
  const longer = chain.stretch && length > 0 ? Math.max(1, distance(rootAt, goal) / length) : 1;
  const first = distance(rootAt, middleAt) * longer;
  const second = distance(middleAt, endAt) * longer;
  const hinges = (chain.rollOfJoints ? hingesOf(rootAt, middleAt, endAt, fkTurns) : null) ?? chain;
  const own: readonly [Quaternion, Quaternion, ...Quaternion[]] = chain.rollOfJoints
    ? fkTurns
    : [NO_TURN, NO_TURN];
  const keyedBend = chain.rollOfJoints ? bendOf(rootAt, middleAt, endAt) : 1;
  const aside = rotate(fkTurns[0], ...boneRoot);
  let turns: LimbTurns = fkTurns;
  let [aim, step, best] = [goal, 1, Infinity];
  for (let attempt = 0; attempt < MOST_TRIES; attempt += 1) {
    const solved = solveTwoBone(rootAt, aim, pole, first, second, aside);
    const { normal } = solved;
    // Where it is as good as straight, by its keys and as it is led, a pole says nothing of how its bones roll: they keep their own.
    const roll = chain.rollOfJoints
      ? rollAt(Math.max(keyedBend, bendOf(rootAt, solved.middle, solved.end)))
      : 1;
    const tried: LimbTurns = [
      frameTurn(own[0], boneRoot, hinges.hingeRoot, direction(rootAt, solved.middle), normal, roll),
      frameTurn(own[1], boneMiddle, hinges.hingeMiddle, direction(solved.middle, solved.end), normal, roll),
      endTurn,
    ];
    if (!chain.scales) {
      // Bones are as long as they were: the first answer is the answer.
      turns = tried;
      break;
    }
    tryLimb(rig, values, trial, chain, tried, longer);
    const at = placeOf(trial, end);
    const away = distance(at, goal);
    if (away < best) turns = tried;
    // So they are under scales that are even.
    if (attempt === 0 && distance(at, solved.end) < NEAR_ENOUGH) break;
    if (away < NEAR_ENOUGH) break;
    // Uneven scales bend the bones between: the aim is corrected by what is missing, by less where that went too far.
    step = away < best ? Math.min(1, step * 1.5) : step / 2;
    best = Math.min(best, away);
    aim = [0, 1, 2].map((axis) => aim[axis]! + step * (goal[axis]! - at[axis]!)) as Triple;
  }
  const blended = (k: 0 | 1 | 2) =>
    multiply(aboveTurn, weight >= 1 ? turns[k] : slerp(fkTurns[k], turns[k], weight));
  const stretch = 1 + weight * (longer - 1);
  placeNode(rig, values, out, root, carriers, above, blended(0));
  held[middle] = { turn: blended(1), stretch };
  held[end] = { turn: blended(2), stretch };
  if (stretch !== 1) for (const i of [...upper, ...lower]) held[i] = { turn: null, stretch };
  if (tip) {
    const place = (i: number) =>
      placeNode(rig, values, out, i, out, rig.parents[i]!, held[i]?.turn, held[i]?.stretch);
    for (const i of [...upper, middle, ...lower, end, tip.joint]) place(i);
    const own = multiply(conjugate(turnOf(out, end)), turnOf(out, tip.joint));
    const atRest = multiply(conjugate(rig.restTurns[end]!), rig.restTurns[tip.joint]!);
    const followed = multiply(multiply(turnOf(out, tip.follows), tip.turn), multiply(conjugate(atRest), own));
    held[tip.joint] = { turn: slerp(turnOf(out, tip.joint), followed, weight), stretch: 1 };
  }
  return true;
}

/** A limb whose bend is less than this part of its length has none. */
const STRAIGHT = 1e-4;

/** Bends between which the pole comes to say how the bones roll, as parts of the limb's length. */
const [ROLLS_FROM, ROLLS_AT] = [0.004, 0.02];

function rollAt(bend: number): number {
  const u = Math.min(Math.max((bend - ROLLS_FROM) / (ROLLS_AT - ROLLS_FROM), 0), 1);
  return u * u * (3 - 2 * u);
}

/** How far the middle lies from the line between the ends, as a part of the limb's length. */
function bendOf(a: Triple, b: Triple, c: Triple): number {
  const length = distance(a, b) + distance(b, c);
  const normal = vec3.cross([0, 0, 0], direction(a, c), [b[0] - a[0], b[1] - a[1], b[2] - a[2]]);
  return length > 0 ? Math.sqrt(normal[0] ** 2 + normal[1] ** 2 + normal[2] ** 2) / length : 0;
}

/** About what the limb bends as its joints are keyed, in their own axes; null where it is straight. */
function hingesOf(
  a: Triple,
  b: Triple,
  c: Triple,
  turns: LimbTurns,
): { hingeRoot: Triple; hingeMiddle: Triple } | null {
  const normal = vec3.cross([0, 0, 0], direction(a, c), [b[0] - a[0], b[1] - a[1], b[2] - a[2]]) as Triple;
  const length = Math.sqrt(normal[0] * normal[0] + normal[1] * normal[1] + normal[2] * normal[2]);
  if (length < STRAIGHT * (distance(a, b) + distance(b, c))) return null;
  const [x, y, z] = [normal[0] / length, normal[1] / length, normal[2] / length];
  return {
    hingeRoot: rotate(conjugate(turns[0]), x, y, z),
    hingeMiddle: rotate(conjugate(turns[1]), x, y, z),
  };
}

/** The direction to a joint in the axes of the one that carries it, as the limb stands; `atRest` where they coincide. */
function boneOf(from: Triple, to: Triple, turn: Quaternion, atRest: Triple): Triple {
  if (distance(from, to) < 1e-9) return atRest;
  const [x, y, z] = direction(from, to);
  return rotate(conjugate(turn), x, y, z);
}

const inverse = new Float64Array(16);
const carrier = new Float64Array(16);

/** Two places in the world seen from a node, its scale taken out; −1 is the world. Where the scale is nothing they are the node's own. */
function seenFrom({ matrices }: Placed, node: number, a: Triple, b: Triple): readonly [Triple, Triple] {
  if (node < 0) return [a, b];
  for (let k = 0; k < 16; k += 1) carrier[k] = matrices[node * 16 + k]!;
  if (!mat4.invert(inverse, carrier))
    return [
      [0, 0, 0],
      [0, 0, 0],
    ];
  return [
    vec3.transformMat4([0, 0, 0], a, inverse) as Triple,
    vec3.transformMat4([0, 0, 0], b, inverse) as Triple,
  ];
}

const placeOf = (out: Placed, i: number): Triple => [
  out.matrices[i * 16 + 12]!,
  out.matrices[i * 16 + 13]!,
  out.matrices[i * 16 + 14]!,
];
const turnOf = (out: Placed, i: number): Quaternion => [
  out.turns[i * 4]!,
  out.turns[i * 4 + 1]!,
  out.turns[i * 4 + 2]!,
  out.turns[i * 4 + 3]!,
];
function distance(a: Triple, b: Triple): number {
  const [x, y, z] = [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
  return Math.sqrt(x * x + y * y + z * z);
}

function direction(from: Triple, to: Triple): Triple {
  const length = distance(from, to) || 1;
  return [(to[0] - from[0]) / length, (to[1] - from[1]) / length, (to[2] - from[2]) / length];
}

/**
 * The orientation that takes `bone` to `along` and `hinge` as near to `normal` as that allows.
 * @param from the orientation that it is turned out of, by the shortest way
 * @param roll how much of what is left to turn about the bone counts, 0…1
 */
function frameTurn(
  from: Quaternion,
  bone: Triple,
  hinge: Triple,
  along: Triple,
  normal: Triple,
  roll: number,
): Quaternion {
  const swing = multiply(rotationBetween(rotate(from, ...bone), along), from);
  const swung = rotate(swing, hinge[0], hinge[1], hinge[2]);
  const cosine = swung[0] * normal[0] + swung[1] * normal[1] + swung[2] * normal[2];
  const cross: Triple = [
    swung[1] * normal[2] - swung[2] * normal[1],
    swung[2] * normal[0] - swung[0] * normal[2],
    swung[0] * normal[1] - swung[1] * normal[0],
  ];
  const sine = cross[0] * along[0] + cross[1] * along[1] + cross[2] * along[2];
  const half = (roll * Math.atan2(sine, cosine)) / 2;
  const s = Math.sin(half);
  return multiply([along[0] * s, along[1] * s, along[2] * s, Math.cos(half)], swing);
}
