/**
 * What a body weighs, and where: the segments of a figure, each with its share of the whole mass, found by what its skeleton looks like.
 *
 * Shares and centres are Winter's (Biomechanics and Motor Control of Human Movement, table 4.1; from memory, recomputed: the shares sum to 1). A segment lies between two joints, and its centre
 * divides the way from the one to the other; what stands between them (twists, more joints of a spine) changes nothing of that. Of a figure that is no such body each node weighs as its solids are
 * large, or as its bones are long.
 */
import type { Triple } from '../math/euler.ts';
import { conjugate, rotate } from '../math/quaternion.ts';
import { armsOf, hipsOf } from '../rig/landmarks.ts';
import type { Arm } from '../rig/landmarks.ts';
import type { Solid } from '../rig/node.ts';
import { standsAbove } from '../rig/skeleton.ts';
import type { Measured } from '../rig/skeleton.ts';

export const SEGMENTS = [
  'head',
  'trunk',
  'upper arm',
  'forearm',
  'hand',
  'thigh',
  'shank',
  'foot',
  'other',
] as const;
export type SegmentName = (typeof SEGMENTS)[number];

/** Share of the body's mass, and where the centre lies on the way from its upper joint to its lower one. */
export const WINTER: Readonly<
  Record<Exclude<SegmentName, 'other'>, readonly [share: number, centre: number]>
> = {
  head: [0.081, 1],
  trunk: [0.497, 0.5],
  'upper arm': [0.028, 0.436],
  forearm: [0.016, 0.43],
  hand: [0.006, 0.506],
  thigh: [0.1, 0.433],
  shank: [0.0465, 0.433],
  foot: [0.0145, 0.5],
};

/** A point that weighs: it lies there in the axes of a node. */
export interface PointMass {
  readonly row: number;
  /** cm, in the node's own axes. */
  readonly at: Triple;
  /** Of the whole mass, 0…1. */
  readonly share: number;
}

/** A part of a body, as the points that stand for it. */
export interface Segment {
  readonly name: SegmentName;
  /** The node whose mass it is. */
  readonly row: number;
  readonly share: number;
  readonly points: readonly PointMass[];
}

const ORIGIN: Triple = [0, 0, 0];

/** Two points for a segment between two joints: its centre is theirs. */
function between(name: Exclude<SegmentName, 'other'>, from: number, to: number): Segment {
  const [share, centre] = WINTER[name];
  const points = [
    { row: from, at: ORIGIN, share: share * (1 - centre) },
    { row: to, at: ORIGIN, share: share * centre },
  ];
  return { name, row: from, share, points: points.filter((point) => point.share > 0) };
}

/** The segments of a figure; shares sum to 1. @param solids by row, what it is drawn from @param counts rows that are of the figure itself */
export function segmentsOf(
  figure: Measured,
  solids: (row: number) => readonly Solid[],
  counts: (row: number) => boolean,
): readonly Segment[] {
  return bodySegments(figure, solids) ?? bulkSegments(figure, solids, counts);
}

interface Leg {
  readonly hip: number;
  readonly knee: number;
  readonly ankle: number;
  /** Where the foot ends; the ankle itself where nothing lies beyond. */
  readonly toe: number;
}

/** Of a body the limbs, the hips, and where head and neck begin; null where it is none that we know. */
export interface Body {
  readonly hips: number;
  readonly neck: number;
  readonly head: number;
  readonly arms: readonly Arm[];
  readonly legs: readonly Leg[];
}

/** Heights above the lowest joint: below the first lie ankles, below the second feet end. Nearer to the middle than the last a joint belongs to the trunk. */
const [ANKLE, SOLE, MIDDLE] = [0.2, 0.12, 0.02];

export function limbsOfBody(figure: Measured): Body | null {
  // Which one of two joints in one place it is makes no difference here.
  const arms = armsOf(figure, 0);
  const hips = hipsOf(figure, arms);
  if (hips < 0 || arms.length < 2) return null;
  const legs = [-1, 1].flatMap((side) => legOf(figure, hips, side) ?? []);
  const { rig, places } = figure;
  const shoulders = Math.max(...arms.map(({ shoulder }) => places[shoulder]![1]));
  // The trunk goes on to what rises above the shoulders and holds none of them.
  const rises = (row: number) =>
    places.some(
      ([x, y], at) => y > shoulders && Math.abs(x) < MIDDLE && (at === row || standsAbove(figure, row, at)),
    );
  const above = [...rig.order].filter(
    (row) =>
      standsAbove(figure, hips, row) &&
      Math.abs(places[row]![0]) < MIDDLE &&
      arms.every(({ shoulder }) => !standsAbove(figure, row, shoulder)) &&
      rises(row),
  );
  const neck = above[0] ?? -1;
  if (legs.length < 2 || neck < 0) return null;
  const chain = [neck, ...above.filter((row) => standsAbove(figure, neck, row))];
  // The last joint with several on it is the skull: eyes and jaw hang there. Else the last that is turned at all, and no mere end.
  const head =
    chain.filter((row) => figure.children[row]!.length > 1).at(-1) ??
    chain.filter((row) => figure.bones[row]!.channels.length > 0).at(-1) ??
    chain.at(-1)!;
  return { hips, neck, head, arms, legs };
}

/** The leg of a side: from where it leaves the trunk down to the lowest end. */
function legOf({ children, places, along, rig }: Measured, hips: number, side: number): Leg | null {
  const ends = [...rig.order].filter((row) => {
    if (children[row]!.length > 0 || places[row]![1] > SOLE || Math.sign(places[row]![0]) !== side)
      return false;
    for (let up = rig.parents[row]!; up >= 0; up = rig.parents[up]!) if (up === hips) return true;
    return false;
  });
  const paths = ends.map((end) => {
    const path = [end];
    for (let up = rig.parents[end]!; up >= 0 && up !== hips; up = rig.parents[up]!) path.unshift(up);
    return path.filter((row) => Math.abs(places[row]![0]) >= MIDDLE);
  });
  // What reaches farthest along its bones: no heel, and no goal that lies beside it.
  const [path] = paths.sort((p, q) => along[q.at(-1)!]! - along[p.at(-1)!]!);
  if (!path || path.length < 3) return null;
  const low = path.findIndex((row) => places[row]![1] < ANKLE);
  if (low < 2) return null;
  const [hip, ankle] = [path[0]!, path[low]!];
  const half = (along[hip]! + along[ankle]!) / 2;
  const knee = path
    .slice(1, low)
    .reduce((best, row) => (Math.abs(along[row]! - half) < Math.abs(along[best]! - half) ? row : best));
  return { hip, knee, ankle, toe: path.at(-1)! };
}

function bodySegments(figure: Measured, solids: (row: number) => readonly Solid[]): Segment[] | null {
  const body = limbsOfBody(figure);
  if (!body) return null;
  const { hips, head, arms, legs } = body;
  return [
    headOf(figure, head, solids(head)),
    trunkOf(hips, arms, legs),
    ...arms.flatMap(({ shoulder, elbow, wrist }) => [
      between('upper arm', shoulder, elbow),
      between('forearm', elbow, wrist),
      handOf(figure, elbow, wrist),
    ]),
    ...legs.flatMap(({ hip, knee, ankle, toe }) => [
      between('thigh', hip, knee),
      between('shank', knee, ankle),
      toe === ankle ? pointOf('foot', ankle, ORIGIN) : between('foot', ankle, toe),
    ]),
  ];
}

const pointOf = (name: Exclude<SegmentName, 'other'>, row: number, at: Triple): Segment => {
  const [share] = WINTER[name];
  return { name, row, share, points: [{ row, at, share }] };
};

/** From the hip joints to the shoulders, whatever spine lies between. */
function trunkOf(hips: number, arms: readonly Arm[], legs: readonly Leg[]): Segment {
  const [share, centre] = WINTER.trunk;
  const points = [
    ...legs.map(({ hip }) => ({ row: hip, at: ORIGIN, share: (share * (1 - centre)) / legs.length })),
    ...arms.map(({ shoulder }) => ({ row: shoulder, at: ORIGIN, share: (share * centre) / arms.length })),
  ];
  return { name: 'trunk', row: hips, share, points };
}

/** The middle of a head lies so far above where it turns, in heights of the figure. */
const SKULL = 0.05;

/** The middle of the skull: of what is drawn there, else between where it turns and where it ends. */
function headOf(
  { rig, height, children, places, at }: Measured,
  head: number,
  solids: readonly Solid[],
): Segment {
  if (solids.length > 0) return pointOf('head', head, centroidOf(solids.map(bulkOf)));
  const crown = children[head]!.filter(
    (row) => Math.abs(places[row]![0]) < MIDDLE && at[row]![1] > at[head]![1],
  )[0];
  const way: Triple =
    crown === undefined
      ? [0, SKULL * height, 0]
      : (at[crown]!.map((to, axis) => (to - at[head]![axis]!) / 2) as Triple);
  return pointOf('head', head, inAxes(rig, head, way));
}

/** From the wrist to the middle of the knuckles: a hand is 0.108 of a body's height long and the knuckles half of it, the forearm 0.146 (Drillis & Contini, as in `rig/landmarks.ts`). */
const HAND = (WINTER.hand[1] * 0.054) / 0.146;

function handOf({ at, rig }: Measured, elbow: number, wrist: number): Segment {
  const way = at[wrist]!.map((to, axis) => (to - at[elbow]![axis]!) * HAND) as Triple;
  return pointOf('hand', wrist, inAxes(rig, wrist, way));
}

/** A way in the world, as it is in the axes of a joint at rest. */
function inAxes({ nodes, parents, restTurns }: Measured['rig'], row: number, way: Readonly<Triple>): Triple {
  let size = 1;
  for (let up = row; up >= 0; up = parents[up]!) {
    const [x, y, z] = nodes[up]!.rest.scale;
    size *= Math.cbrt(Math.abs(x * y * z)) || 1;
  }
  return rotate(conjugate(restTurns[row]!), way[0] / size, way[1] / size, way[2] / size);
}

function centroidOf(parts: readonly Bulk[]): Triple {
  const all = parts.reduce((sum, { bulk }) => sum + bulk, 0) || 1;
  return [0, 1, 2].map((axis) =>
    parts.reduce((sum, { bulk, at }) => sum + (bulk / all) * at[axis]!, 0),
  ) as Triple;
}

/** Each node by how much of it there is: its solids, else the bones that begin there; all alike where that is nothing. */
function bulkSegments(
  { rig, children, at }: Measured,
  solids: (row: number) => readonly Solid[],
  counts: (row: number) => boolean,
): Segment[] {
  const rows = [...rig.nodes.keys()].filter(counts);
  const parts = rows.map((row): readonly Bulk[] => {
    const own = solids(row).map((solid) => bulkOf(solid));
    return own.length > 0
      ? own.map((one) => ({ ...one, row }))
      : children[row]!.filter(counts).flatMap((child) => boneOf(at, row, child));
  });
  const all = parts.flat().reduce((sum, { bulk }) => sum + bulk, 0);
  return rows
    .map((row, k) => {
      const points =
        all > 0
          ? parts[k]!.map(({ bulk, at: place, row: owner = row }) => ({
              row: owner,
              at: place,
              share: bulk / all,
            }))
          : [{ row, at: ORIGIN, share: 1 / rows.length }];
      return {
        name: 'other' as const,
        row,
        share: points.reduce((sum, { share }) => sum + share, 0),
        points,
      };
    })
    .filter(({ share }) => share > 0);
}

/** cm³, and where its middle lies in the axes of a node: of its own, when left out. */
interface Bulk {
  readonly bulk: number;
  readonly at: Triple;
  readonly row?: number;
}

/** A bone is about a fifth as thick as it is long, so what it weighs goes by the cube of its length; it lies between two joints. */
function boneOf(at: readonly Triple[], row: number, child: number): Bulk[] {
  const [p, q] = [at[row]!, at[child]!];
  const bulk = Math.hypot(q[0] - p[0], q[1] - p[1], q[2] - p[2]) ** 3 / 50;
  return [row, child].map((end) => ({ bulk, at: ORIGIN, row: end }));
}

/** Volume and centroid of a solid. */
function bulkOf(solid: Solid): Bulk {
  if (solid.kind === 'ellipsoid') {
    const [a, b, c] = solid.radii;
    return { bulk: (4 / 3) * Math.PI * a * b * c, at: [...solid.centre] };
  }
  if (solid.kind === 'box') {
    const [a, b, c] = solid.size;
    return { bulk: a * b * c, at: [...solid.centre] };
  }
  const { from, to, radiusFrom: r, radiusTo: s } = solid;
  const length = Math.hypot(to[0] - from[0], to[1] - from[1], to[2] - from[2]);
  const bulk = (Math.PI / 3) * length * (r * r + r * s + s * s) + (2 / 3) * Math.PI * (r ** 3 + s ** 3);
  // Of a frustum of a cone, by its moments; the caps move it but little.
  const part = r + s > 0 ? (r * r + 2 * r * s + 3 * s * s) / (4 * (r * r + r * s + s * s) || 1) : 0.5;
  return { bulk, at: [0, 1, 2].map((axis) => from[axis]! + part * (to[axis]! - from[axis]!)) as Triple };
}
