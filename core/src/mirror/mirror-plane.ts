/**
 * The plane in which a character is flipped: upright, along the middle of its body. At rest it lies where the character faces; in
 * motion it goes with place and heading of the root, so that who walks along a wall goes on along it when flipped.
 */
import type { Quaternion, Triple } from '../math/euler.ts';
import { conjugate, multiply, rotate } from '../math/quaternion.ts';
import type { Node } from '../rig/node.ts';
import { facingByFeet } from './facing-by-feet.ts';
import { computeWorld, newWorldPose } from '../rig/pose.ts';
import type { WorldPose } from '../rig/pose.ts';
import type { Rig } from '../rig/rig.ts';
import { placeIn } from '../evaluation/evaluation.ts';
import { rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';

export interface MirrorPlane {
  /** From right to left of the body at rest; a unit vector in the world. */
  readonly atRest: Triple;
  /** The plane's normal now, and a place on it; a unit vector and cm, in the world. */
  readonly normal: Triple;
  readonly through: Triple;
}

/** Where a character faces at rest, and how that is known. */
export interface Facing {
  /** About the upright, from +z toward +x, degrees. */
  readonly degrees: number;
  readonly how: 'set' | 'sides' | 'feet' | 'assumed';
  /** Whether the feet point the other way than the sides say. */
  readonly feetDisagree: boolean;
}

/** Nearer than this to a quarter turn is that, degrees: rigs are never quite even. */
const NEARLY = 3;

/** How a character stands at rest: as it is set, else as its left and right controls lie, else as its feet point. */
export function facingOf(shot: Shot, character: string | null): Facing {
  const rig = rigOf(shot);
  const set = shot.characters.find(({ id }) => id === character)?.facing;
  let [x, z] = [0, 0];
  let [toeX, toeZ] = [0, 0];
  rig.nodes.forEach((node, i) => {
    if (node.character !== character || node.side !== 'left' || node.pair === null) return;
    const j = rig.indexOf(node.pair);
    if (j < 0 || rig.nodes[j]!.pair !== node.id) return;
    const [a, b] = [rig.restPlaces[i]!, rig.restPlaces[j]!];
    x += a[0] - b[0];
    z += a[2] - b[2];
  });
  rig.nodes.forEach((node, i) => {
    const parent = rig.parents[i]!;
    if (node.character !== character || node.part !== 'leg' || parent < 0) return;
    if (!/toe|ball/i.test(node.id)) return;
    toeX += rig.restPlaces[i]![0] - rig.restPlaces[parent]![0];
    toeZ += rig.restPlaces[i]![2] - rig.restPlaces[parent]![2];
  });
  const known = Math.hypot(x, z) > 1e-6;
  const byFeet = known
    ? null
    : facingByFeet(
        rig,
        rig.nodes.map((node) => node.character === character),
      );
  const found = known ? (Math.atan2(-z, x) * 180) / Math.PI : (byFeet ?? 0);
  const degrees = set ?? evened(found);
  const [fx, fz] = [Math.sin((degrees * Math.PI) / 180), Math.cos((degrees * Math.PI) / 180)];
  const toes = Math.hypot(toeX, toeZ);
  return {
    degrees,
    how: set !== undefined ? 'set' : known ? 'sides' : byFeet !== null ? 'feet' : 'assumed',
    feetDisagree: toes > 1e-6 && (fx * toeX + fz * toeZ) / toes < -0.5,
  };
}

function evened(degrees: number): number {
  const quarter = Math.round(degrees / 90) * 90;
  // Never −0, and one name for half a turn.
  const near = Math.abs(degrees - quarter) < NEARLY ? quarter : degrees;
  return near === -180 ? 180 : near + 0;
}

/** From right to left of a body that faces so. */
export const acrossOf = (degrees: number): Triple => {
  const angle = (degrees * Math.PI) / 180;
  const tidy = (value: number) => (Math.abs(value) < 1e-15 ? 0 : value);
  return [tidy(Math.cos(angle)), 0, tidy(-Math.sin(angle))];
};

/** own: along the body of each character; world: about x = 0; a control: along that, wherever it is. */
export type PlaneChoice =
  { readonly kind: 'own' | 'world' } | { readonly kind: 'node'; readonly node: string };

/** How the nodes of a character are flipped. */
export interface CharacterMirror {
  readonly plane: MirrorPlane;
  /** What carries the character through the world and stands still: it is not flipped, and what it carries stands in the world. */
  readonly carriers: ReadonlySet<number>;
}

/**
 * The mirrors of all nodes. Nodes of no character go with the first character that has any, so that what is held stays in the hand.
 * @param shown all channel values at one frame, or over a range: then the plane lies midway between its first and its last
 */
export function mirrorsOf(
  shot: Shot,
  shown: readonly Float64Array[],
  choice: PlaneChoice,
): (node: Node) => CharacterMirror {
  const rig = rigOf(shot);
  const made = new Map<string | null, CharacterMirror>();
  const first = rig.nodes.find(({ character }) => character !== null)?.character ?? null;
  const poses = [shown[0]!, shown[shown.length - 1]!].map((values) => {
    const pose = newWorldPose(rig);
    computeWorld(rig, values, pose);
    return pose;
  });
  return ({ character }) => {
    const whose = character ?? first;
    let mirror = made.get(whose);
    if (!mirror) {
      const lead =
        choice.kind === 'node'
          ? rig.indexOf(choice.node)
          : choice.kind === 'own'
            ? rootOf(rig, whose, shown)
            : -1;
      const carriers = new Set<number>();
      for (let i = lead < 0 ? -1 : rig.parents[lead]!; i >= 0; i = rig.parents[i]!) carriers.add(i);
      made.set(whose, (mirror = { plane: planeOf(shot, rig, whose, poses, choice, lead), carriers }));
    }
    return mirror;
  };
}

function planeOf(
  shot: Shot,
  rig: Rig,
  character: string | null,
  poses: readonly WorldPose[],
  choice: PlaneChoice,
  lead: number,
): MirrorPlane {
  const atRest = acrossOf(facingOf(shot, character).degrees);
  if (choice.kind === 'world') return { atRest, normal: [1, 0, 0], through: [0, 0, 0] };
  if (lead < 0) return { atRest, normal: atRest, through: [0, 0, 0] };
  const through = mean(poses.map((pose) => placeIn(pose, lead)));
  const turns = poses.map((pose): Quaternion => {
    const turn = [...pose.turns.subarray(lead * 4, lead * 4 + 4)] as Quaternion;
    return multiply(turn, conjugate(rig.restTurns[lead]!));
  });
  if (choice.kind === 'node') return { atRest, normal: rotate(turns[0]!, ...atRest), through };
  const headings = turns.map((turn) => headingOf(turn, atRest));
  const last = headings[headings.length - 1]!;
  const way = ((((last - headings[0]! + 180) % 360) + 360) % 360) - 180;
  const heading = (headings[0]! + way / 2) * (Math.PI / 180);
  const [c, s] = [Math.cos(heading), Math.sin(heading)];
  return { atRest, normal: [c * atRest[0] + s * atRest[2], 0, -s * atRest[0] + c * atRest[2]], through };
}

const mean = (places: readonly Triple[]): Triple =>
  [0, 1, 2].map((axis) => places.reduce((sum, place) => sum + place[axis]!, 0) / places.length) as Triple;

/** How far a turn has brought what faces ahead about the upright, from +z toward +x, degrees. */
function headingOf(turn: Quaternion, across: Triple): number {
  const ahead: Triple = [-across[2], 0, across[0]];
  const [x, y, z] = rotate(turn, ...ahead);
  // Lying on its back or face, it heads where its own upright falls.
  const [ux, , uz] = Math.abs(y) > 0.999 ? rotate(turn, 0, -Math.sign(y), 0) : [x, y, z];
  return ((Math.atan2(ux, uz) - Math.atan2(ahead[0], ahead[2])) * 180) / Math.PI;
}

/**
 * The control that carries a character through the world: the one without a parent that has most below it; where that is at rest,
 * the next below that can travel and turn, and has more than half of the rest.
 */
function rootOf(rig: Rig, character: string | null, shown: readonly Float64Array[]): number {
  const below = new Int32Array(rig.nodes.length);
  for (let k = rig.order.length - 1; k >= 0; k -= 1) {
    const parent = rig.parents[rig.order[k]!]!;
    if (parent >= 0) below[parent]! += below[rig.order[k]!]! + 1;
  }
  const most = (nodes: readonly number[]) =>
    nodes.reduce((best, i) => (best < 0 || below[i]! > below[best]! ? i : best), -1);
  const under = (parent: number) =>
    rig.nodes.flatMap((node, i) => (rig.parents[i] === parent && node.character === character ? [i] : []));
  const isAtRest = (node: number) => {
    for (let c = rig.firstChannel[node]!; c < rig.firstChannel[node + 1]!; c += 1)
      if (shown.some((values) => Math.abs(values[c]! - rig.channels[c]!.rest) > 1e-9)) return false;
    return true;
  };
  let root = most(under(-1));
  while (root >= 0 && isAtRest(root)) {
    const next = most(under(root));
    const carriesIt =
      next >= 0 && rig.nodes[next]!.side === 'centre' && 2 * (below[next]! + 1) > below[root]!;
    if (!carriesIt || !CARRIES.every((name) => rig.nodes[next]!.channels.includes(name))) break;
    root = next;
  }
  return root;
}

const CARRIES = ['tx', 'tz', 'rx', 'ry', 'rz'];
