/**
 * The flip test: for each control, how far flipping is from a true reflection. The control is turned and moved by a probe, all else
 * at rest; its partner gets the flipped values, and the two are compared in space, one mirrored. Flipping twice must give the
 * same values.
 */
import { mat3, vec3 } from 'gl-matrix';
import { computeWorld, newWorldPose } from '../rig/pose.ts';
import type { WorldPose } from '../rig/pose.ts';
import type { Rig } from '../rig/rig.ts';
import { mirrorsOf } from './mirror-plane.ts';
import type { MirrorPlane } from './mirror-plane.ts';
import { reflectedValues } from './reflection.ts';
import type { NodeValues } from './reflection.ts';
import { rigOf } from '../document/shot.ts';
import type { Shot } from '../document/shot.ts';

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
const PROBE: NodeValues = { rx: 24, ry: -17, rz: 33, tx: 4, ty: -3, tz: 7, sx: 1.1, sy: 0.8, sz: 1.25 };
/** Beyond this a control does not mirror its partner. */
export const FLIP_LIMIT = { mm: 1, degrees: 0.1 } as const;

interface KeptResults {
  readonly characters: Shot['characters'];
  readonly results: readonly FlipResult[];
}
const kept = new WeakMap<Shot['nodes'], KeptResults>();

/** A result for every control that has channels, in the shot's order; kept by the identity of nodes and characters. */
export function flipTest(shot: Shot): readonly FlipResult[] {
  const known = kept.get(shot.nodes);
  if (known?.characters === shot.characters) return known.results;
  const results = resultsOf(shot);
  kept.set(shot.nodes, { characters: shot.characters, results });
  return results;
}

/** Which of the controls are no mirror image of their partner. */
export function oddOnes(shot: Shot, nodes: ReadonlySet<string>): string[] {
  return flipTest(shot)
    .filter(({ node, state }) => nodes.has(node) && (state === 'off' || state === 'not mutual'))
    .map(({ node }) => node);
}

function resultsOf(shot: Shot): FlipResult[] {
  const rig = rigOf(shot);
  const mirrorOf = mirrorsOf(shot, [Float64Array.from(rig.channels, ({ rest }) => rest)], { kind: 'own' });
  return rig.nodes.flatMap((node, from): FlipResult[] => {
    if (node.channels.length === 0) return [];
    const to = node.pair === null ? -1 : rig.indexOf(node.pair);
    if (to < 0)
      return [{ node: node.id, pair: null, state: 'no partner', distanceMm: 0, angle: 0, twice: 0 }];
    const given: Record<string, number> = Object.fromEntries(
      Object.entries(PROBE).filter(([name]) => node.channels.includes(name)),
    );
    const { plane } = mirrorOf(node);
    const mirroring = { plane, inWorld: false, changes: false };
    const flipped = reflectedValues(rig, from, to, given, {}, mirroring);
    const again = reflectedValues(rig, to, from, flipped, given, mirroring);
    const twice = Object.keys(given).reduce(
      (most, name) => Math.max(most, Math.abs((again[name] ?? 0) - given[name]!)),
      0,
    );
    const { distance, angle } = compared(rig, from, to, given, flipped, plane);
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
function compared(
  rig: Rig,
  from: number,
  to: number,
  given: NodeValues,
  flipped: NodeValues,
  plane: MirrorPlane,
) {
  const rest = posed(rig, -1, {});
  const [a, b] = [posed(rig, from, given), posed(rig, to, flipped)];
  const place = (pose: WorldPose, node: number) => [12, 13, 14].map((at) => pose.matrices[node * 16 + at]!);
  const image = (v: readonly number[]) => {
    const along = v.reduce((sum, part, k) => sum + part * plane.normal[k]!, 0);
    return v.map((part, k) => part - 2 * along * plane.normal[k]!);
  };
  const away = (p: readonly number[]) => p.map((part, k) => part - plane.through[k]!);
  const [p, q] = [image(away(place(a, from))), away(place(b, to))];
  const distance = Math.hypot(...p.map((part, k) => q[k]! - part));
  // What each did to the world around it, scale and all: vectors along the axes must come out as mirror images.
  const [x, y] = [changeOf(rest, a, from), changeOf(rest, b, to)];
  const angle = Math.max(
    ...[0, 1, 2].map((axis) => {
      const along = [0, 1, 2].map((k) => (k === axis ? 1 : 0));
      const one = image(x(along));
      const other = y(image(along));
      return Math.hypot(...one.map((part, k) => other[k]! - part));
    }),
  );
  return { distance, angle: (angle * 180) / Math.PI };
}

/** What a posed node makes of a vector that lay so at rest. */
function changeOf(rest: WorldPose, pose: WorldPose, node: number): (v: readonly number[]) => number[] {
  const matrix = (of: WorldPose) => {
    const m = of.matrices.subarray(node * 16, node * 16 + 16);
    return [m[0], m[1], m[2], m[4], m[5], m[6], m[8], m[9], m[10]] as unknown as mat3;
  };
  const back = mat3.invert([], matrix(rest));
  if (!back) return (v) => [...v];
  const change = mat3.multiply([], matrix(pose), back);
  return (v) => [...vec3.transformMat3([0, 0, 0], v, change)];
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
