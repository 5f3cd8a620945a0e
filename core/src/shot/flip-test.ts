/**
 * The flip test: for each control, how far flipping is from a true reflection. The control is turned and moved by a probe, all else
 * at rest; its partner gets the flipped values, and the two are compared in space, one mirrored. Flipping twice must give the
 * same values.
 */
import { mirrorX, angleBetween, conjugate, multiply } from '../math/quaternion.ts';
import { computeWorld, newWorldPose } from '../rig/pose.ts';
import type { Rig } from '../rig/rig.ts';
import { reflectedValues } from './reflection.ts';
import type { NodeValues } from './reflection.ts';
import { rigOf } from './shot.ts';
import type { Shot } from './shot.ts';

/** uneven: it turns as its mirror image, but the rest pose is not the same on both sides. */
type FlipState = 'mirror' | 'uneven' | 'off' | 'no partner' | 'not mutual';

export interface FlipResult {
  readonly node: string;
  readonly pair: string | null;
  readonly state: FlipState;
  /** How far the partner is from the mirror image, mm and degrees. */
  readonly distanceMm: number;
  readonly angle: number;
  /** The greatest difference of any value after flipping twice, in the channel's unit. */
  readonly twice: number;
}

/** Degrees and cm that share no symmetry, so that a wrong sign shows. */
const PROBE: NodeValues = { rx: 24, ry: -17, rz: 33, tx: 4, ty: -3, tz: 7 };
/** Beyond this a control does not mirror its partner. */
export const FLIP_LIMIT = { mm: 1, degrees: 0.1 } as const;

const kept = new WeakMap<Shot['nodes'], readonly FlipResult[]>();

/** A result for every control that has channels, in the shot's order; kept by the identity of the nodes. */
export function flipTest(shot: Shot): readonly FlipResult[] {
  const known = kept.get(shot.nodes);
  if (known) return known;
  const results = resultsOf(rigOf(shot));
  kept.set(shot.nodes, results);
  return results;
}

/** Which of the controls are no mirror image of their partner. */
export function oddOnes(shot: Shot, nodes: ReadonlySet<string>): string[] {
  return flipTest(shot)
    .filter(({ node, state }) => nodes.has(node) && (state === 'off' || state === 'not mutual'))
    .map(({ node }) => node);
}

function resultsOf(rig: Rig): FlipResult[] {
  return rig.nodes.flatMap((node, from): FlipResult[] => {
    if (node.channels.length === 0) return [];
    const to = node.pair === null ? -1 : rig.indexOf(node.pair);
    if (to < 0)
      return [{ node: node.id, pair: null, state: 'no partner', distanceMm: 0, angle: 0, twice: 0 }];
    const given: Record<string, number> = Object.fromEntries(
      Object.entries(PROBE).filter(([name]) => node.channels.includes(name)),
    );
    const flipped = reflectedValues(rig, from, to, given, {});
    const again = reflectedValues(rig, to, from, flipped, given);
    const twice = Object.keys(given).reduce(
      (most, name) => Math.max(most, Math.abs((again[name] ?? 0) - given[name]!)),
      0,
    );
    const { distance, angle } = compared(rig, from, to, given, flipped);
    const mutual = rig.nodes[to]!.pair === node.id;
    const turns = angle <= FLIP_LIMIT.degrees && twice < 1e-3;
    const state = !turns ? 'off' : distance * 10 <= FLIP_LIMIT.mm ? 'mirror' : 'uneven';
    return [
      {
        node: node.id,
        pair: node.pair,
        state: mutual ? state : 'not mutual',
        distanceMm: distance * 10,
        angle,
        twice,
      },
    ];
  });
}

/** How far `to` with the flipped values is from the mirror image of `from` with the given ones: cm and degrees. */
function compared(rig: Rig, from: number, to: number, given: NodeValues, flipped: NodeValues) {
  const [a, b] = [posed(rig, from, given), posed(rig, to, flipped)];
  const place = (pose: typeof a, node: number) => [12, 13, 14].map((at) => pose.matrices[node * 16 + at]!);
  const [p, q] = [place(a, from), place(b, to)];
  const distance = Math.hypot(q[0]! + p[0]!, q[1]! - p[1]!, q[2]! - p[2]!);
  const turn = (pose: typeof a, node: number) =>
    multiply(pose.turns.subarray(node * 4, node * 4 + 4), conjugate(rig.restTurns[node]!));
  return { distance, angle: angleBetween(turn(b, to), mirrorX(turn(a, from))) };
}

/** The world with one node posed and all else at rest. */
function posed(rig: Rig, node: number, values: NodeValues) {
  const all = rig.channels.map((channel) =>
    channel.node === node && channel.name in values ? values[channel.name]! : channel.rest,
  );
  const pose = newWorldPose(rig);
  computeWorld(rig, all, pose);
  return pose;
}
