/** What morph targets move: which are mirror images of each other, where they act, and on which part of a body. */
import type { Accessor, Mesh, Node as GltfNode } from '@gltf-transform/core';
import type { Node, Vector } from '../../rig/node.ts';
import { numbersIn } from './numbers-in.ts';

export interface MorphShape {
  /** How much of what is moved lies on the left (+x) less on the right, −1 … 1; 0 of what moves nothing. */
  readonly balance: number;
  /** The middle of what is moved, in the mesh's own axes; null of what moves nothing. */
  readonly middle: Vector | null;
  /** Vertices that are moved. */
  readonly count: number;
  /** The greatest distance of a vertex of the mesh from its origin. */
  readonly size: number;
  /** Place and way of each vertex that is moved, six numbers; null where they are too many to be compared. */
  readonly ways: readonly number[] | null;
  /** How many of them joints of each body part lead. */
  readonly parts: ReadonlyMap<Node['part'], number>;
}

/** Shapes that move more vertices are not compared. */
const MOST_WAYS = 20_000;

/** @param list nodes of the file, and `nodes` what was made of them */
export function morphShapes(
  mesh: Mesh,
  node: GltfNode,
  list: readonly GltfNode[],
  nodes: readonly Node[],
): MorphShape[] {
  const primitives = mesh.listPrimitives().flatMap((primitive) => {
    const position = primitive.getAttribute('POSITION');
    return position
      ? [{ primitive, places: numbersIn(position), leads: leadsOf(primitive, node, list, nodes) }]
      : [];
  });
  const size = primitives.reduce((most, { places }) => Math.max(most, farthestOf(places)), 0);
  const count = Math.max(0, ...mesh.listPrimitives().map((primitive) => primitive.listTargets().length));
  return Array.from({ length: count }, (_, target): MorphShape => {
    const ways: number[] = [];
    const parts = new Map<Node['part'], number>();
    const sum = [0, 0, 0];
    let [left, all, moved] = [0, 0, 0];
    for (const { primitive, places, leads } of primitives) {
      const delta = primitive.listTargets()[target]?.getAttribute('POSITION');
      if (!delta) continue;
      const deltas = numbersIn(delta);
      for (let at = 0; at + 2 < Math.min(places.length, deltas.length); at += 3) {
        const [dx, dy, dz] = [deltas[at]!, deltas[at + 1]!, deltas[at + 2]!];
        if (dx === 0 && dy === 0 && dz === 0) continue;
        const far = Math.hypot(dx, dy, dz);
        if (!(far > 0)) continue;
        const [x, y, z] = [places[at]!, places[at + 1]!, places[at + 2]!];
        moved += 1;
        all += far;
        left += far * Math.sign(x);
        sum[0]! += x;
        sum[1]! += y;
        sum[2]! += z;
        if (moved <= MOST_WAYS) ways.push(x, y, z, dx, dy, dz);
        const part = leads?.[at / 3];
        if (part) parts.set(part, (parts.get(part) ?? 0) + 1);
      }
    }
    return {
      balance: all > 0 ? left / all : 0,
      middle: moved > 0 ? (sum.map((one) => one / moved) as unknown as Vector) : null,
      ways: moved <= MOST_WAYS ? ways : null,
      ...{ count: moved, size, parts },
    };
  });
}

function farthestOf(places: ArrayLike<number>): number {
  let most = 0;
  for (let at = 0; at + 2 < places.length; at += 3)
    most = Math.max(most, Math.hypot(places[at]!, places[at + 1]!, places[at + 2]!));
  return most;
}

/** For each vertex the body part of the joint that leads it; null of what has no skin. */
function leadsOf(
  primitive: { getAttribute(name: string): Accessor | null },
  node: GltfNode,
  list: readonly GltfNode[],
  nodes: readonly Node[],
): (Node['part'] | undefined)[] | null {
  const bones = node.getSkin()?.listJoints();
  const [joint, weight] = [primitive.getAttribute('JOINTS_0'), primitive.getAttribute('WEIGHTS_0')];
  if (!bones || !joint || !weight) return null;
  const parts = bones.map((bone) => nodes[list.indexOf(bone)]?.part);
  const [joints, weights] = [numbersIn(joint), numbersIn(weight)];
  const leads: (Node['part'] | undefined)[] = [];
  for (let at = 0; at + 3 < weights.length; at += 4) {
    let best = at;
    for (let i = at + 1; i < at + 4; i += 1) if (weights[i]! > weights[best]!) best = i;
    leads.push(parts[joints[best]!]);
  }
  return leads;
}

/** Of what a target moves, how much may not be the mirror image of the other's. */
const UNLIKE = 0.1;

/** Whether two shapes are mirror images about x = 0, `a` on the left. */
export function areMirrored(a: MorphShape, b: MorphShape): boolean {
  if (!(a.balance > 0.5 && b.balance < -0.5) || !a.ways || !b.ways) return false;
  // Shapes of very different numbers of vertices need not be looked at one by one.
  if (Math.abs(a.count - b.count) > UNLIKE * Math.max(a.count, b.count) + 2) return false;
  const cell = 1e-3 * a.size;
  const key = (x: number, y: number, z: number) =>
    `${Math.round(x / cell) + 0} ${Math.round(y / cell) + 0} ${Math.round(z / cell) + 0}`;
  const byPlace = new Map<string, number>();
  for (let at = 0; at < b.ways.length; at += 6)
    byPlace.set(key(b.ways[at]!, b.ways[at + 1]!, b.ways[at + 2]!), at);
  let [off, all] = [0, 0];
  for (let at = 0; at < a.ways.length; at += 6) {
    const [x, y, z, dx, dy, dz] = a.ways.slice(at, at + 6) as [
      number,
      number,
      number,
      number,
      number,
      number,
    ];
    const other = byPlace.get(key(-x, y, z));
    all += Math.hypot(dx, dy, dz);
    off +=
      other === undefined
        ? Math.hypot(dx, dy, dz)
        : Math.hypot(dx + b.ways[other + 3]!, dy - b.ways[other + 4]!, dz - b.ways[other + 5]!);
  }
  return off <= UNLIKE * all;
}

const CM_PER_METRE = 100;

/** The middle of what shapes move together, cm. */
export function middleOf(shapes: readonly MorphShape[]): Vector | null {
  const moved = shapes.filter(({ middle }) => middle !== null);
  const count = moved.reduce((sum, one) => sum + one.count, 0);
  if (count === 0) return null;
  return [0, 1, 2].map(
    (k) => (CM_PER_METRE * moved.reduce((sum, one) => sum + one.middle![k]! * one.count, 0)) / count,
  ) as unknown as Vector;
}

/** The body part whose joints lead most of what shapes move; null of what has no skin. */
export function partOfShapes(shapes: readonly MorphShape[]): Node['part'] | null {
  const counts = new Map<Node['part'], number>();
  for (const { parts } of shapes)
    for (const [part, count] of parts) counts.set(part, (counts.get(part) ?? 0) + count);
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? null;
}
